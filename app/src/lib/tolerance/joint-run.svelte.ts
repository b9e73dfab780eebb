import { firstTrials, nextTrials, worstError, type Joint, type JointTrial, type Response } from '@ulvex/core/tolerance';
import { Run } from '$lib/compute/run.svelte.ts';
import type { Desk } from '$lib/desk/desk.svelte.ts';
import { sameTrials, studyOf, type RoomStudy } from './study-of.ts';

/** Trials of one job. */
const PART = 8;
/** The fit error that is good enough, and the most trials for it. */
const WANTED = 0.05;
const MOST = 2000;
const SEED = 1;

/** A fit of all tolerances together: trials spread over all ranges, more of them until it is good. Its parts are trials. */
export class JointRun extends Run {
  readonly #desk: Desk;
  #trials: JointTrial[] = [];
  joint = $state.raw<Joint | null>(null);
  study = $state.raw<RoomStudy | null>(null);

  constructor(desk: Desk) {
    super(desk.runs, { title: 'Fit of all tolerances', room: '/tolerance' });
    this.#desk = desk;
  }

  /** Whether its fit is of the design, the tolerances and the requirements at hand. */
  isOf(study: RoomStudy): boolean {
    return this.study !== null && sameTrials(this.study, study);
  }

  /** @param response - by derivatives, for the study at hand */
  start(response: Response): void {
    this.study = studyOf(this.#desk.base);
    this.#trials = [];
    this.joint = null;
    this.begin();
    [this.done, this.of] = [0, firstTrials(response.tolerances.length)];
    void this.#fit(this.study, response);
  }

  async #fit(study: RoomStudy, start: Response): Promise<void> {
    for (;;) {
      let from = this.#trials.length;
      const next = () => {
        if (from >= this.of) return null;
        const part = { from, to: Math.min(this.of, from + PART) };
        from = part.to;
        return part;
      };
      const whole = await this.handOut(next, async (part) => {
        const end = await this.work('jointTrials', { study, start, seed: SEED, ...part }, (trial) => this.#take(trial));
        if (end && !end.ok) this.end('failed', end.reason);
        return end?.ok ?? false;
      });
      if (!whole) return;
      const trials = this.#trials.toSorted((a, b) => a.trial - b.trial);
      const joint = await this.work('fitJoint', { start, seed: SEED, trials });
      if (!joint) return;
      this.joint = joint;
      const more = nextTrials(start.tolerances.length, this.of);
      if (worstError(joint) <= WANTED || more > MOST) return this.end('done');
      this.of = more;
    }
  }

  #take(trial: JointTrial): void {
    this.#trials.push(trial);
    this.done++;
  }
}
