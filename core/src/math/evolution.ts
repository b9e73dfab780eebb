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
  /** Standard error of the sum of squares at a place; 0 where values are exact. Asked right after `values` at the same place. */
  noise(x: Float64Array): number;
}

export interface EvolutionRules extends PolishRules {
  /** Candidates of a generation; by the number of unknowns when left out. */
  readonly candidates?: number;
  readonly seed?: number;
}

/** Gains over so many generations are looked at: those of a search are not even. */
const PATIENCE = 10;
/** Steps that are shorter than this share of the first ones change nothing. */
const SHORTEST = 1e-9;

/**
 * Least sum of squares by values alone: the evolution strategy with adapted covariance (N. Hansen, “The CMA evolution strategy: a tutorial”,
 * arXiv:1604.00772, 2016), with its usual constants. Candidates beyond bounds are looked at on them, and count the worse the further they were out.
 *
 * Sampled values come from the same random numbers at each place, so that neighbours can be told apart; but the search stops where what it gains is
 * below the standard error of the sum itself, because that sample's minimum is then as good as any. Yields after each generation that was better.
 */
export function* evolve(problem: SampledSquares, start: ArrayLike<number>, rules: EvolutionRules = {}): Generator<PolishState, PolishResult, void> {
  const { size: n } = problem;
  const most = rules.evaluations ?? 200 * (n + 2);
  const gain = rules.gain ?? 1e-9;
  const count = rules.candidates ?? 4 + Math.floor(3 * Math.log(n));
  const weights = weightsOf(count);
  const normal = normalOf(new RandomStream(rules.seed ?? 1, 0));
  const oneSided = problem.oneSided ?? [];
  const squareAt = (x: Float64Array) => {
    evaluations++;
    const values = problem.values(x);
    if (!values) return Infinity;
    let sum = 0;
    for (const value of values) sum += value * value;
    for (const i of oneSided) if (values[i] < 0) sum -= values[i] * values[i];
    return Number.isFinite(sum) ? Math.max(0, sum) : Infinity;
  };
  let [evaluations, steps] = [0, 0];
  let x: Float64Array = within(problem, Float64Array.from(start));
  let square = squareAt(x);
  let noise = Number.isFinite(square) ? problem.noise(x) : 0;
  const state = (reason?: StopReason) => ({ x, square, evaluations, steps, damping: 0, predicted: 0, ...(reason && { reason }) }) as PolishResult;
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
      const y = axes.map((row) => row.reduce((sum, value, k) => sum + value * lengths[k] * z[k], 0));
      const wanted = mean.map((value, j) => (value + sigma * y[j]) * spread[j]);
      const place = within(problem, wanted);
      let out = 0;
      for (let j = 0; j < n; j++) out += ((wanted[j] - place[j]) / (sigma * spread[j])) ** 2;
      const found = squareAt(place);
      return { y, place, found, rank: found + out * Math.max(square, Number.MIN_VALUE) };
    }).sort((a, b) => a.rank - b.rank);
    steps++;
    const best = candidates.reduce((a, b) => (b.found < a.found ? b : a));
    if (best.found < square) {
      [x, square] = [best.place, best.found];
      problem.values(x);
      noise = problem.noise(x);
      yield state();
    }
    way.push(square);
    if (square === 0) return state('gain');
    if (evaluations >= most) return state('evaluations');
    if (steps >= PATIENCE) {
      const gained = way[steps - PATIENCE] - square;
      // What the candidates of a generation differ by says what could still be gained.
      const differ = candidates[count >> 1].found - candidates[0].found;
      if (gained <= noise && differ <= noise && noise > 0) return state('noise');
      if (gained <= gain * square && differ <= gain * square) return state('gain');
    }

    const step = new Float64Array(n);
    weights.forEach((weight, k) => candidates[k].y.forEach((value, j) => (step[j] += weight * value)));
    mean = within(problem, mean.map((value, j) => (value + sigma * step[j]) * spread[j])).map((value, j) => value / spread[j]);
    // C^(−1/2) · step.
    const white = new Float64Array(n);
    for (let k = 0; k < n; k++) {
      let along = 0;
      for (let j = 0; j < n; j++) along += axes[j][k] * step[j];
      for (let j = 0; j < n; j++) white[j] += (axes[j][k] * along) / lengths[k];
    }
    for (let j = 0; j < n; j++) pathStep[j] = (1 - keepStep) * pathStep[j] + Math.sqrt(keepStep * (2 - keepStep) * mass) * white[j];
    const length = Math.hypot(...pathStep);
    const stalled = length / Math.sqrt(1 - (1 - keepStep) ** (2 * steps)) < (1.4 + 2 / (n + 1)) * usual ? 1 : 0;
    for (let j = 0; j < n; j++) pathShape[j] = (1 - keepMean) * pathShape[j] + stalled * Math.sqrt(keepMean * (2 - keepMean) * mass) * step[j];
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
} // prettier-ignore

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
