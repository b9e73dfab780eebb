import type { Desk } from '../desk/desk.svelte.ts';
import { TrialRun } from './trial-run.svelte.ts';

/** Gives the radii of a lens to test plates, beside the project. */
export class PlatesRun extends TrialRun<'plates'> {
  constructor(desk: Desk) {
    super(desk, 'plates', 'Test plates');
  }

  start(lens: string): void {
    void this.try({ lens });
  }

  /** Whether it went through all radii, so that there is something to keep. */
  get whole(): boolean {
    return this.found !== null && this.found.done === this.found.of;
  }

  /** Writes the lens on plates into the project, and lays what it was in grey under it. */
  keep(): void {
    const { found, project } = this;
    if (!found || !project || this.stale) return;
    this.desk.setReferenceVersion('before test plates', project);
    this.write(found.project, `${found.done} radii on test plates: merit ${found.merit.toPrecision(4)}`);
  }
}
