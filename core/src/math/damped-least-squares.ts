import { dampedStep, triangleOf, type Triangle } from './triangle.ts';

/** Functions whose squares are to be least together. */
export interface LeastSquares {
  /** Number of unknowns. */
  readonly size: number;
  /** All values; null where they have none. One-sided ones may be negative: only what lies above 0 counts. */
  values(x: Float64Array): Float64Array | null;
  /** Columns of derivatives, one per unknown, each as long as the values. Asked right after `values` at the same place. */
  columns(x: Float64Array): Float64Array[];
  /** Indices of values that are limits: only what lies above 0 counts. */
  readonly oneSided?: readonly number[];
  readonly lower?: ArrayLike<number>;
  readonly upper?: ArrayLike<number>;
}

export interface PolishRules {
  /** Steps at most. */
  readonly steps?: number;
  /** Evaluations of the values at most. */
  readonly evaluations?: number;
  /** Stops when a step gains, and could gain, less than this share of the sum of squares. */
  readonly gain?: number;
  /** Stops when a step is shorter than this share of the unknowns, each in its scale. */
  readonly step?: number;
  /** Stops when twenty steps together gain less than this share of the sum of squares; never by default. */
  readonly slow?: number;
  /** First radius of the trust region, as a share of the scaled start. */
  readonly radius?: number;
}

/** How a run stands after a step. */
export interface PolishState {
  readonly x: Float64Array;
  /** Sum of squares of what counts. */
  readonly square: number;
  readonly evaluations: number;
  readonly steps: number;
  /** λ of the damping that the last step took. */
  readonly damping: number;
  /** By how much the last step was predicted to lessen the sum, as a share of it. */
  readonly predicted: number;
}

export type StopReason =
  /** No step lessens the sum by more than the share that is asked for. */
  | 'gain'
  /** Twenty steps together have gained less than the share that is asked for. */
  | 'slow'
  /** Steps have become too short to change anything. */
  | 'step'
  /** The slopes of the sum have vanished: a minimum, or a saddle. */
  | 'flat'
  /** What is gained is below the standard error of sampled values. */
  | 'noise'
  | 'steps'
  | 'evaluations'
  /** The values have none at the start. */
  | 'no_start';

export interface PolishResult extends PolishState {
  readonly reason: StopReason;
}

const DEFAULTS: Required<PolishRules> = {
  steps: 400,
  evaluations: 4000,
  gain: 1e-12,
  step: 1e-12,
  slow: 0,
  radius: 100,
};
/** Steps over which a run must gain something. */
const SLOW_STEPS = 20;
/** Rounds in which limits may join those that count in a step. */
const ACTIVE_ROUNDS = 6;

/**
 * Damped least squares in a trust region: J. J. Moré, “The Levenberg–Marquardt algorithm: implementation and theory”, Lecture Notes in
 * Mathematics 630, 105 (1977), with columns scaled by their largest length so far. Bounds and one-sided values are an active set: an unknown at a
 * bound that is pushed beyond it stays; a limit counts in a step where it is exceeded, or where the step would exceed it.
 *
 * Yields after each step that made it better, so that it can be watched and stopped.
 */
export function* dampedLeastSquares(
  problem: LeastSquares,
  start: ArrayLike<number>,
  rules: PolishRules = {},
): Generator<PolishState, PolishResult, void> {
  const { steps: mostSteps, evaluations: most, gain, step: least, slow, radius: first } = { ...DEFAULTS, ...rules };
  const { size } = problem;
  const sides = new OneSided(problem.oneSided ?? []);
  let x = within(problem, Float64Array.from(start));
  let values = problem.values(x);
  const state = (reason?: StopReason, damping = 0, predicted = 0) =>
    ({ x, square, evaluations, steps, damping, predicted, ...(reason && { reason }) }) as PolishResult;
  let [evaluations, steps] = [1, 0];
  let square = values ? sides.square(values) : NaN;
  if (!values || !Number.isFinite(square)) return state('no_start');
  const d = new Float64Array(size);
  let radius = 0;
  const way: number[] = [];
  while (steps < mostSteps) {
    const columns = problem.columns(x);
    for (let j = 0; j < size; j++) d[j] = Math.max(d[j], norm(columns[j])) || d[j];
    const scale = d.map((value) => value || 1);
    if (radius === 0) radius = first * (weighted(scale, x) || 1);
    if (flat(problem, sides, columns, values, x, square)) return state('flat');
    way.push(square);
    if (slow > 0 && steps >= SLOW_STEPS && square > (1 - slow) * way[steps - SLOW_STEPS]) return state('slow');
    steps++;
    for (;;) {
      const move = boundedStep(problem, sides, columns, values, x, scale, radius);
      const { damping } = move;
      const length = weighted(scale, move.s);
      const next = within(
        problem,
        x.map((value, j) => value + move.s[j]),
      );
      const there = problem.values(next);
      evaluations++;
      const found = there ? sides.square(there) : Infinity;
      const actual = (square - found) / square;
      const predicted = (square - move.square) / square;
      const ratio = predicted > 0 ? actual / predicted : 0;
      if (steps === 1) radius = Math.min(radius, length || radius);
      if (!(ratio > 0.25))
        radius =
          Math.min(radius, length) * (actual < 0 && Number.isFinite(found) ? shrink(actual, move, square) : 0.25);
      else if (damping === 0 || ratio > 0.75) radius = 2 * length;
      const better = ratio > 1e-4 && found < square;
      if (better) {
        [x, values, square] = [next, there!, found];
        yield state(undefined, damping, predicted);
      }
      if (square === 0 || (Math.abs(actual) <= gain && predicted <= gain && ratio <= 2))
        return state('gain', damping, predicted);
      if (!(radius > least * weighted(scale, x)) || length === 0) return state('step', damping, predicted);
      if (evaluations >= most) return state('evaluations', damping, predicted);
      if (better) break;
    }
  }
  return state('steps');
}

