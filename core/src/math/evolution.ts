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
 * Sampled values come from the same random numbers at each place, so that neighbours can be compared; but the search stops where the better half
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
  const normal = normalOf(new RandomStream(rules.seed ?? 1, 0));
  let [evaluations, steps] = [1, 0];
  const x = within(problem, Float64Array.from(start));
  const values = problem.values(x);
  let best: Candidate = {
    way: new Float64Array(n),
    place: x,
    values,
    errors: values && problem.errors(x),
    square: squareOf(problem, values),
  };
  const state = (reason?: StopReason) =>
    ({
      x: best.place,
      square: best.square,
      evaluations,
      steps,
      damping: 0,
      predicted: 0,
      ...(reason && { reason }),
    }) as PolishResult;
  if (!Number.isFinite(best.square)) return state('no_start');
  const cloud = new Cloud(problem, x, weightsOf(count));
  const squares: number[] = [best.square];
  for (;;) {
    const candidates = Array.from({ length: count }, (): Candidate => {
      const { way, place } = cloud.sample(normal);
      const there = problem.values(place);
      evaluations++;
      return { way, place, values: there, errors: there && problem.errors(place), square: squareOf(problem, there) };
    }).sort((a, b) => a.square - b.square);
    steps++;
    if (candidates[0].square < best.square) [best] = candidates;
    yield state();
    squares.push(best.square);
    if (best.square === 0) return state('gain');
    if (evaluations >= most) return state('evaluations');
    if (steps >= PATIENCE) {
      const gained = squares[steps - PATIENCE] - best.square;
      const end = settled(candidates.slice(0, count >> 1), best, gained, gain, problem.oneSided ?? []);
      if (end) return state(end);
    }
    cloud.adapt(candidates, steps);
    if (!(cloud.reach > SHORTEST)) return state('step');
  }
}

/** A place that was looked at. */
interface Candidate {
  /** The way there from the mean, in spreads and step lengths. */
  readonly way: Float64Array;
  readonly place: Float64Array;
  readonly values: Float64Array | null;
  readonly errors: Float64Array | null;
  readonly square: number;
}

/** The sum of squares that counts, of values whose negative part may be free; infinite without values. */
function squareOf({ oneSided = [] }: SampledSquares, values: Float64Array | null): number {
  if (!values) return Infinity;
  let sum = 0;
  for (const value of values) sum += value * value;
  for (const i of oneSided) if (values[i] < 0) sum -= values[i] * values[i];
  return Number.isFinite(sum) ? Math.max(0, sum) : Infinity;
}

/** Why the search is over, if it is; `half` is the better half of a generation, `gained` what some generations have brought. */
function settled(
  half: readonly Candidate[],
  best: Candidate,
  gained: number,
  gain: number,
  oneSided: readonly number[],
): StopReason | null {
  // Sampled values have converged once they differ by no more than their standard errors; exact ones once a step gains too little.
  const sampled = best.errors!.some((error) => error > 0);
  if (sampled && half.every(({ values }) => alike(values, best.values!, best.errors!, oneSided))) return 'noise';
  const even = half.at(-1)!.square - half[0].square <= gain * best.square;
  return gained <= gain * best.square && even ? 'gain' : null;
}

/** The normal distribution that candidates are drawn from, in the unknowns' own spreads. */
class Cloud {
  readonly #problem: SampledSquares;
  readonly #spread: Float64Array;
  readonly #weights: readonly number[];
  readonly #constants: ReturnType<typeof constantsOf>;
  readonly #pathStep: Float64Array;
  readonly #pathShape: Float64Array;
  #mean: Float64Array;
  #sigma = 0.5;
  #shape: Matrix;
  #axes: ReturnType<typeof axesOf>;

