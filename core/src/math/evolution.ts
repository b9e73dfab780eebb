import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import {
  within,
  type LeastSquares,
  type PolishResult,
  type PolishRules,
  type PolishState,
  type StopReason,
} from './damped-least-squares.ts';
import { RandomStream } from './random.ts';

/** Functions that are sampled, or have no derivatives: what a search by values alone needs besides. */
export interface SampledSquares extends LeastSquares {
  /** A first step for each unknown: about as far as the minimum may be. */
  readonly spread: ArrayLike<number>;
  /** Standard error of each value at a place; 0 where it is exact. Asked right after `values` at the same place. */
  errors(x: Float64Array): Float64Array;
}

export interface EvolutionRules extends PolishRules {
  /** Candidates of a generation; by the number of unknowns when left out. */
  readonly candidates?: number;
  readonly seed?: number;
}

/** Gains over so many generations are looked at: those of a search are not even. */
const PATIENCE = 10;
/** What exact values among sampled ones may still differ by. */
const SETTLED = 1e-3;
/** Steps that are shorter than this share of the first ones change nothing. */
const SHORTEST = 1e-9;

/**
 * Least sum of squares by values alone: the evolution strategy with adapted covariance (N. Hansen, “The CMA evolution strategy: a tutorial”,
 * arXiv:1604.00772, 2016), with its usual constants. Ways beyond a bound end on it.
 *
 * Sampled values come from the same random numbers at each place, so that neighbours can be told apart; but the search stops where the better half
 * of a generation differs in no value by more than its standard error: the minimum of that sample is then as good as
 * any. Yields after each generation, whether it was better or not, so that it can be stopped.
 */
export function* evolve(
  problem: SampledSquares,
  start: ArrayLike<number>,
  rules: EvolutionRules = {},
): Generator<PolishState, PolishResult, void> {
  const { size: n } = problem;
  const most = rules.evaluations ?? 1000 * (n + 2);
  const gain = rules.gain ?? 1e-9;
  const count = rules.candidates ?? 4 + Math.floor(3 * Math.log(n));
  const weights = weightsOf(count);
  const normal = normalOf(new RandomStream(rules.seed ?? 1, 0));
  const oneSided = problem.oneSided ?? [];
  const squareOf = (values: Float64Array | null) => {
    if (!values) return Infinity;
    let sum = 0;
    for (const value of values) sum += value * value;
    for (const i of oneSided) if (values[i] < 0) sum -= values[i] * values[i];
    return Number.isFinite(sum) ? Math.max(0, sum) : Infinity;
  };
  let [evaluations, steps] = [0, 0];
  let x: Float64Array = within(problem, Float64Array.from(start));
  let values = problem.values(x);
  let square = squareOf(values);
  evaluations++;
  let errors = values ? problem.errors(x) : new Float64Array(0);
  const state = (reason?: StopReason) =>
    ({ x, square, evaluations, steps, damping: 0, predicted: 0, ...(reason && { reason }) }) as PolishResult;
  if (!Number.isFinite(square)) return state('no_start');

  // Everything is counted in the unknowns' own spreads.
  const spread = Float64Array.from({ length: n }, (_, j) => problem.spread[j] || 1);
  const { sum: mass, pull, keepMean, keepStep, damp, one, many, usual } = constantsOf(n, weights);
  let mean: Float64Array = x.map((value, j) => value / spread[j]);
  let sigma = 0.5;
  const [pathStep, pathShape] = [new Float64Array(n), new Float64Array(n)];
  let shape = Matrix.eye(n);
  const way: number[] = [square];
  for (;;) {
    const { axes, lengths } = axesOf(shape);
    const candidates = Array.from({ length: count }, () => {
      const z = Float64Array.from({ length: n }, normal);
      const place = within(
        problem,
        mean.map((value, j) => {
          let along = 0;
          for (let k = 0; k < n; k++) along += axes[j][k] * lengths[k] * z[k];
          return (value + sigma * along) * spread[j];
        }),
      );
      // The way that was gone, which ends at a bound.
      const y = place.map((value, j) => (value / spread[j] - mean[j]) / sigma);
      const there = problem.values(place);
      evaluations++;
      return { y, place, there, errors: there && problem.errors(place), found: squareOf(there) };
    }).sort((a, b) => a.found - b.found);
    steps++;
    const [best] = candidates;
    if (best.found < square) {
      [x, square, values] = [best.place, best.found, best.there];
      errors = best.errors!;
    }
    yield state();
    way.push(square);
    if (square === 0) return state('gain');
    if (evaluations >= most) return state('evaluations');
    if (steps >= PATIENCE) {
      const gained = way[steps - PATIENCE] - square;
      const half = candidates.slice(0, count >> 1);
      // What exact values gain is counted; sampled ones are as near as they can be told apart.
      if (errors.some((error) => error > 0) && half.every(({ there }) => alike(there, values!, errors, oneSided)))
        return state('noise');
      if (gained <= gain * square && half.at(-1)!.found - half[0].found <= gain * square) return state('gain');
    }

    const step = new Float64Array(n);
    weights.forEach((weight, k) => candidates[k].y.forEach((value, j) => (step[j] += weight * value)));
    mean = within(
      problem,
      mean.map((value, j) => (value + sigma * step[j]) * spread[j]),
    ).map((value, j) => value / spread[j]);
    // C^(−1/2) · step.
    const white = new Float64Array(n);
    for (let k = 0; k < n; k++) {
      let along = 0;
      for (let j = 0; j < n; j++) along += axes[j][k] * step[j];
      for (let j = 0; j < n; j++) white[j] += (axes[j][k] * along) / lengths[k];
    }
    for (let j = 0; j < n; j++)
      pathStep[j] = (1 - keepStep) * pathStep[j] + Math.sqrt(keepStep * (2 - keepStep) * mass) * white[j];
    const length = Math.hypot(...pathStep);
    const stalled = length / Math.sqrt(1 - (1 - keepStep) ** (2 * steps)) < (1.4 + 2 / (n + 1)) * usual ? 1 : 0;
    for (let j = 0; j < n; j++)
      pathShape[j] = (1 - keepMean) * pathShape[j] + stalled * Math.sqrt(keepMean * (2 - keepMean) * mass) * step[j];
    const left = 1 - one - many + (1 - stalled) * one * keepMean * (2 - keepMean);
    const next = Matrix.zeros(n, n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j <= i; j++) {
        let spreadOf = 0;
        for (let k = 0; k < pull; k++) spreadOf += weights[k] * candidates[k].y[i] * candidates[k].y[j];
        const value = left * shape.get(i, j) + one * pathShape[i] * pathShape[j] + many * spreadOf;
        next.set(i, j, value).set(j, i, value);
      }
    shape = next;
    sigma *= Math.exp(Math.min(1, (keepStep / damp) * (length / usual - 1)));
    if (!(sigma * Math.max(...lengths) > SHORTEST)) return state('step');
  }
}

