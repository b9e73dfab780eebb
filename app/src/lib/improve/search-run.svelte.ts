import {
  standing,
  type Candidate,
  type Measured,
  type Project,
  type SearchOptions,
  type SearchPart,
  type Section,
} from '@ulvex/core';
import { isSameLens } from '@ulvex/core/improve';
import localforage from 'localforage';
import { Run, type RunState } from '../compute/run.svelte.ts';
import type { Desk } from '../desk/desk.svelte.ts';
import { lensOf } from '../desk/lens-choice.ts';

/** What of a search is kept in the browser, so that it can go on after the page was closed. */
interface KeptSearch {
  readonly project: Project;
  readonly options: SearchOptions;
  readonly gallery: readonly Candidate[];
  readonly trials: number;
  readonly evaluations: number;
  readonly seconds: number;
}

const store = localforage.createInstance({
  name: 'ulvex',
  storeName: 'searches',
  driver: localforage.INDEXEDDB,
});

/** Between the seeds of workers that search together. */
const SEEDS_APART = 7919;

/** How often a gallery that has changed is written, ms. */
const KEEP_EVERY = 1000;

/**
 * One search of Improve, on the project as it was when it began, by all workers but one, which is left for the interface: each goes its own way, and
 * all fill one gallery. It goes on behind other rooms until it is stopped; its gallery is kept in the browser, and a search that is begun again goes
 * on from there.
 */
export class SearchRun extends Run {
  readonly #desk: Desk;
  #begun = 0;
  #before = 0;
  #kept = 0;
  #options: SearchOptions | null = null;
  /** Trials and evaluations of earlier runs, and of each worker in this one. */
  #counted: (readonly [trials: number, evaluations: number])[] = [];
  #drawing = false;
  /** Id of the project that it is of. */
  #projectId = '';
  project = $state.raw<Project | null>(null);
  gallery = $state.raw<readonly Candidate[]>([]);
  trials = $state.raw(0);
  evaluations = $state.raw(0);
  seconds = $state.raw(0);
  /** The last time, in seconds, that the best became better. */
  gained = $state.raw(0);
  /** Drawings of candidates by their ids. */
  sections = $state.raw<Readonly<Record<string, Section>>>({});
  /** How many of the requirements candidates keep, by their ids. */
  met = $state.raw<Readonly<Record<string, number>>>({});

  constructor(desk: Desk) {
    super(desk.runs, { title: 'Search', room: '/improve', outlasts: true });
    this.#desk = desk;
  }

  /** What a candidate is called among those of this search. */
  static keyOf({ id, merit }: Candidate): string {
    return `${id} ${merit}`;
  }

  /** Whether it is of another project than the one on the desk. */
  get foreign(): boolean {
    return this.project !== null && this.#projectId !== this.#desk.projectId;
  }

  /** Brings back what was found before the page was closed, where it was for this project. */
  async recall(): Promise<void> {
    if (this.foreign && !this.active) this.#reset();
    if (this.active || this.gallery.length > 0) return;
    this.#projectId = this.#desk.projectId;
    try {
      const kept = await store.getItem<KeptSearch>(this.#desk.projectId);
      if (!kept || this.active || this.gallery.length > 0) return;
      this.project = kept.project;
      this.#options = kept.options;
      this.gallery = kept.gallery;
      [this.trials, this.evaluations, this.seconds] = [kept.trials, kept.evaluations, kept.seconds];
      void this.#draw();
    } catch {
      // A store that does not give keeps nothing else from working.
    }
  }

  /** Begins anew on the project as it is. */
  start(options: SearchOptions): void {
    this.#reset();
    this.#projectId = this.#desk.projectId;
    this.project = this.#desk.base;
    this.#run(options);
  }

  /** Goes on from what was found, with other random numbers. */
  goOn(): void {
    if (!this.#options || !this.project) return;
    this.#run({ ...this.#options, seed: this.#options.seed + 1000 + this.trials, starts: 0 });
  }

  #run(options: SearchOptions): void {
    const { project } = this;
    if (!project) return;
    this.#options = options;
    this.begin();
    this.#begun = performance.now();
    this.#before = this.seconds;
    const workers = Math.max(1, this.pool.size - 1);
    this.#counted = [[this.trials, this.evaluations], ...Array.from({ length: workers }, () => [0, 0] as const)];
    // What was found before goes into the new galleries by its best, which the search starts from.
    const from = this.gallery[0]?.project ?? project;
    const share = { ...options, starts: Math.ceil(options.starts / workers) };
    for (let k = 0; k < workers; k++) void this.#search(k, from, { ...share, seed: options.seed + SEEDS_APART * k });
  }

  /** What one worker does; the search is over when the last of them is. */
  async #search(worker: number, project: Project, options: SearchOptions): Promise<void> {
    const end = await this.work('search', { project, options }, (part) => this.#found(worker, part));
    if (!end || this.jobs > 0) return;
    if (end.ok || this.gallery.length > 0) this.end('done');
    else this.end('failed', end.reason);
  }

  /** Takes in what a worker has found. */
  #found(worker: number, { trials, evaluations, gallery }: SearchPart): void {
    this.#counted[worker + 1] = [trials, evaluations];
    this.trials = this.#counted.reduce((sum, one) => sum + one[0], 0);
    this.evaluations = this.#counted.reduce((sum, one) => sum + one[1], 0);
    this.seconds = this.#before + (performance.now() - this.#begun) / 1000;
    if (!gallery) return;
    const best = this.gallery[0]?.merit ?? Infinity;
    this.gallery = joined(this.gallery, gallery);
    if (this.gallery[0] && this.gallery[0].merit < best) this.gained = this.seconds;
    void this.#keep();
    void this.#draw();
  }

