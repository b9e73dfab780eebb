import type { MoveOptions, MovesState, TriedMove } from '@ulvex/core';
import { TrialRun } from './trial-run.svelte.ts';

/** Trials of changes of the form. */
export class MovesRun extends TrialRun<MovesState> {
  begin(options: MoveOptions): void {
    this.run((project, onState) => this.desk.pool.run('moves', { project, options }, onState));
  }

  /** Writes a form into the project. */
  keep({ title, project, merit }: TriedMove): void {
    if (!project || merit === null || this.stale) return;
    this.write(project, `${title[0].toUpperCase()}${title.slice(1)}: merit ${merit.toPrecision(4)}`);
  }
}
