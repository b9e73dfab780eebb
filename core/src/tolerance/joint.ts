import type { Moments } from '../math/distribution.ts';
import { fitColumns } from '../math/linear-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import { RandomStream } from '../math/random.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import { tryOut, valueOf, type Watched } from './one-by-one.ts';

/** How a joint study is sampled. */
export interface JointChoice {
  readonly seed: number;
  /** The fit error that is good enough, as a share of the standard deviation of a measure. */
  readonly wanted: number;
  /** Most trials. */
  readonly most: number;
}

/** What all tolerances together do to one measure. */
export interface JointResponse {
  /** In departures from the design, in the order of the tolerances. */
  readonly response: QuadraticResponse;
  /** RMS difference of trials that the fit has not seen, over their standard deviation. */
  readonly error: number;
  readonly verdict: 'good' | 'doubtful' | 'unusable';
}

export interface Joint {
  readonly tolerances: readonly Tolerance[];
  /** Moments of the distributions, for `responseMoments`. */
  readonly moments: readonly Moments[];
  /** By watched measure; null where too few trials have a value. */
  readonly responses: readonly (JointResponse | null)[];
  readonly trials: number;
  /** Trials without all values. */
  readonly lost: number;
}

/** Errors up to which a fit is good, and up to which it is doubtful. */
const [GOOD, DOUBTFUL] = [0.05, 0.2];
/** Trials for each number of the fit at first, and how many times as many in each further round. */
const [FIRST, GROWTH] = [1.3, 1.4];
/** One trial in so many is not fitted: the error is found there. */
const HELD = 6;

interface Axis {
  readonly middle: number;
  readonly half: number;
}

/**
 * The full quadratic response of each measure, products of tolerances included, from trials spread over all ranges at once. Trials are added until
 * the fit of every measure is as good as wanted. Yields the share of the trials that are done, of those planned so far.
 *
 * Fails for tolerances that cannot be drawn, where the design cannot be compensated, or where the most trials are fewer than the fit has numbers.
 */
export function* joint(
  project: Project,
  tolerances: readonly Tolerance[],
  compensators: readonly Compensator[],
  watched: readonly Watched[],
  { seed, wanted, most }: JointChoice,
): Generator<number, Outcome<Joint>, void> {
  const drawn = drawnTolerances(tolerances.filter(({ lower, upper }) => upper !== lower));
  if (!drawn.ok) return drawn;
  const counting = drawn.value.map(({ tolerance }) => tolerance);
  const moments = drawn.value.map(({ distribution }) => distribution.moments);
  const axes = counting.map(({ lower, upper }): Axis => ({ middle: (lower + upper) / 2, half: (upper - lower) / 2 }));
  const design = tryOut(project, [], compensators, watched);
  if (!design.ok) return design;
  const numbers = termCount(axes.length);
  let planned = Math.ceil((FIRST * numbers * HELD) / (HELD - 1)) + HELD;
  if (planned > most)
    return failure(`${counting.length} tolerances need at least ${planned} trials, ${most} are allowed.`);
  const places: number[][] = [];
  const values: (readonly (number | null)[])[] = [];
  for (;;) {
    for (; places.length < planned;) {
      const stream = new RandomStream(seed, places.length);
      const place = axes.map(() => 2 * stream.uniform() - 1);
      const departures = counting.map((of, i) => ({ of, by: axes[i].middle + axes[i].half * place[i] }));
      const trial = tryOut(project, departures, compensators, watched, design.value.evaluation);
      places.push(place);
      values.push(watched.map((_, k) => known(valueOf(trial, k, design.value))));
      yield places.length / planned;
    }
    const responses = watched.map((_, k) =>
      fitted(
        places,
        values.map((row) => row[k]),
        axes,
      ),
    );
    const worst = Math.max(0, ...responses.map((one) => one?.error ?? 0));
    const next = Math.ceil(GROWTH * planned);
    if (worst <= wanted || next > most) {
      const lost = values.filter((row) => row.includes(null)).length;
      return success({ tolerances: counting, moments, responses, trials: places.length, lost });
    }
    planned = next;
  }
}

const known = (value: Outcome<number>) => (value.ok ? value.value : null);
const termCount = (n: number) => 1 + n + (n * (n + 1)) / 2;

/** 1, each u, and each product of two, at a place of the cube. */
function terms(place: readonly number[]): Float64Array {
  const row = new Float64Array(termCount(place.length));
  row[0] = 1;
  let at = 1;
  for (const u of place) row[at++] = u;
  for (let i = 0; i < place.length; i++) for (let j = 0; j <= i; j++) row[at++] = place[i] * place[j];
  return row;
}

function fitted(
  places: readonly (readonly number[])[],
  values: readonly (number | null)[],
  axes: readonly Axis[],
): JointResponse | null {
  const have = places.flatMap((place, i) => (values[i] === null ? [] : [{ row: terms(place), y: values[i], i }]));
  const learnt = have.filter(({ i }) => i % HELD !== 0);
  const held = have.filter(({ i }) => i % HELD === 0);
  const found = fitColumns(
    learnt.map(({ row }) => row),
    [learnt.map(({ y }) => y)],
  )?.[0];
  if (!found || held.length < 2) return null;
  const at = (row: Float64Array) => row.reduce((sum, term, k) => sum + term * found[k], 0);
  const mean = held.reduce((sum, { y }) => sum + y, 0) / held.length;
  const spread = held.reduce((sum, { y }) => sum + (y - mean) ** 2, 0);
  const misses = held.reduce((sum, { row, y }) => sum + (y - at(row)) ** 2, 0);
  // What never changes is fitted well.
  const error = Math.sqrt(misses) <= 1e-12 * Math.abs(mean) * Math.sqrt(held.length) ? 0 : Math.sqrt(misses / spread);
  const verdict = error <= GOOD ? 'good' : error <= DOUBTFUL ? 'doubtful' : 'unusable';
  return { response: unscaled(found, axes), error, verdict };
}

/** The response in departures, x = middle + half·u. */
function unscaled(found: Float64Array, axes: readonly Axis[]): QuadraticResponse {
  const n = axes.length;
  const matrix = axes.map(() => new Array<number>(n).fill(0));
  let at = 1 + n;
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      const q = found[at++] / (axes[i].half * axes[j].half);
      matrix[i][j] = matrix[j][i] = i === j ? q : q / 2;
    }
  const linear = axes.map(({ half }, i) => found[1 + i] / half);
  // y = c + g·(x − m) + (x − m)ᵀQ(x − m).
  const turned = matrix.map((row) => row.reduce((sum, q, j) => sum + q * axes[j].middle, 0));
  const value = axes.reduce((sum, { middle }, i) => sum - middle * (linear[i] - turned[i]), found[0]);
  return { value, slopes: linear.map((g, i) => g - 2 * turned[i]), curvatures: matrix };
}
