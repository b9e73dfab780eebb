import {
  JobCancelled,
  type Diagnosis,
  type Edit,
  type Outcome,
  type PolishEnd,
  type PolishMethod,
  type Polished,
  type Project,
  type RunningJob,
  type Section,
  type Warning,
} from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';

/** How a run stands: nothing yet, a question, at work, held for a while, or over. */
export type RunStatus = 'none' | 'asking' | 'running' | 'paused' | 'over';

/**
 * One run of Improve, on the project as it was when it began: what is edited meanwhile is not touched, and keeping the result writes the free
 * numbers alone. It lives with the window, so that it goes on behind other rooms.
 */
export class PolishRun {
  readonly #desk: Desk;
  #job: RunningJob<Outcome<PolishEnd>> | null = null;
  #drawing = false;
  /** Id of the project that it is of. */
  #of = '';
  /** What was done before it was paused the last time: evaluations, and the edits that came of them. */
  #earlier: { readonly evaluations: number; readonly edits: readonly Edit[] } = { evaluations: 0, edits: [] };
  #pausing = false;
  status = $state.raw<RunStatus>('none');
  /** The project that it began with. */
  project = $state.raw<Project | null>(null);
  /** Merit against evaluations. */
  line = $state.raw<readonly (readonly [evaluations: number, merit: number])[]>([]);
  latest = $state.raw<Polished | null>(null);
  /** Why it ended, in words of the solver; null while it runs, or where the user stopped it. */
  end = $state.raw<PolishEnd | null>(null);
  stopped = $state.raw(false);
  failure = $state.raw<string | null>(null);
  warnings = $state.raw<readonly Warning[]>([]);
  /** How it looks for the minimum; by Ulvex's choice where empty. */
  method = $state<PolishMethod | ''>('');
  section = $state.raw<Section | null>(null);
  diagnosis = $state.raw<Diagnosis | null>(null);
  diagnosing = $state.raw(false);

  constructor(desk: Desk) {
    this.#desk = desk;
  }

  /** Whether it is of another project than the one on the desk. */
  get foreign(): boolean {
    return this.project !== null && this.#of !== this.#desk.projectId;
  }

  /** Whether there is something to keep. */
  get better(): boolean {
    const { latest, line } = this;
    return !this.foreign && latest !== null && line.length > 1 && latest.merit < line[0][1];
  }

  /** Looks at what is doubtful first; waits for an answer where something has to be asked. */
  async begin(): Promise<void> {
    const project = this.#desk.base;
    this.#clear(project);
    const found = await this.#desk.pool
      .run('warnings', { project })
      .result.catch((error: Error) => ({ ok: false as const, reason: error.message }));
    if (!found.ok) {
      this.failure = found.reason;
      this.status = 'none';
      return;
    }
    this.warnings = found.value;
    if (found.value.some(({ asks }) => asks)) this.status = 'asking';
    else this.start();
  }

  /** Begins in earnest, on the project that was looked at. */
  start(): void {
    if (this.project) this.#run(this.project);
  }

  /** Holds it where it is; what it found so far can be looked at, and it can go on. */
  pause(): void {
    if (this.status !== 'running') return;
    this.#pausing = true;
    this.#job?.cancel();
  }

  /** Goes on from where it stands: paused, stopped, or ended by its own rule. What was found so far is the new beginning. */
  goOn(): void {
    const { latest } = this;
    if (this.status !== 'paused' && this.status !== 'over') return;
    if (!latest) return this.start();
    this.end = this.diagnosis = null;
    this.stopped = false;
    this.#earlier = { evaluations: latest.evaluations, edits: latest.edits };
    this.#run(latest.project);
  }

