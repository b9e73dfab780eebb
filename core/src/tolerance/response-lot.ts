import { FORM_BLOCK } from '../compute/quadratic-forms.ts';
import { yieldInterval, type ValueLimits } from '../math/capability.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { atOnce } from '../math/steps.ts';
import { RandomStream } from '../math/random.ts';
import { DepartureDraws, drawnTolerances } from '../tolerances/drawn.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { keeps, summaryOf, type LotSummary } from './lot-summary.ts';
import { ResponseValues, type Response } from './response.ts';

/** Trials between two chances to give up. */
const YIELD_EVERY = 100 * FORM_BLOCK;

/** Values of many trials by a response, one row for each watched measure; NaN where the response does not know it. */
export interface ResponseLot {
  readonly trials: number;
  readonly values: readonly Float64Array[];
}

/** `responseTrials` in one go. */
export function lotByResponse(
  response: Response,
  tolerances: readonly Tolerance[],
  seed: number,
  trials: number,
): Outcome<ResponseLot> {
  return atOnce(responseTrials(response, tolerances, seed, trials));
}

/**
 * Trials of a lot by a response, nothing traced: those that `makeTrials` makes for the same tolerances and seed, trial by trial. Yields now
 * and then.
 *
 * Fails where a tolerance cannot be drawn, or has a range that the response does not know of.
 *
 * @param tolerances - of the lot: their limits and distributions may be others than those the response was found with
 */
export function* responseTrials(
  response: Response,
  tolerances: readonly Tolerance[],
  seed: number,
  trials: number,
): Generator<void, Outcome<ResponseLot>, void> {
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  const place = drawn.value.map(({ tolerance }) => response.tolerances.findIndex(({ id }) => id === tolerance.id));
  const missing = drawn.value.findIndex(({ tolerance: { lower, upper } }, i) => place[i] < 0 && upper !== lower);
  if (missing >= 0) {
    const { id } = drawn.value[missing].tolerance;
    return failure(`The response does not know the tolerance ${id}: find it again.`, id);
  }
  const found = new ResponseValues(response);
  const values = response.compositions.map(() => new Float64Array(trials));
  const { departures } = found;
  const draws = new DepartureDraws(drawn.value);
  for (let from = 0; from < trials; from += FORM_BLOCK) {
    const count = Math.min(FORM_BLOCK, trials - from);
    for (let b = 0; b < count; b++) {
      const stream = new RandomStream(seed, from + b);
      draws.draw(stream, (i, by) => {
        if (place[i] >= 0) departures[place[i]][b] = by;
      });
    }
    found.write(count, values, from);
    if (from % YIELD_EVERY === 0) yield;
  }
  return success({ trials, values });
}

/** What a lot by a response comes to. */
export interface ResponseLotSummary {
  readonly trials: number;
  /** Trials that keep all limits of the measures that are known. */
  readonly passed: number;
  readonly yieldRange: readonly [number, number];
  /** By watched measure: its summary, and values at equal steps of their share, rising; null where it is not known. */
  readonly measures: readonly ({ readonly summary: LotSummary; readonly steps: Float64Array } | null)[];
}

/** Values by which the distribution of a measure is drawn. */
const STEPS = 2000;

/** Sums up a lot, its measures held against limits. */
export function sumUp({ trials, values }: ResponseLot, limits: readonly ValueLimits[]): ResponseLotSummary {
  const known = values.map((column) => !Number.isNaN(column[0]));
  let passed = 0;
  for (let trial = 0; trial < trials; trial++)
    if (values.every((column, k) => !known[k] || keeps(column[trial], limits[k]))) passed++;
  return {
    trials,
    passed,
    yieldRange: yieldInterval(passed, trials),
    measures: values.map((column, k) => {
      const summary = known[k] ? summaryOf([...column], limits[k]) : null;
      return summary && { summary, steps: stepsOf(column) };
    }),
  };
}

function stepsOf(values: Float64Array): Float64Array {
  const sorted = values.toSorted();
  const count = Math.min(STEPS, sorted.length);
  return Float64Array.from({ length: count }, (_, i) => sorted[Math.floor(((i + 0.5) * sorted.length) / count)]);
}
