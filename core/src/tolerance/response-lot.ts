import { FORM_BLOCK } from '../compute/quadratic-forms.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { RandomStream } from '../math/random.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { ResponseValues, type Response } from './response.ts';

/** Values of many trials by a response, one row for each watched measure; NaN where the response does not know it. */
export interface ResponseLot {
  readonly trials: number;
  readonly values: readonly Float64Array[];
}

/**
 * Trials of a lot by a response, nothing traced: those that `makeTrials` makes for the same tolerances and seed, trial by trial.
 *
 * Fails where a tolerance cannot be drawn, or has a range that the response does not know of.
 *
 * @param tolerances - of the lot: their limits and distributions may be others than those the response was found with
 */
export function lotByResponse(
  response: Response,
  tolerances: readonly Tolerance[],
  seed: number,
  trials: number,
): Outcome<ResponseLot> {
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
  for (let from = 0; from < trials; from += FORM_BLOCK) {
    const count = Math.min(FORM_BLOCK, trials - from);
    for (let b = 0; b < count; b++) {
      const stream = new RandomStream(seed, from + b);
      for (let i = 0; i < place.length; i++) {
        const by = drawn.value[i].distribution.quantile(stream.uniform());
        if (place[i] >= 0) departures[place[i]][b] = by;
      }
    }
    found.write(count, values, from);
  }
  return success({ trials, values });
}
