import type { PlateFit } from '@ulvex/core';
import { TrialRun } from './trial-run.svelte.ts';

/** Gives the radii of a lens to test plates, beside the project. */
export class PlatesRun extends TrialRun<PlateFit> {
  begin(lens: string): void {
    this.run((project, onState) => this.desk.pool.run('plates', { project, lens }, onState));
  }

  /** Whether it went through all radii, so that there is something to keep. */
  get whole(): boolean {
    return this.state !== null && this.state.done === this.state.of;
  }

  /** Writes the lens on plates into the project, and lays what it was in grey under it. */
  keep(): void {
    const { state, project } = this;
    if (!state || !project || this.stale) return;
    this.desk.setReferenceVersion('before test plates', project);
    this.write(state.project, `${state.done} radii on test plates: merit ${state.merit.toPrecision(4)}`);
  }
}
