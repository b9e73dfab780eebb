import type { MoveOptions, TriedMove } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';
import { TrialRun } from './trial-run.svelte.ts';

/** Trials of changes of the form. */
export class MovesRun extends TrialRun<'moves'> {
  constructor(desk: Desk) {
    super(desk, 'moves', 'Other forms');
  }

  start(options: MoveOptions): void {
    void this.try({ options });
  }

  /** Writes a form into the project. */
  keep({ title, project, merit }: TriedMove): void {
    if (!project || merit === null || this.stale) return;
    this.write(project, `${title[0].toUpperCase()}${title.slice(1)}: merit ${merit.toPrecision(4)}`);
  }
}
