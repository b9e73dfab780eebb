import type { JobInput, JobPart, Jobs, Outcome, Project } from '@ulvex/core';
import { Run } from '../compute/run.svelte.ts';
import type { Desk } from '../desk/desk.svelte.ts';

/** Trials that say after each how all stand, of so many. */
interface TrialState {
  readonly done: number;
  readonly of: number;
}

/** Trials in a worker on the project as it was when they began; nothing of the project changes until one is kept. */
export abstract class TrialRun<K extends 'moves' | 'plates'> extends Run {
  protected readonly desk: Desk;
  readonly #job: K;
  /** The project that they are of. */
  project = $state.raw<Project | null>(null);
  found = $state.raw<JobPart<Jobs, K> | null>(null);

  constructor(desk: Desk, job: K, title: string) {
    super(desk.runs, { title, room: '/improve', outlasts: true });
    this.desk = desk;
    this.#job = job;
  }

  /** Whether the lens has changed since they began: what they found is of another one then. */
  get stale(): boolean {
    return this.project !== null && this.project.lenses !== this.desk.base.lenses;
  }

  protected async try(given: Omit<JobInput<Jobs, K>, 'project'>): Promise<void> {
    const project = this.desk.base;
    this.begin();
    [this.project, this.found, this.done, this.of] = [project, null, 0, 0];
    const see = (state: JobPart<Jobs, K>) => {
      this.found = state;
      ({ done: this.done, of: this.of } = state as TrialState);
    };
    const input = { ...given, project } as unknown as JobInput<Jobs, K>; // `given` is all of it but the project
    const end = (await this.work(this.#job, input, see)) as Outcome<JobPart<Jobs, K>> | null;
    if (end?.ok) {
      see(end.value);
      this.end('done');
    } else if (end) this.end('failed', end.reason);
  }

  throwAway(): void {
    this.end('none');
    [this.project, this.found] = [null, null];
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
}