  /** Writes a candidate into the project as one step of the history: its numbers and its glasses. */
  keep(candidate: Candidate): void {
    if (this.foreign) return;
    const { base } = this.#desk;
    const lenses = base.lenses.map((lens) => candidate.project.lenses.find(({ id }) => id === lens.id) ?? lens);
    const materials = candidate.project.materials.filter(({ id }) => !base.materials.some((one) => one.id === id));
    this.#desk.commitDesign(
      [
        ...materials.map(
          (item) => ({ kind: 'insert', list: 'materials', after: base.materials.at(-1)?.id ?? null, item }) as const,
        ),
        { kind: 'set', path: 'lenses', value: lenses },
      ],
      `From the search: merit ${candidate.merit.toPrecision(4)}`,
    );
  }

  /** Lays a candidate in grey under drawing and figures, to be compared with the lens. */
  layBeside(candidate: Candidate): void {
    this.#desk.setReferenceVersion(`found: merit ${candidate.merit.toPrecision(4)}`, candidate.project);
  }

  throwAway(): void {
    this.#reset();
    this.project = null;
    void store.removeItem(this.#projectId).catch(() => {});
  }

  #reset(): void {
    this.end('none');
    this.gallery = [];
    this.sections = this.met = {};
    this.trials = this.evaluations = this.seconds = this.gained = 0;
  }

  protected override end(state: RunState, reason = ''): void {
    super.end(state, reason);
    if (state !== 'none') void this.#keep(true);
  }

  async #keep(now = false): Promise<void> {
    const { project, gallery, trials, evaluations, seconds } = this;
    if (!project || !this.#options || (!now && performance.now() - this.#kept < KEEP_EVERY)) return;
    this.#kept = performance.now();
    const kept: KeptSearch = { project, options: this.#options, gallery, trials, evaluations, seconds };
    try {
      await store.setItem(this.#projectId, kept);
    } catch {
      // The search goes on; it only cannot be taken up again after the page is closed.
    }
  }

  /** Draws the candidates that have no drawing yet, one after the other. */
  async #draw(): Promise<void> {
    const lens = this.project ? lensOf(this.project)?.id : undefined;
    if (this.#drawing || lens === undefined) return;
    this.#drawing = true;
    try {
      for (;;) {
        const next = this.gallery.find((one) => !(SearchRun.keyOf(one) in this.sections));
        if (!next) break;
        const { requirements } = next.project;
        const queries = [
          { key: 'section', query: { kind: 'section', lens, raysPerField: 3 } as const },
          ...requirements.map(({ id, measure, lens: of, settings, state = 'designed' }) => ({
            key: id,
            query: {
              kind: 'measure',
              measure,
              lens: of,
              settings,
              state: state === 'every' ? 'designed' : state,
            } as const,
          })),
        ];
        const key = SearchRun.keyOf(next);
        let met = 0;
        await this.#desk.pool.run('evaluate', { project: next.project, queries }, (part) => {
          for (const { key: asked, answer } of part) {
            if (!answer.ok) continue;
            if (asked === 'section') this.sections = { ...this.sections, [key]: answer.value as Section };
            else if (
              standing(
                (answer.value as Measured).value,
                requirements.find(({ id }) => id === asked)!,
              ).verdict !== 'missed'
            )
              met++;
          }
        }).result;
        this.met = { ...this.met, [key]: met };
        if (!(key in this.sections)) break;
      }
      this.sections = Object.fromEntries(
        this.gallery.flatMap((one) => {
          const section = this.sections[SearchRun.keyOf(one)];
          return section ? [[SearchRun.keyOf(one), section]] : [];
        }),
      );
    } catch {
      // Without a drawing a candidate has its figures all the same.
    }
    this.#drawing = false;
  }
}

/** Candidates of two galleries, best first, those of one merit and one set of glasses once. */
function joined(one: readonly Candidate[], other: readonly Candidate[]): readonly Candidate[] {
  const all = [...other, ...one].sort((a, b) => a.merit - b.merit);
  const distinct = all.filter((candidate, k) => !all.slice(0, k).some((before) => isSameLens(before, candidate)));
  return distinct.slice(0, 12);
}
