import type { Tolerance } from '@ulvex/core';
import type { Response, ResponseLotSummary, WatchedRequirement } from '@ulvex/core/tolerance';
import type { Desk } from '$lib/desk/desk.svelte.ts';

/** Trials of the first answer, which comes at once, and of the one that stays. */
const [QUICK, WHOLE] = [5_000, 100_000];

/** A lot by a response. It follows what it is of: a quick one comes first, then one of 100,000 trials unless only the quick one is wanted. */
export class ResponseLot {
  readonly #desk: Desk;
  #turn = 0;
  #cancel: () => void = () => {};
  summary = $state.raw<ResponseLotSummary | null>(null);
  /** What was watched, in the order of the summary. */
  watched = $state.raw<readonly WatchedRequirement[]>([]);
  reason = $state.raw('');

  readonly #quickOnly: boolean;

  constructor(desk: Desk, { quickOnly = false } = {}) {
    this.#desk = desk;
    this.#quickOnly = quickOnly;
  }

  /** Asks for a lot in place of the one before; null for none. */
  ask(response: Response | null, tolerances: readonly Tolerance[], watched: readonly WatchedRequirement[]): void {
    const turn = ++this.#turn;
    this.#cancel();
    if (!response) {
      [this.summary, this.watched, this.reason] = [null, [], ''];
      return;
    }
    const make = (trials: number) => this.#make(response, tolerances, watched, trials, turn);
    void this.#desk.awaiting(make(QUICK)).then((made) => made && !this.#quickOnly && make(WHOLE));
  }

  /** Has a lot made; false if another was asked for meanwhile, or there is none. */
  async #make(
    response: Response,
    tolerances: readonly Tolerance[],
    watched: readonly WatchedRequirement[],
    trials: number,
    turn: number,
  ): Promise<boolean> {
    const input = { response, tolerances, limits: watched, seed: 1, trials };
    const job = this.#desk.pool.run('responseLot', input);
    this.#cancel = () => job.cancel();
    const found = await job.result.catch(() => null);
    if (!found || turn !== this.#turn) return false;
    if (found.ok) [this.summary, this.watched, this.reason] = [found.value, watched, ''];
    else [this.summary, this.reason] = [null, found.reason];
    return found.ok;
  }
}