  constructor(problem: SampledSquares, start: Float64Array, weights: readonly number[]) {
    const { size: n } = problem;
    this.#problem = problem;
    this.#weights = weights;
    this.#constants = constantsOf(n, weights);
    this.#spread = Float64Array.from({ length: n }, (_, j) => problem.spread[j] || 1);
    this.#mean = start.map((value, j) => value / this.#spread[j]);
    this.#pathStep = new Float64Array(n);
    this.#pathShape = new Float64Array(n);
    this.#shape = Matrix.eye(n);
    this.#axes = axesOf(this.#shape);
  }

  /** The longest step that is likely, in spreads. */
  get reach(): number {
    return this.#sigma * Math.max(...this.#axes.lengths);
  }

  /** A place within the bounds, and the way that was gone to it. */
  sample(normal: () => number): { way: Float64Array; place: Float64Array } {
    const { size: n } = this.#problem;
    const { axes, lengths } = this.#axes;
    const z = Float64Array.from({ length: n }, normal);
    const place = this.#placed((j) => {
      let along = 0;
      for (let k = 0; k < n; k++) along += axes[j][k] * lengths[k] * z[k];
      return along;
    });
    return { place, way: place.map((value, j) => (value / this.#spread[j] - this.#mean[j]) / this.#sigma) };
  }

  /** A place by its way from the mean, which ends at a bound. */
  #placed(way: (j: number) => number): Float64Array {
    return within(
      this.#problem,
      this.#mean.map((value, j) => (value + this.#sigma * way(j)) * this.#spread[j]),
    );
  }

  /** Moves, stretches and shrinks it by a generation, best first; `steps` counts generations. */
  adapt(candidates: readonly Candidate[], steps: number): void {
    const { size: n } = this.#problem;
    const { sum: mass, keepMean, keepStep, damp, one, usual } = this.#constants;
    const step = new Float64Array(n);
    this.#weights.forEach((weight, k) => candidates[k].way.forEach((value, j) => (step[j] += weight * value)));
    this.#mean = this.#placed((j) => step[j]).map((value, j) => value / this.#spread[j]);
    const white = this.#whitened(step);
    const path = this.#pathStep;
    for (let j = 0; j < n; j++)
      path[j] = (1 - keepStep) * path[j] + Math.sqrt(keepStep * (2 - keepStep) * mass) * white[j];
    const length = Math.hypot(...path);
    const stalled = length / Math.sqrt(1 - (1 - keepStep) ** (2 * steps)) < (1.4 + 2 / (n + 1)) * usual ? 1 : 0;
    for (let j = 0; j < n; j++)
      this.#pathShape[j] =
        (1 - keepMean) * this.#pathShape[j] + stalled * Math.sqrt(keepMean * (2 - keepMean) * mass) * step[j];
    this.#reshape(candidates, (1 - stalled) * one * keepMean * (2 - keepMean));
    this.#sigma *= Math.exp(Math.min(1, (keepStep / damp) * (length / usual - 1)));
  }

  /** C^(−1/2) · step. */
  #whitened(step: Float64Array): Float64Array {
    const { axes, lengths } = this.#axes;
    const n = step.length;
    const white = new Float64Array(n);
    for (let k = 0; k < n; k++) {
      let along = 0;
      for (let j = 0; j < n; j++) along += axes[j][k] * step[j];
      for (let j = 0; j < n; j++) white[j] += (axes[j][k] * along) / lengths[k];
    }
    return white;
  }

  #reshape(candidates: readonly Candidate[], held: number): void {
    const { pull, one, many } = this.#constants;
    const n = this.#pathShape.length;
    const left = 1 - one - many + held;
    const next = Matrix.zeros(n, n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j <= i; j++) {
        let spread = 0;
        for (let k = 0; k < pull; k++) spread += this.#weights[k] * candidates[k].way[i] * candidates[k].way[j];
        const value = left * this.#shape.get(i, j) + one * this.#pathShape[i] * this.#pathShape[j] + many * spread;
        next.set(i, j, value).set(j, i, value);
      }
    this.#shape = next;
    this.#axes = axesOf(next);
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