/** Whether two places differ in no value that counts by more than its error. */
function alike(
  there: Float64Array | null,
  values: Float64Array,
  errors: Float64Array,
  oneSided: readonly number[],
): boolean {
  if (!there) return false;
  const slack = new Set(oneSided.filter((i) => there[i] < 0 && values[i] < 0));
  return there.every((value, i) => slack.has(i) || Math.abs(value - values[i]) <= Math.max(errors[i], SETTLED));
}

/** Weights of the better half, which sum to 1. */
function weightsOf(count: number): readonly number[] {
  const raw = Array.from({ length: count >> 1 }, (_, k) => Math.log((count + 1) / 2) - Math.log(k + 1));
  const sum = raw.reduce((all, value) => all + value, 0);
  return raw.map((value) => value / sum);
}

/** The usual constants of the strategy (Hansen, table 1); `usual` is the expected length of a normal vector. */
function constantsOf(n: number, weights: readonly number[]) {
  const sum = 1 / weights.reduce((all, value) => all + value * value, 0);
  const keepMean = (4 + sum / n) / (n + 4 + (2 * sum) / n);
  const keepStep = (sum + 2) / (n + sum + 5);
  const one = 2 / ((n + 1.3) ** 2 + sum);
  const many = Math.min(1 - one, (2 * (sum - 2 + 1 / sum)) / ((n + 2) ** 2 + sum));
  const damp = 1 + 2 * Math.max(0, Math.sqrt((sum - 1) / (n + 1)) - 1) + keepStep;
  const usual = Math.sqrt(n) * (1 - 1 / (4 * n) + 1 / (21 * n * n));
  return { sum, pull: weights.length, keepMean, keepStep, damp, one, many, usual };
}

/** Axes of an ellipsoid, as columns of `axes`, and the root of its values. */
function axesOf(shape: Matrix): { axes: number[][]; lengths: Float64Array } {
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(shape, {
    assumeSymmetric: true,
  });
  return {
    axes: eigenvectorMatrix.to2DArray(),
    lengths: Float64Array.from(realEigenvalues, (value) => Math.sqrt(Math.max(value, 1e-20))),
  };
}

/** Normal numbers by pairs (G. E. P. Box, M. E. Muller, Ann. Math. Stat. 29, 610, 1958). */
function normalOf(stream: RandomStream): () => number {
  let kept: number | null = null;
  return () => {
    if (kept !== null) {
      const value = kept;
      kept = null;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(stream.uniform()));
    const angle = 2 * Math.PI * stream.uniform();
    kept = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
}