/** How far to shrink the region after a step that made it worse, by the parabola through what is known (Moré, section 4). */
function shrink(actual: number, { square: predictedSquare, damping, dampedSquare }: Step, square: number): number {
  const slope = -(Math.max(0, square - predictedSquare - dampedSquare * damping) + damping * dampedSquare) / square;
  const factor = (0.5 * slope) / (slope + 0.5 * actual);
  return Math.min(0.5, Math.max(0.1, Number.isFinite(factor) ? factor : 0.25));
}

interface Step {
  readonly s: Float64Array;
  /** Predicted sum of squares. */
  readonly square: number;
  readonly damping: number;
  /** |D·s|². */
  readonly dampedSquare: number;
}

/** Which values count. */
class OneSided {
  readonly indices: readonly number[];

  constructor(indices: readonly number[]) {
    this.indices = indices;
  }

  square(values: Float64Array): number {
    let sum = 0;
    for (const value of values) sum += value * value;
    for (const i of this.indices) if (values[i] < 0) sum -= values[i] * values[i];
    return Math.max(0, sum);
  }

  /** Values with those limits that do not count at 0. */
  counting(values: Float64Array, active: ReadonlySet<number>): Float64Array {
    const counted = values.slice();
    for (const i of this.indices) if (!active.has(i)) counted[i] = 0;
    return counted;
  }

  exceeded(values: Float64Array): Set<number> {
    return new Set(this.indices.filter((i) => values[i] > 0));
  }
}

/** Columns in which only limits that count have derivatives. */
function countingColumns(
  sides: OneSided,
  columns: readonly Float64Array[],
  active: ReadonlySet<number>,
): readonly Float64Array[] {
  if (sides.indices.length === 0) return columns;
  return columns.map((column) => {
    const counted = column.slice();
    for (const i of sides.indices) if (!active.has(i)) counted[i] = 0;
    return counted;
  });
}

/** Whether no unknown that may move has a slope worth mentioning: the cosine between its column and the values. */
function flat(
  problem: LeastSquares,
  sides: OneSided,
  columns: readonly Float64Array[],
  values: Float64Array,
  x: Float64Array,
  square: number,
): boolean {
  const active = sides.exceeded(values);
  const counted = sides.counting(values, active);
  return columns.every((column, j) => {
    const dot = product(column, counted);
    if (pushedOut(problem, x, j, -dot)) return true;
    return Math.abs(dot) <= 1e-13 * (norm(column) || 1) * Math.sqrt(square);
  });
}

/** Whether an unknown stands on a bound and wants to go beyond it. */
export function pushedOut({ lower, upper }: LeastSquares, x: Float64Array, j: number, direction: number): boolean {
  return (
    (direction < 0 && lower !== undefined && x[j] <= lower[j]) ||
    (direction > 0 && upper !== undefined && x[j] >= upper[j])
  );
}

