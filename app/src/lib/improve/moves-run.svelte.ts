import { JobCancelled, type MoveOptions, type MovesState, type Outcome, type Project, type RunningJob, type TriedMove } from '@ulvex/core'; // prettier-ignore
import type { Desk } from '../desk/desk.svelte.ts';

/** Trials of changes of the form, on the project as it was when they began; they go on behind other rooms. */
export class MovesRun {
  readonly #desk: Desk;
  #job: RunningJob<Outcome<MovesState>> | null = null;
  running = $state.raw(false);
  /** The project that they are of. */
  project = $state.raw<Project | null>(null);
  state = $state.raw<MovesState | null>(null);
  failure = $state.raw<string | null>(null);

  constructor(desk: Desk) {
    this.#desk = desk;
  }

  /** Whether the lens has changed since they began: what they found is of another one then. */
  get stale(): boolean {
    return this.project !== null && this.project.lenses !== this.#desk.base.lenses;
  }

  begin(options: MoveOptions): void {
    this.#job?.cancel();
    const project = this.#desk.base;
    [this.project, this.state, this.failure, this.running] = [project, null, null, true];
    const job = this.#desk.pool.run('moves', { project, options }, (state) => (this.state = state));
    this.#job = job;
    job.result.then(
      (end) => this.#over(job, end.ok ? null : end.reason, end.ok ? end.value : null),
      (error: Error) => this.#over(job, error instanceof JobCancelled ? null : error.message, null),
    );
  }

  stop(): void {
    this.#job?.cancel();
  }

  /** Writes a form into the project as one step of the history: its surfaces, its glasses, and what may move. */
  keep({ title, project, merit }: TriedMove): void {
    if (!project || merit === null || this.stale) return;
    const { base } = this.#desk;
    const materials = project.materials.filter(({ id }) => !base.materials.some((one) => one.id === id));
    this.#desk.commitDesign(
      [
        ...materials.map((item) => ({ kind: 'insert', list: 'materials', after: base.materials.at(-1)?.id ?? null, item }) as const),
        { kind: 'set', path: 'lenses', value: project.lenses },
        { kind: 'set', path: 'parameters', value: project.parameters },
      ],
      `${title[0].toUpperCase()}${title.slice(1)}: merit ${merit.toPrecision(4)}`,
    );
    this.throwAway();
  } // prettier-ignore

  throwAway(): void {
    this.stop();
    [this.project, this.state, this.failure, this.running] = [null, null, null, false];
    this.#job = null;
  }

  #over(job: RunningJob<Outcome<MovesState>>, failure: string | null, state: MovesState | null): void {
    if (this.#job !== job) return;
    this.#job = null;
    this.running = false;
    this.failure = failure;
    if (state) this.state = state;
  }
}
