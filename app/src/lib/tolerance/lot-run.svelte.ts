import { keeps, yieldInterval, type DesignStand, type LotTrial } from '@ulvex/core/tolerance';
import { Run, type RunState } from '$lib/compute/run.svelte.ts';
import type { Desk } from '$lib/desk/desk.svelte.ts';
import { keepLot, keptLot } from './kept-lot.ts';
import { madeAlike, sameTrials, studyOf, type RoomStudy } from './study-of.ts';

/** Trials of the first job of a worker, and how long a later one may take, ms. */
const FIRST = 4;
const SLICE = 1500;
const UNKNOWN: DesignStand = { values: [], units: [] };
/** How often a lot at work is kept, ms. */
const KEEP_EVERY = 3000;
/** How often a large lot is shown while it is made, ms: its statistics are of all its trials. */
const SHOW_EVERY = 300;
const LARGE = 1000;
/** Trials that a lot may have. */
export const MOST_TRIALS = 10_000;

/**
 * A lot made at random. Its parts are trials: each depends on its number and the seed only, so workers make them in any order, and a lot
 * is made larger by making the trials that it lacks.
 */
export class LotRun extends Run {
  readonly #desk: Desk;
  #from = 0;
  #keptAt = 0;
  #shownAt = 0;
  // eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing renders from what waits for those before it
  #early = new Map<number, LotTrial>();
  /** Trials from 0 on, without gaps. */
  trials = $state.raw<readonly LotTrial[]>([]);
  /** The design, compensated, in the order of what is watched. */
  design = $state.raw<DesignStand>(UNKNOWN);
  study = $state.raw<RoomStudy | null>(null);
  seed = $state.raw(1);
  /** The run stops when the 95 % interval of the yield is this narrow; null for at its last trial only. */
  #within: number | null = null;

  constructor(desk: Desk) {
    super(desk.runs, { title: 'Lot', room: '/tolerance' });
    this.#desk = desk;
  }

  /** Takes up the lot that the tab kept of the open project, and goes on with it if it was at work. */
  takeUp(): void {
    const kept = this.state === 'none' ? keptLot(this.#desk.projectId) : null;
    if (!kept || !madeAlike(kept.study.project, this.#desk.base)) return;
    [this.study, this.seed, this.of] = [kept.study, kept.seed, Math.min(MOST_TRIALS, kept.of)];
    [this.trials, this.design, this.done] = [kept.trials, kept.design, kept.trials.length];
    this.end('paused');
    if (kept.running && this.isOf(studyOf(this.#desk.base))) this.resume();
    else this.end('done');
  }

  #keep(running: boolean): void {
    const { study, seed, of, design, trials } = this;
    if (study) keepLot({ project: this.#desk.projectId, study, seed, of, running, design, trials });
    this.#keptAt = performance.now();
  }

  /** Whether its trials are of the design, the limits and the requirements at hand. */
  isOf(study: RoomStudy): boolean {
    return this.study !== null && sameTrials(this.study, study);
  }

  /**
   * Makes a lot; trials that are there already stay where they are of the same.
   *
   * @param within - ends when the yield is known within so much, to either side; null for at the last trial
   */
  start(count: number, seed: number, within: number | null): void {
    let study = studyOf(this.#desk.base);
    if (!this.isOf(study) || seed !== this.seed) [this.trials, this.design] = [[], UNKNOWN];
    else study = this.study!; // what was watched then may be more: the trials that are added have it, too
    [this.study, this.seed, this.#within] = [study, seed, within];
    this.of = Math.min(MOST_TRIALS, Math.max(count, this.trials.length));
    this.#go();
  }

  /** Goes on where it was held. */
  resume(): void {
    if (this.state === 'paused') this.#go();
  }

  #go(): void {
    this.begin();
    this.#early.clear();
    this.done = this.#from = this.trials.length;
    if (this.done === this.of) return this.end('done');
    this.#keep(true);
    void this.#make(this.study!);
  }

  /** Has trials made until none is left, by jobs that take about as long as one may. */
  async #make(study: RoomStudy): Promise<void> {
    let size = FIRST;
    const next = () => {
      if (this.#from >= this.of) return null;
      const from = this.#from;
      this.#from = Math.min(this.of, from + size);
      return { from, to: this.#from };
    };
    const whole = await this.handOut(next, async ({ from, to }) => {
      const begun = performance.now();
      const input = { ...study, seed: this.seed, from, to };
      const end = await this.work('makeTrials', input, (trials) => this.#take(trials));
      if (!end) return false;
      if (!end.ok) {
        this.end('failed', end.reason);
        return false;
      }
      this.design = end.value;
      const each = (performance.now() - begun) / (to - from);
      size = Math.max(1, Math.min(4 * (to - from), Math.round(SLICE / each)));
      return true;
    });
    if (whole && this.active && this.done === this.of) this.end('done');
  }

  #take(trials: readonly LotTrial[]): void {
    for (const trial of trials) this.#early.set(trial.trial, trial);
    const now = performance.now();
    const last = this.done + this.#early.size === this.of;
    if (this.done > LARGE && !last && now - this.#shownAt < SHOW_EVERY) return;
    this.#shownAt = now;
    const made: LotTrial[] = [];
    for (let next = this.#early.get(this.done); next; next = this.#early.get(this.done)) {
      this.#early.delete(this.done++);
      made.push(next);
    }
    if (made.length === 0) return;
    this.trials = [...this.trials, ...made];
    if (performance.now() - this.#keptAt > KEEP_EVERY) this.#keep(true);
    if (this.#within !== null && this.trials.length >= 30 && this.#known(this.#within)) this.end('done');
  }

  /** Whether the yield is known within so much. */
  #known(within: number): boolean {
    const { watched } = this.study!;
    const passed = this.trials.filter(({ values }) => values.every((value, k) => keeps(value, watched[k])));
    const [low, high] = yieldInterval(passed.length, this.trials.length);
    return high - low <= 2 * within;
  }

  protected override end(state: RunState, reason = ''): void {
    super.end(state, reason);
    if (state === 'done') this.of = this.done;
    this.#keep(false);
  }
}
