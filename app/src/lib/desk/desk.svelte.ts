import {
  applyEdits,
  commit,
  differIn,
  EMPTY_HISTORY,
  JOBS,
  KEPT_INPUTS,
  nameState,
  NO_FOCUS,
  overridablePath,
  prunedStates,
  redirected,
  redo,
  returnTo,
  undo,
  undoDepth,
  failure,
  stateAddress,
  success,
  unkeepable,
  valueAt,
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
  type FocusCriterion,
  type Tracked,
} from '@ulvex/core';
import { spawnBrowserWorker } from '../compute/browser-worker.ts';
import { rememberWorkers, workersWanted } from '../compute/workers-wanted.ts';
import { LiveAnswers } from '../compute/live.svelte.ts';
import { urgent } from '../compute/paint-queue.ts';
import { asReference } from './foreign-reference.ts';
import { lensOf } from './lens-choice.ts';
import { stateOfPlace } from './tile-state.ts';
import { Previews } from './previews.ts';
import { brokenIn, Views } from './views.ts';
import { projectStore } from '../keeping/store.ts';
import { Runs } from './runs.svelte.ts';
import { Relations, unfinished, type Followed } from './relations.svelte.ts';
import { Keeper, storeTrouble, type FromStore, type Keeping } from './keeper.svelte.ts';

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
  /** Ids of other parts that are chosen with it. */
  readonly also?: readonly string[];
}

/** How long a preview may wait for its answers, ms. */
const REVEAL_AFTER = 40;
/** How long a job may go without a step before its worker is ended, ms. */
const PATIENCE = 10_000;
/** From when on running jobs are told, ms. */
const TELL_AFTER = 200;

/** A gesture whose followers are still being found, and those that came after it. */
interface Pending {
  readonly edits: readonly Edit[];
  readonly label: string;
  readonly next: { readonly edits: readonly Edit[]; readonly label: string }[];
}