function boundedStep(
  problem: LeastSquares,
  sides: OneSided,
  columns: readonly Float64Array[],
  values: Float64Array,
  x: Float64Array,
  scale: Float64Array,
  radius: number,
): Step {
  const active = sides.exceeded(values);
  const size = x.length;
  const fixed = new Map<number, number>();
  for (let j = 0; j < size; j++) {
    const slope = product(countingColumns(sides, [columns[j]], active)[0], sides.counting(values, active));
    if (pushedOut(problem, x, j, -slope)) fixed.set(j, 0);
  }
  let step: Step | null = null;
  for (let round = 0; round < ACTIVE_ROUNDS + size; round++) {
    step = freeStep(sides, columns, values, active, fixed, scale, radius);
    let changed = false;
    for (let j = 0; j < size && !changed; j++) {
      if (fixed.has(j)) continue;
      const to = x[j] + step.s[j];
      const bound =
        problem.lower && to < problem.lower[j]
          ? problem.lower[j]
          : problem.upper && to > problem.upper[j]
            ? problem.upper[j]
            : null;
      if (bound === null) continue;
      fixed.set(j, bound - x[j]);
      changed = true;
    }
    if (round < ACTIVE_ROUNDS)
      for (const i of sides.indices) {
        if (active.has(i)) continue;
        let there = values[i];
        for (let j = 0; j < size; j++) there += columns[j][i] * step.s[j];
        if (there > 0) {
          active.add(i);
          changed = true;
        }
      }
    if (!changed) break;
  }
  return step!;
}

/** The best step of the unknowns that are not fixed, within the region. */
function freeStep(
  sides: OneSided,
  columns: readonly Float64Array[],
  values: Float64Array,
  active: ReadonlySet<number>,
  fixed: ReadonlyMap<number, number>,
  scale: Float64Array,
  radius: number,
): Step {
  const counted = countingColumns(sides, columns, active);
  const right = sides.counting(values, active);
  for (const [j, by] of fixed) if (by !== 0) counted[j].forEach((value, i) => (right[i] += value * by));
  const free = counted.flatMap((_, j) => (fixed.has(j) ? [] : [j]));
  const triangle = triangleOf(
    free.map((j) => counted[j]),
    right,
  );
  const d = Float64Array.from(free, (j) => scale[j]);
  const { s: moved, damping } = stepWithin(triangle, d, radius);
  const s = new Float64Array(columns.length);
  free.forEach((j, k) => (s[j] = moved[k]));
  for (const [j, by] of fixed) s[j] = by;
  // The prediction: what counts now with the step, limits as they would stand.
  const there = values.slice();
  columns.forEach((column, j) => {
    if (s[j] !== 0) for (let i = 0; i < there.length; i++) there[i] += column[i] * s[j];
  });
  return { s, square: sides.square(there), damping, dampedSquare: weighted(d, moved) ** 2 };
}

/** The step whose scaled length is at most `radius`: the damping that makes it so is found by Newton's method on 1/|D·s(λ)| (Moré, section 5). */
function stepWithin(triangle: Triangle, d: Float64Array, radius: number): { s: Float64Array; damping: number } {
  const full = dampedStep(triangle, d, 0);
  const length = weighted(d, full);
  if (length <= 1.1 * radius && full.every(Number.isFinite)) return { s: full, damping: 0 };
  let [low, high] = [0, gradientLength(triangle, d) / radius];
  let lambda = Number.isFinite(length)
    ? Math.min(high, Math.max(1e-3 * high, high * (1 - radius / length)))
    : 1e-3 * high;
  let s = full;
  for (let round = 0; round < 40; round++) {
    s = dampedStep(triangle, d, lambda);
    const now = weighted(d, s);
    if (Math.abs(now - radius) <= 0.1 * radius) break;
    if (now > radius) low = lambda;
    else high = lambda;
    // d(|D s|)/dλ by a small difference, kept within the bracket.
    const beside = dampedStep(triangle, d, lambda * (1 + 1e-4));
    const slope = (weighted(d, beside) - now) / (lambda * 1e-4);
    const next = lambda - ((now - radius) * (now / radius)) / slope;
    lambda = next > low && next < high ? next : low > 0 ? Math.sqrt(low * high) : high / 10;
  }
  return { s, damping: lambda };
}

/** |D⁻¹Rᵀq|. */
function gradientLength({ n, r, q }: Triangle, d: Float64Array): number {
  let square = 0;
  for (let j = 0; j < n; j++) {
    let sum = 0;
    for (let i = 0; i <= j; i++) sum += r[n * j + i] * q[i];
    square += (sum / d[j]) ** 2;
  }
  return Math.sqrt(square);
}

/** Unknowns with those beyond a bound on it. */
export function within({ lower, upper }: LeastSquares, x: Float64Array): Float64Array {
  if (!lower && !upper) return x;
  return x.map((value, j) => Math.min(upper?.[j] ?? Infinity, Math.max(lower?.[j] ?? -Infinity, value)));
}

function norm(column: Float64Array): number {
  return Math.sqrt(product(column, column));
}

/** a·b. */
export function product(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

function weighted(scale: Float64Array, s: Float64Array): number {
  let square = 0;
  for (let j = 0; j < s.length; j++) square += (scale[j] * s[j]) ** 2;
  return Math.sqrt(square);
}
