import {
  applyEdits,
  commit,
  EMPTY_HISTORY,
  JOBS,
  nameState,
  redo,
  returnTo,
  undo,
  undoDepth,
  success,
  WorkerPool,
  type BrokenRelation,
  type Edit,
  type Gesture,
  type Jobs,
  type Lens,
  type Outcome,
  type ParameterState,
  type Project,
  type Scene,
  type SceneGesture,
  type SceneKind,
  type Settled,
  type FocusCriterion,
  type Tracked,
} from '@ulvex/core';
import type { FormulaEvaluator } from '@ulvex/core/relations';
import { spawnBrowserWorker } from '../compute/browser-worker.ts';
import { rememberWorkers, workersWanted } from '../compute/workers-wanted.ts';
import { LiveAnswers } from '../compute/live.svelte.ts';
import { urgent } from '../tiles/paint-queue.ts';
import { asReference } from './foreign-reference.ts';
import { Previews } from './previews.ts';
import { recallProject, type Keep } from '../keeping/store.ts';
import { Keeper, storeTrouble, type Keeping } from './keeper.svelte.ts';

/** A line at the foot of the window: something was done, or could not be. */
export interface Notice {
  readonly tone: 'done' | 'refused';
  readonly title: string;
  /** Place and reason of each problem. */
  readonly lines?: readonly string[];
  /** Something that can be done about it. */
  readonly action?: { readonly label: string; readonly run: () => void };
}

/** A part, source or detector; for parts, which of its faces are meant, none for all. */
export interface ChosenThing {
  readonly kind: SceneKind;
  readonly id: string;
  readonly faces?: readonly string[];
}

/** How long a preview may wait for its answers, ms. */
const REVEAL_AFTER = 40;
/** From when on running jobs are told, ms. */
const TELL_AFTER = 200;

/** What makes numbers follow from others, with the evaluator of their formulas. */
type LoadedRelations = typeof import('@ulvex/core/relations') & { readonly evaluate: FormulaEvaluator };

/** The one open project with its history, what is computed of it and how it is kept. Rooms read from it and edit through it. */
export class Desk {
  readonly pool: WorkerPool<Jobs>;
  readonly live: LiveAnswers;
  /** Answers for the reference; its queries ask nothing while there is none. */
  readonly referenceLive: LiveAnswers;
  #referenceRevision = 0;
  /** What is laid in grey under everything. */
  reference = $state.raw<{
    /** Of the history; null for another project. */
    readonly entry: number | null;
    readonly label: string;
    readonly project: Project;
  } | null>(null);