  #run(project: Project): void {
    this.status = 'running';
    const stand = this.#desk.pool.run(
      'polish',
      { project, options: this.method === '' ? {} : { method: this.method } },
      (state) => this.#seen(state),
    );
    this.#job = stand;
    stand.result.then(
      (end) => this.#over(stand, end),
      (error: Error) => {
        if (this.#job !== stand) return;
        this.#job = null;
        if (this.#pausing) {
          this.#pausing = false;
          this.status = 'paused';
          return;
        }
        this.status = this.line.length > 0 ? 'over' : 'none';
        if (error instanceof JobCancelled) this.stopped = true;
        else this.failure = error.message;
        if (this.stopped && this.latest) void this.#diagnose(this.latest.project);
      },
    );
  }

  /** Ends it here; what it found so far can be kept. */
  stop(): void {
    if (this.status === 'paused' && this.latest) {
      this.status = 'over';
      this.stopped = true;
      void this.#diagnose(this.latest.project);
    }
    this.#pausing = false;
    this.#job?.cancel();
  }

  /** Writes what it found into the project as one step of the history. */
  keep(): void {
    const { latest, line } = this;
    if (!latest || line.length === 0 || this.foreign) return;
    const edits = this.#fitting(latest.edits);
    const [from, to] = [line[0][1], latest.merit].map((merit) => merit.toPrecision(4));
    this.#desk.commitDesign(edits, `Polish: merit ${from} → ${to}`);
    this.#clear(null);
  }

  throwAway(): void {
    this.stop();
    this.#clear(null);
  }

  /** Edits of numbers that are still there: the lens may have changed since the run began. */
  #fitting(edits: readonly Edit[]): readonly Edit[] {
    const there = (path: string): boolean => {
      let here: unknown = this.#desk.base;
      for (const part of path.split('.').slice(0, -1)) {
        here = Array.isArray(here)
          ? (here as { id?: string }[]).find(({ id }) => id === part)
          : (here as Record<string, unknown> | undefined)?.[part];
        if (here === undefined || here === null) return false;
      }
      return true;
    };
    return edits.filter((edit) => edit.kind === 'set' && there(edit.path));
  }

  #clear(project: Project | null): void {
    this.#job?.cancel();
    this.#job = null;
    this.status = 'none';
    this.project = project;
    this.#of = this.#desk.projectId;
    this.line = [];
    this.latest = this.end = this.failure = this.section = this.diagnosis = null;
    this.stopped = this.diagnosing = false;
    this.warnings = [];
    this.#earlier = { evaluations: 0, edits: [] };
    this.#pausing = false;
  }

  /** A state with what was done before the last pause. */
  #whole<S extends Polished>(state: S): S {
    const { evaluations, edits } = this.#earlier;
    return { ...state, evaluations: evaluations + state.evaluations, edits: [...edits, ...state.edits] };
  }

  #seen(state: Polished): void {
    this.latest = this.#whole(state);
    this.line = [...this.line, [this.latest.evaluations, state.merit]];
    void this.#draw(state.project);
  }

  #over(job: RunningJob<Outcome<PolishEnd>>, end: Outcome<PolishEnd>): void {
    if (this.#job !== job) return;
    this.#job = null;
    if (!end.ok) {
      this.failure = end.reason;
      this.status = 'none';
      return;
    }
    this.status = 'over';
    const whole = this.#whole(end.value);
    this.end = this.latest = whole;
    if (this.line.length === 0 || this.line[0][1] < whole.before) this.line = [[1, whole.before], ...this.line];
    this.line = [...this.line, [whole.evaluations, whole.merit]];
    void this.#draw(end.value.project);
    void this.#diagnose(end.value.project);
  }

  /** The lens as it is, drawn as often as that is done. */
  async #draw(project: Project): Promise<void> {
    const lens = this.#desk.lensIn(this.#desk.base)?.id;
    if (this.#drawing || lens === undefined) return;
    this.#drawing = true;
    try {
      const query = { kind: 'section', lens, raysPerField: 5 } as const;
      await this.#desk.pool.run('evaluate', { project, queries: [{ key: 'section', query }] }, (part) => {
        for (const { answer } of part) if (answer.ok && this.project) this.section = answer.value as Section;
      }).result;
    } catch {
      // A drawing that does not come is left out: the run goes on.
    }
    this.#drawing = false;
    if (this.latest && this.latest.project !== project && this.project) void this.#draw(this.latest.project);
  }

  async #diagnose(project: Project): Promise<void> {
    this.diagnosing = true;
    try {
      const found = await this.#desk.pool.run('diagnose', { project }).result;
      if (found.ok && this.status === 'over' && this.latest?.project === project) this.diagnosis = found.value;
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.failure = (error as Error).message;
    }
    this.diagnosing = false;
  }
}
