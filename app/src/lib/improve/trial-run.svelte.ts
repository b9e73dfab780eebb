import { JobCancelled, type Outcome, type Project, type RunningJob } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';

/**
 * Trials in a worker on the project as it was when they began, each of which tells how all stand; they go on behind other rooms, and nothing of the
 * project changes until one is kept.
 */
export class TrialRun<State> {
  protected readonly desk: Desk;
  #job: RunningJob<Outcome<State>> | null = null;
  running = $state.raw(false);
  /** The project that they are of. */
  project = $state.raw<Project | null>(null);
  state = $state.raw<State | null>(null);
  failure = $state.raw<string | null>(null);

  constructor(desk: Desk) {
    this.desk = desk;
  }

  /** Whether the lens has changed since they began: what they found is of another one then. */
  get stale(): boolean {
    return this.project !== null && this.project.lenses !== this.desk.base.lenses;
  }

  /** @param start - hands the job in, with what takes its states */
  protected run(start: (project: Project, onState: (state: State) => void) => RunningJob<Outcome<State>>): void {
    this.#job?.cancel();
    const project = this.desk.base;
    [this.project, this.state, this.failure, this.running] = [project, null, null, true];
    const job = start(project, (state) => (this.state = state));
    this.#job = job;
    job.result.then(
      (end) => this.#over(job, end.ok ? null : end.reason, end.ok ? end.value : null),
      (error: Error) => this.#over(job, error instanceof JobCancelled ? null : error.message, null),
    );
  }

  stop(): void {
    this.#job?.cancel();
  }

  throwAway(): void {
    this.stop();
    [this.project, this.state, this.failure, this.running] = [null, null, null, false];
    this.#job = null;
  }

  /** Writes a form into the project as one step of the history: its surfaces, its glasses, and what may move. */
  protected write(project: Project, label: string): void {
    const { base } = this.desk;
    const materials = project.materials.filter(({ id }) => !base.materials.some((one) => one.id === id));
    this.desk.commitDesign(
      [
        ...materials.map(
          (item) => ({ kind: 'insert', list: 'materials', after: base.materials.at(-1)?.id ?? null, item }) as const,
        ),
        { kind: 'set', path: 'lenses', value: project.lenses },
        { kind: 'set', path: 'parameters', value: project.parameters },
      ],
      label,
    );
    this.throwAway();
  }

  #over(job: RunningJob<Outcome<State>>, failure: string | null, state: State | null): void {
    if (this.#job !== job) return;
    this.#job = null;
    this.running = false;
    this.failure = failure;
    if (state) this.state = state;
  }
}