/** The one open project with its history, what is computed of it and how it is kept. Rooms read from it and edit through it. */
export class Desk {
  readonly pool: WorkerPool<Jobs>;
  readonly runs: Runs;
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
  #made = $state.raw<{ readonly title: string; readonly trial: number; readonly project: Project } | null>(null);
  readonly #previews = new Previews((project) => (this.#preview = project), REVEAL_AFTER);
  readonly #views = new Views();
  readonly keeper = new Keeper(() => this.#tracked);

  /** Grows with everything that changes what is shown; answers carry it. */
  revision = $state.raw(0);
  notice = $state.raw<Notice | null>(null);
  /** Jobs under way and waiting; what is over at once is not told, so that the indicator does not flicker. */
  activity = $state.raw({ running: 0, waiting: 0 });
  /** Number of compute workers. */
  workers = $state.raw(0);
  /** Links and conditions that do not hold in the project, with the reason. */
  #broken = $state.raw<readonly BrokenRelation[]>([]);
  #stateAtHand = $state.raw<string | null>(null);
  /** Id of the lens that rooms look at; null for the first one. */
  #lensChosen = $state<string | null>(null);
  readonly relations = new Relations();
  #pending = $state.raw<Pending | null>(null);
  #awaited = $state.raw(0);
  /** Surface that the keyboard or the mouse is at; the prescription and the drawing share it. */
  selected = $state.raw<string | null>(null);
  hovered = $state.raw<string | null>(null);
  /** What of the scene is chosen, with the faces of a part that are. */
  thing = $state.raw<ChosenThing | null>(null);

  constructor() {
    const workers = workersWanted();
    this.workers = workers;
    this.pool = new WorkerPool<typeof JOBS>(
      spawnBrowserWorker,
      workers,
      (running, waiting) => {
        this.#active = { running, waiting };
        if (running + waiting === 0 && this.activity.running + this.activity.waiting > 0) this.#tellActivity();
        else this.#activityTimer ??= setTimeout(() => this.#tellActivity(), TELL_AFTER);
      },
      { patience: PATIENCE, kept: KEPT_INPUTS },
    );
    this.runs = new Runs(this.pool);
    this.live = new LiveAnswers(this.pool, (project) => this.#previews.answered(project));
    this.referenceLive = new LiveAnswers(this.pool);
    this.live.stateOfPlace = this.referenceLive.stateOfPlace = stateOfPlace;
    this.live.stateAtHand = this.referenceLive.stateAtHand = () => this.state;
    urgent.untilFree = () => this.live.untilFree;
    urgent.shownAt = (revision) => this.live.shownAt(revision);
  }

  /** What is on screen: the project in the state at hand, or what it would be with the number that is being typed or dragged. */
  get shown(): Project {
    return this.#views.of(this.#seen, this.state);
  }

  /** What is looked at: a number being typed or dragged, a trial as it was made, or the project itself. */
  get #seen(): Project {
    return this.#preview ?? this.#made?.project ?? this.#tracked.project;
  }

  /** The trial that every room shows in place of the design; null for none. */
  get made(): { readonly title: string; readonly trial: number; readonly project: Project } | null {
    return this.#made;
  }

  /** Shows a trial, as it was made, in every room; null for the design again. Any change of the design leaves it. */
  lookAtMade(made: { readonly title: string; readonly trial: number; readonly project: Project } | null): void {
    this.finishPending();
    this.#dropPreview();
    this.#made = made;
    this.#show();
  }

  /** The project as the history has it, seen in the state at hand. */
  get project(): Project {
    return this.#views.of(this.#tracked.project, this.state);
  }

  /** The project as the history and files have it: the design, and what differs from it in states. */
  get base(): Project {
    return this.#tracked.project;
  }

  /** Id of the state at hand: what is shown and edited where nothing else is said; null for the design. */
  get state(): string | null {
    const id = this.#stateAtHand;
    return id !== null && this.#tracked.project.states?.some((one) => one.id === id) ? id : null;
  }

  /** Looks at the model in a state; null for the design. */
  lookAt(state: string | null): void {
    this.endPreview();
    this.#stateAtHand = state;
  }

  /** Links and conditions that do not hold, those of the state at hand by the addresses that its numbers have on screen. */
  get broken(): readonly BrokenRelation[] {
    const { state } = this;
    return state === null ? this.#broken : brokenIn(this.#broken, state);
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

  /** The lens that rooms look at, as it is shown. */
  get lens(): Lens | null {
    return this.lensIn(this.shown) ?? null;
  }

  /** The lens that rooms look at, in a version of the project; undefined when it has none. */
  lensIn(project: Project): Lens | undefined {
    return lensOf(project, this.#lensChosen);
  }

  /** Looks at another lens of the project. */
  lookAtLens(id: string): void {
    this.endPreview();
    this.selected = null;
    this.hovered = null;
    this.#lensChosen = id;
  }

  get projectId(): string {
    return this.keeper.id;
  }

  /** How the project stands in the browser's store. */
  get keeping(): Keeping {
    return this.keeper.state;
  }

  /**
   * Puts a project on the desk; `from` is given when it comes out of the store.
   *
   * @param withoutRelations - leaves linked and derived numbers as they are
   */
  open(tracked: Tracked, from?: FromStore, withoutRelations = false): void {
    this.finishPending();
    void this.keeper.leave();
    this.runs.leaveProject();
    this.relations.begin(withoutRelations);
    this.#tracked = tracked;
    this.#made = null;
    this.#dropPreview();
    this.reference = null;
    this.selected = null;
    this.hovered = null;
    this.thing = null;
    this.#lensChosen = null;
    this.#show();
    this.keeper.begin(from);
    this.#broken = [];
    this.#stateAtHand = null;
    if (tracked.project.parameters) void this.#bringUpToDate();
  }

  /** A file may have been changed elsewhere: links and conditions hold from when what makes them hold is there. */
  async #bringUpToDate(): Promise<void> {
    const { project } = this.#tracked;
    await this.relations.load();
    if (this.#tracked.project === project) this.commitDesign([], 'Bring linked and derived numbers up to date');
  }

  /** Lets links and conditions hold again in a project that was opened without. */
  letRelationsHold(): void {
    this.relations.begin(false);
    void this.#bringUpToDate();
  }

  /** Makes numbers fixed (null), free, linked or derived, or says why they cannot be. */
  async changeState(addresses: readonly string[], state: ParameterState | null, label: string): Promise<Outcome<null>> {
    const meant = addresses.map((address) => this.differs(address)?.at ?? address);
    const { base } = this;
    const edits = await this.awaiting(this.relations.changeState(base, meant, state));
    if (!edits.ok) return edits;
    await this.awaiting(this.relations.load());
    if (this.base !== base) return failure('The project has changed meanwhile. Try again.');
    this.commitDesign(edits.value, label);
    return success(null);
  }

  /**
   * In what a number or a medium at hand differs from the design: the address that it has in the state, and its value
   * there; null where it does not.
   */
  differs(
    address: string,
  ): { readonly at: string; readonly designed: number | string | undefined; readonly follows: boolean } | null {
    const { base, state } = this;
    const override = base.states?.find(({ id }) => id === state)?.overrides.find((one) => one.address === address);
    if (!override || state === null) return null;
    const path = overridablePath(base, address);
    const designed = path === null ? undefined : (valueAt(base, path) as number | string | undefined);
    const follows = override.follows ?? false;
    return { at: follows ? address : stateAddress(state, address), designed, follows };
  }

  /** Lets a number or a medium differ in a state, with the value that it has. */
  differ(address: string, state: string): void {
    const gesture = differIn(this.base, state, address);
    if (!gesture.ok) this.notice = { tone: 'refused', title: gesture.reason };
    else if (gesture.value.edits.length > 0) this.commitDesign(gesture.value.edits, gesture.value.label);
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

  /** One gesture: applied where the state at hand says that it belongs, kept, one entry of the history. */
  commit(edits: readonly Edit[], label: string): void {
    this.commitDesign(redirected(this.base, this.state, edits), label);
  }

  /** The same for edits that are of the design, or name the state that they are of, whatever is looked at. */
  commitDesign(edits: readonly Edit[], label: string): void {
    if (this.#pending) {
      this.#pending.next.push({ edits, label });
      return;
    }
    this.#dropPreview();
    this.#made = null;
    const [made, project] = this.#pruned(edits);
    const followed = this.relations.now(project);
    if (followed) this.#take(made, followed, label);
    else void this.#takeLater(made, project, label);
  }

  /** Edits, and what they make of states that name what is gone. */
  #pruned(edits: readonly Edit[]): readonly [readonly Edit[], Project] {
    const { project } = applyEdits(this.#tracked.project, edits);
    const stale = prunedStates(project);
    return stale.length > 0 ? [[...edits, ...stale], applyEdits(project, stale).project] : [edits, project];
  }

  /** A gesture with what follows from it: one entry of the history. */
  #take(made: readonly Edit[], { edits, broken }: Followed, label: string): void {
    this.#broken = broken;
    const next = commit(this.#tracked, [...made, ...edits], label, Date.now());
    if (next === this.#tracked || !this.#keepable(next, label)) {
      this.#show();
      return;
    }
    this.#tracked = next;
    this.#outdateNotice();
    this.#show();
    this.keeper.changed();
  }

  /** The same where what follows takes long to find: the gesture is on screen meanwhile, and those after it wait. */
  async #takeLater(edits: readonly Edit[], project: Project, label: string): Promise<void> {
    const pending: Pending = { edits, label, next: [] };
    this.#pending = pending;
    this.#preview = project;
    this.#show();
    const followed = await this.relations.beside(project);
    if (this.#pending !== pending) return;
    this.#pending = null;
    this.#preview = null;
    this.#take(edits, followed, label);
    for (const one of pending.next) this.commitDesign(one.edits, one.label);
  }

  /** Gestures whose followers are still being found are made without them, at once: the window goes, or another way is taken. */
  finishPending(): void {
    const pending = this.#pending;
    if (!pending) return;
    this.#pending = null;
    this.#preview = null;
    this.relations.giveUp();
    for (const { edits, label } of [pending, ...pending.next]) {
      const [made, project] = this.#pruned(edits);
      this.#take(made, unfinished(project, 'It was cancelled.'), label);
    }
  }

  /** Has a gesture wait for a worker: until then the page does not say that it has settled. */
  async awaiting<T>(work: Promise<T>): Promise<T> {
    this.#awaited++;
    try {
      return await work;
    } finally {
      this.#awaited--;
    }
  }

  /** Whether a gesture waits for a worker: what it will do is not there yet. */
  get awaits(): boolean {
    return this.#awaited > 0;
  }

  /** Whether linked and derived numbers are still being brought to where they belong. */
  get settling(): boolean {
    return this.#pending !== null;
  }

  /** Whether a version can be read back from its file; says what cannot, where not. */
  #keepable({ project }: Tracked, label: string): boolean {
    const problems = unkeepable(project);
    if (problems.length === 0) return true;
    this.notice = {
      tone: 'refused',
      title: `${label}: this could not be kept. Nothing was changed.`,
      lines: problems.map(({ place, reason }) => `${place}: ${reason}`),
    };
    return false;
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
    this.previewDesign(redirected(this.base, this.state, edits));
  }

  /** The same for edits that name where they belong, see `commitDesign`. */
  previewDesign(edits: readonly Edit[]): void {
    if (this.#pending) return;
    const changed = applyEdits(this.#tracked.project, edits).project;
    // Where followers take long they are found with the commit: a preview shows what is typed without them.
    const ahead = this.relations.now(changed)?.project ?? changed;
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
    this.#walk(() => undo(this.#tracked));
  }

  redo(): void {
    this.#walk(() => redo(this.#tracked));
  }

  /** Returns to an entry of the history, −1 for the beginning. */
  returnTo(entry: number): void {
    this.#walk(() => returnTo(this.#tracked, entry));
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
    const named = this.history.names?.[String(entry)];
    const after = this.history.entries[entry]?.label ?? '';
    const label = named ?? (entry < 0 ? 'the project as it began' : `after “${after}”`);
    this.#layUnder(entry, label, project);
  }

  /** Lays a version of the project that the history does not hold in grey under drawing and figures. */
  setReferenceVersion(label: string, project: Project): void {
    this.#layUnder(null, label, project);
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
      const kept = await projectStore.recall(id);
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
    const { base, project } = this;
    try {
      const found = await this.awaiting(this.pool.run('refocus', { project, lens: lens.id, criterion }).result);
      if (!found.ok) {
        // A distance that was typed before there is power stays what it is: that is no mistake.
        this.notice =
          found.reason === NO_FOCUS
            ? { tone: 'done', title: 'Nothing focuses the light yet: the distance keeps its typed value.' }
            : { tone: 'refused', title: `Refocus is not possible: ${found.reason}` };
        return;
      }
      if (this.base !== base || this.project !== project) return; // the lens changed meanwhile: the answer is for another one
      const { shift, before, after, edit } = found.value;
      this.commit([edit], 'Refocus');
      const [from, to] = [before, after].map((value) => (value * 1000).toFixed(3));
      const where = criterion === 'paraxial' ? 'at the paraxial image' : `about ${criterion}`;
      const moved = `${shift < 0 ? '−' : '+'}${Math.abs(shift).toFixed(4)} mm`;
      this.notice = {
        tone: 'done',
        title: `Refocused by ${moved}: RMS spot over the fields ${from} → ${to} µm, ${where}`,
      };
    } catch (error) {
      this.notice = { tone: 'refused', title: `Refocus failed: ${(error as Error).message}` };
    }
  }

  /** Writes what waits to be kept, at once. */
  flush(): Promise<void> {
    return this.keeper.flush();
  }

  /** What was said of the last gesture, with its numbers, is not true of the lens that follows. */
  #outdateNotice(): void {
    const { notice } = this;
    if (notice?.tone === 'done' && !notice.lines && !notice.action) this.notice = null;
  }

  /** Goes to another place of the history. One that came from elsewhere may hold steps that do not fit. */
  #walk(way: () => Tracked): void {
    this.finishPending();
    let next: Tracked;
    try {
      next = way();
    } catch {
      this.notice = {
        tone: 'refused',
        title: 'That step of the history does not fit the project. Nothing was changed.',
      };
      return;
    }
    if (next === this.#tracked || !this.#keepable(next, 'That step of the history')) return;
    this.#dropPreview();
    this.#made = null;
    this.#tracked = next;
    this.#outdateNotice();
    this.#broken = this.relations.now(next.project)?.broken ?? this.#broken;
    this.#show();
    this.keeper.changed();
  }

  #show(): void {
    this.revision++;
    this.live.show(this.#seen, this.revision);
  }
}

const NOTHING: Project = {
  format: 'ulvex-project',
  version: 3,
  name: '',
  notes: '',
  lenses: [],
  materials: [],
  requirements: [],
};