  #active = { running: 0, waiting: 0 };
  #activityTimer: ReturnType<typeof setTimeout> | undefined;
  #tracked = $state.raw<Tracked>({ project: NOTHING, history: EMPTY_HISTORY });
  #preview = $state.raw<Project | null>(null);
  readonly #previews = new Previews((project) => (this.#preview = project), REVEAL_AFTER);
  readonly keeper = new Keeper(() => this.#tracked);

  /** Grows with everything that changes what is shown; answers carry it. */
  revision = $state.raw(0);
  notice = $state.raw<Notice | null>(null);
  /** Jobs under way and waiting; what is over at once is not told, so that the indicator does not flicker. */
  activity = $state.raw({ running: 0, waiting: 0 });
  /** Number of compute workers. */
  workers = $state.raw(0);
  /** Links and conditions that do not hold, with the reason. */
  broken = $state.raw<readonly BrokenRelation[]>([]);
  /** Loaded when the first number follows from others. */
  #relations: LoadedRelations | null = null;
  /** Surface that the keyboard or the mouse is at; the prescription and the drawing share it. */
  selected = $state.raw<string | null>(null);
  hovered = $state.raw<string | null>(null);
  /** What of the scene is chosen, with the faces of a part that are. */
  thing = $state.raw<ChosenThing | null>(null);

  constructor() {
    const workers = workersWanted();
    this.workers = workers;
    this.pool = new WorkerPool<typeof JOBS>(spawnBrowserWorker, workers, (running, waiting) => {
      this.#active = { running, waiting };
      if (running + waiting === 0 && this.activity.running + this.activity.waiting > 0) this.#tellActivity();
      else this.#activityTimer ??= setTimeout(() => this.#tellActivity(), TELL_AFTER);
    });
    this.live = new LiveAnswers(this.pool, (project) => {
      urgent.answeredAt = performance.now();
      this.#previews.answered(project);
    });
    this.referenceLive = new LiveAnswers(this.pool);
    urgent.waiting = () => this.live.computing;
  }

  /** What is on screen: the project, or what it would be with the number that is being typed or dragged. */
  get shown(): Project {
    return this.#preview ?? this.#tracked.project;
  }

  /** The project as the history has it. */
  get project(): Project {
    return this.#tracked.project;
  }

  get history() {
    return this.#tracked.history;
  }

  get undoable(): number {
    return undoDepth(this.#tracked.history);
  }

  get redoable(): number {
    return this.#tracked.history.redo.length;
  }

  /** The scene that rooms look at. */
  get scene(): Scene | null {
    return this.shown.scenes?.[0] ?? null;
  }

  /** The lens that rooms look at. */
  get lens(): Lens | null {
    return this.shown.lenses[0] ?? null;
  }

  get projectId(): string {
    return this.keeper.id;
  }

  /** How the project stands in the browser's store. */
  get keeping(): Keeping {
    return this.keeper.state;
  }

  /** Puts a project on the desk; `keep` is given when it comes out of the store. */
  open(tracked: Tracked, keep?: Keep, savedAt?: number): void {
    void this.flush();
    this.#tracked = tracked;
    this.#dropPreview();
    this.reference = null;
    this.selected = null;
    this.hovered = null;
    this.thing = null;
    this.#show();
    this.keeper.begin(keep, savedAt);
    this.broken = [];
    if (tracked.project.parameters) void this.#bringUpToDate();
  }

  async #loadRelations(): Promise<LoadedRelations> {
    if (this.#relations) return this.#relations;
    const module = await import('@ulvex/core/relations');
    return (this.#relations = { ...module, evaluate: await module.formulaEvaluator() });
  }

  /** A file may have been changed elsewhere: links and conditions hold from when what makes them hold is there. */
  async #bringUpToDate(): Promise<void> {
    await this.#loadRelations();
    const edits = this.#following([]);
    if (edits.length > 0) this.commit(edits, 'Bring linked and derived numbers up to date');
  }

  /** Edits, and what follows from them for linked and derived numbers. */
  #following(edits: readonly Edit[]): readonly Edit[] {
    const { project } = applyEdits(this.#tracked.project, edits);
    const settled = this.#settled(project);
    this.broken = settled.broken;
    return [...edits, ...settled.edits];
  }

  #settled(project: Project): Pick<Settled, 'project' | 'edits' | 'broken'> {
    if (!project.parameters || !this.#relations) return { project, edits: [], broken: [] };
    return this.#relations.settle(project, this.#relations.evaluate);
  }

  /** Makes numbers fixed (null), free, linked or derived, or says why they cannot be. */
  async changeState(
    addresses: readonly string[],
    state: ParameterState | null,
    label: string,
  ): Promise<Outcome<null>> {
    const { changeState, evaluate } = await this.#loadRelations();
    const edits = changeState(this.project, addresses, state, evaluate);
    if (!edits.ok) return edits;
    this.commit(edits.value, label);
    return success(null);
  }

  /** Takes the project over from another tab, see `Keeper`. */
  async takeOver(): Promise<void> {
    await this.keeper.takeOver((recalled) => {
      this.#tracked = recalled;
      this.#dropPreview();
      this.reference = null;
      this.#show();
    });
  }

  /** One gesture: applied, kept, one entry of the history. */
  commit(edits: readonly Edit[], label: string): void {
    this.#dropPreview();
    const next = commit(this.#tracked, this.#following(edits), label, Date.now());
    if (next === this.#tracked) {
      this.#show();
      return;
    }
    this.#tracked = next;
    this.#show();
    this.keeper.changed();
  }

  /** Does a gesture, or says why it cannot be done. Returns the surface to look at, or null. */
  perform(gesture: Gesture | Outcome<Gesture>): string | null {
    if ('ok' in gesture && !gesture.ok) {
      this.notice = { tone: 'refused', title: gesture.reason };
      return null;
    }
    const done = 'ok' in gesture ? gesture.value : gesture;
    this.commit(done.edits, done.label);
    return done.focus;
  }

  /** Does a gesture on the scene, and chooses what it is about. */
  arrange({ edits, label, focus }: SceneGesture): void {
    this.commit(edits, label);
    if (focus && (this.thing?.kind !== focus.kind || this.thing.id !== focus.id)) this.thing = focus;
    else if (!focus) this.thing = null;
  }

  /**
   * Shows what edits would do without making them: the next preview, commit or `endPreview` takes their place. It appears together
   * with its answers, or without them when they take long.
   */
  preview(edits: readonly Edit[]): void {
    const ahead = this.#settled(applyEdits(this.#tracked.project, edits).project).project;
    this.#previews.add(ahead);
    this.revision++;
    this.live.show(ahead, this.revision);
  }

  endPreview(): void {
    if (!this.#previews.under) return;
    this.#dropPreview();
    this.#show();
  }

  #tellActivity(): void {
    clearTimeout(this.#activityTimer);
    this.#activityTimer = undefined;
    const { running, waiting } = this.#active;
    if (running !== this.activity.running || waiting !== this.activity.waiting) this.activity = this.#active;
  }

  #dropPreview(): void {
    this.#previews.drop();
    this.#preview = null;
  }

  undo(): void {
    this.#walk(undo(this.#tracked));
  }

  redo(): void {
    this.#walk(redo(this.#tracked));
  }

  /** Returns to an entry of the history, −1 for the beginning. */
  returnTo(entry: number): void {
    this.#walk(returnTo(this.#tracked, entry));
  }

  /** Names a state of the history, −1 for the beginning; an empty name takes it away. */
  nameState(entry: number, name: string): void {
    this.#tracked = nameState(this.#tracked, entry, name);
    this.keeper.changed();
  }

  /** Another number of compute workers, remembered by the browser. */
  setWorkers(count: number): void {
    this.pool.resize(count);
    this.workers = this.pool.size;
    rememberWorkers(count);
  }

  /** Lays an entry of the history in grey under drawing and figures, −1 for the beginning; null takes it away. */
  setReference(entry: number | null): void {
    if (entry === null) {
      this.reference = null;
      return;
    }
    const project = returnTo(this.#tracked, entry).project;
    const label = entry < 0 ? 'the beginning' : (this.history.entries[entry]?.label ?? '');
    this.#layUnder(entry, label, project);
  }

  #layUnder(entry: number | null, label: string, project: Project): void {
    this.reference = { entry, label, project };
    this.referenceLive.show(project, ++this.#referenceRevision);
  }

  /** Lays another kept project in grey under drawing and figures, or says why it cannot be. */
  async setReferenceProject(id: string): Promise<void> {
    const { lens } = this;
    if (!lens) return;
    try {
      const kept = await recallProject(id);
      const project = kept && asReference(kept.tracked.project, lens);
      if (project) this.#layUnder(null, project.name, project);
      else
        this.notice = {
          tone: 'refused',
          title: kept ? `${kept.tracked.project.name} has no lens to compare with.` : 'That project is gone.',
        };
    } catch (error) {
      this.notice = { tone: 'refused', title: `The project cannot be read: ${storeTrouble(error)}` };
    }
  }

  /** Searches the last distance for the smallest RMS spot and makes it one gesture. */
  async refocus(criterion: FocusCriterion = 'centroid'): Promise<void> {
    const { lens } = this;
    if (!lens) return;
    const project = this.#tracked.project;
    try {
      const found = await this.pool.run('refocus', { project, lens: lens.id, criterion }).result;
      if (!found.ok) {
        this.notice = { tone: 'refused', title: `Refocus is not possible: ${found.reason}` };
        return;
      }
      if (this.#tracked.project !== project) return; // the lens changed meanwhile: the answer is for another one
      const { shift, before, after, edit } = found.value;
      this.commit([edit], 'Refocus');
      const [from, to] = [before, after].map((value) => (value * 1000).toFixed(3));
      const moved = `${shift < 0 ? '−' : '+'}${Math.abs(shift).toFixed(4)} mm`;
      this.notice = {
        tone: 'done',
        title: `Refocused by ${moved}: RMS spot over the fields ${from} → ${to} µm, ${criterion === 'paraxial' ? 'at the paraxial image' : `about ${criterion}`}`,
      };
    } catch (error) {
      this.notice = { tone: 'refused', title: `Refocus failed: ${(error as Error).message}` };
    }
  }

  /** Writes what waits to be kept, at once. */
  flush(): Promise<void> {
    return this.keeper.flush();
  }

  #walk(next: Tracked): void {
    if (next === this.#tracked) return;
    this.#dropPreview();
    this.#tracked = next;
    this.broken = this.#settled(next.project).broken;
    this.#show();
    this.keeper.changed();
  }

  #show(): void {
    this.revision++;
    this.live.show(this.shown, this.revision);
  }
}

const NOTHING: Project = {
  format: 'ulvex-project',
  version: 1,
  name: '',
  notes: '',
  lenses: [],
  materials: [],
  requirements: [],
};
