import type { Diagnosis, Edit, PolishEnd, PolishMethod, Polished, Project, Section, Warning } from '@ulvex/core';
import { Run } from '../compute/run.svelte.ts';
import type { Desk } from '../desk/desk.svelte.ts';

/**
 * One polish of Improve, on the project as it was when it began: what is edited meanwhile is not touched, and keeping the result writes the free
 * numbers alone.
 */
export class PolishRun extends Run {
  readonly #desk: Desk;
  #drawing = false;
  /** Id of the project that it is of. */
  #projectId = '';
  /** What was done before it was held the last time: evaluations, and the edits that came of them. */
  #earlier: { readonly evaluations: number; readonly edits: readonly Edit[] } = { evaluations: 0, edits: [] };
  /** Whether it waits for an answer before it begins: something is doubtful. */
  asking = $state.raw(false);
  /** The project that it began with. */
  project = $state.raw<Project | null>(null);
  /** Merit against evaluations. */
  line = $state.raw<readonly (readonly [evaluations: number, merit: number])[]>([]);
  latest = $state.raw<Polished | null>(null);
  /** Why it ended, in words of the solver; null while it runs, or if it was given up. */
  outcome = $state.raw<PolishEnd | null>(null);
  warnings = $state.raw<readonly Warning[]>([]);
  /** Method; by Ulvex's choice where empty. */
  method = $state<PolishMethod | ''>('');
  section = $state.raw<Section | null>(null);
  diagnosis = $state.raw<Diagnosis | null>(null);
  diagnosing = $state.raw(false);

  constructor(desk: Desk) {
    super(desk.runs, { title: 'Polish', room: '/improve', outlasts: true });
    this.#desk = desk;
  }

  /** Whether it has come to an end with something to look at. */
  get over(): boolean {
    return ['done', 'cancelled', 'failed'].includes(this.state) && this.latest !== null;
  }

  /** Whether it is of another project than the one on the desk. */
  get foreign(): boolean {
    return this.project !== null && this.#projectId !== this.#desk.projectId;
  }

  /** Whether there is something to keep. */
  get better(): boolean {
    const { latest, line } = this;
    return !this.foreign && latest !== null && line.length > 1 && latest.merit < line[0][1];
  }

  /** Looks at what is doubtful first; waits for an answer if something has to be asked. */
  async look(): Promise<void> {
    const project = this.#desk.base;
    this.#clear(project);
    const found = await this.work('warnings', { project });
    if (!found) return;
    if (!found.ok) return this.end('failed', found.reason);
    this.warnings = found.value;
    this.asking = found.value.some(({ asks }) => asks);
    if (!this.asking) this.start();
  }

  /** Begins in earnest, on the project that was looked at. */
  start(): void {
    this.asking = false;
    if (this.project) void this.#run(this.project);
  }

  /** Goes on from where it stands: held, given up, or ended by its own rule. What was found so far is the new beginning. */
  goOn(): void {
    const { latest } = this;
    if (this.state !== 'paused' && !this.over) return;
    if (!latest) return this.start();
    this.outcome = this.diagnosis = null;
    this.#earlier = { evaluations: latest.evaluations, edits: latest.edits };
    void this.#run(latest.project);
  }

  async #run(project: Project): Promise<void> {
    this.begin();
    const options = this.method === '' ? {} : { method: this.method };
    const found = await this.work('polish', { project, options }, (state) => this.#seen(state));
    if (!found) return;
    if (!found.ok) return this.end('failed', found.reason);
    const whole = this.#whole(found.value);
    this.outcome = this.latest = whole;
    if (this.line.length === 0 || this.line[0][1] < whole.before) this.line = [[1, whole.before], ...this.line];
    this.line = [...this.line, [whole.evaluations, whole.merit]];
    this.end('done');
    void this.#draw(found.value.project);
    void this.#diagnose(found.value.project);
  }

  /** Ends it here; what it found so far can be kept. */
  override stop(): void {
    super.stop();
    if (this.over) void this.#diagnose(this.latest!.project);
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
    this.end('none');
    this.asking = this.diagnosing = false;
    this.project = project;
    this.#projectId = this.#desk.projectId;
    this.line = [];
    this.latest = this.outcome = this.section = this.diagnosis = null;
    this.warnings = [];
    this.#earlier = { evaluations: 0, edits: [] };
  }

  /** A state with what was done before it was held the last time. */
  #whole<S extends Polished>(state: S): S {
    const { evaluations, edits } = this.#earlier;
    return { ...state, evaluations: evaluations + state.evaluations, edits: [...edits, ...state.edits] };
  }

  #seen(state: Polished): void {
    this.latest = this.#whole(state);
    this.line = [...this.line, [this.latest.evaluations, state.merit]];
    void this.#draw(state.project);
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
      if (found.ok && this.over && this.latest?.project === project) this.diagnosis = found.value;
    } catch {
      // Without a diagnosis the run has its result all the same.
    }
    this.diagnosing = false;
  }
}
