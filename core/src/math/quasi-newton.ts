import {
  product,
  pushedOut,
  within,
  type LeastSquares,
  type PolishResult,
  type PolishRules,
  type PolishState,
  type StopReason,
} from './damped-least-squares.ts';

/** Share of the predicted gain that a step must have (Armijo). */
const ENOUGH = 1e-4;
const HALVINGS = 30;

/**
 * Least sum of squares by its slopes alone: the method of Broyden, Fletcher, Goldfarb and Shanno with a line search, unknowns at bounds held while
 * they are pushed out (J. Nocedal, S. J. Wright, Numerical Optimization, 2nd ed., chapters 6 and 16.7). Slower than damped least squares where
 * squares can become small, but it does not take the curvature from derivatives that say little: goals that cannot be met, or with sharp bends.
 * Yields after each step that made it better.
 */
export function* quasiNewton(
  problem: LeastSquares,
  start: ArrayLike<number>,
  rules: PolishRules = {},
): Generator<PolishState, PolishResult, void> {
  const { steps: mostSteps = 1000, evaluations: most = 4000, gain = 1e-12, step: least = 1e-12 } = rules;
  let [evaluations, steps] = [0, 0];
  const look = (place: Float64Array) => {
    evaluations++;
    return countedAt(problem, place);
  };
  let x = within(problem, Float64Array.from(start));
  let here = look(x);
  const state = (reason?: StopReason) => {
    const counts = { evaluations, steps, damping: 0, predicted: 0 };
    return { x, square: here?.sum ?? NaN, ...counts, ...(reason && { reason }) } as PolishResult;
  };
  if (!here) return state('no_start');
  const slopesOf = (columns: readonly Float64Array[], counted: Float64Array) =>
    Float64Array.from(columns, (column) => 2 * product(column, counted));
  const first = problem.columns(x);
  let slopes = slopesOf(first, here.counted);
  const scale = firstScale(first);
  let inverse = diagonal(scale);
  const way: number[] = [];
  while (steps < mostSteps) {
    if (here.sum === 0) return state('gain');
    way.push(here.sum);
    if (rules.slow && steps >= 20 && here.sum > (1 - rules.slow) * way[steps - 20]) return state('slow');
    steps++;
    const held = slopes.map((slope, j) => (pushedOut(problem, x, j, -slope) ? 1 : 0));
    let direction = toward(inverse, slopes, held);
    if (!(product(direction, slopes) < 0)) {
      inverse = diagonal(scale);
      direction = toward(inverse, slopes, held);
      if (!(product(direction, slopes) < 0)) return state('flat');
    }
    const found = shorter(problem, x, direction, here.sum, product(direction, slopes), (place) =>
      evaluations < most ? look(place) : undefined,
    );
    if (!found) return state(evaluations >= most ? 'evaluations' : 'step');
    const { next, there, by } = found;
    const gained = (here.sum - there.sum) / here.sum;
    const step = next.map((value, j) => value - x[j]);
    // `look` was the last to see this place, so that its derivatives are asked right after its values.
    const after = slopesOf(problem.columns(next), there.counted);
    const turned = after.map((value, j) => value - slopes[j]);
    [x, here, slopes] = [next, there, after];
    yield state();
    update(inverse, step, turned);
    if (gained <= gain && by === 1) return state('gain');
    if (Math.hypot(...step.map((value, j) => value / scale[j] ** 0.5)) <= least) return state('step');
    if (evaluations >= most) return state('evaluations');
  }
  return state('steps');
}

/**
 * The first place along a direction, each time half as far, at which the sum falls by enough of what its slope promises; null if there is none.
 *
 * @param look - undefined when no more may be looked at
 */
function shorter(
  problem: LeastSquares,
  x: Float64Array,
  direction: Float64Array,
  sum: number,
  slope: number,
  look: (place: Float64Array) => Counted | null | undefined,
): { readonly next: Float64Array; readonly there: Counted; readonly by: number } | null {
  let by = 1;
  for (let k = 0; k < HALVINGS; k++, by /= 2) {
    const next = within(
      problem,
      x.map((value, j) => value + by * direction[j]),
    );
    const there = look(next);
    if (there === undefined) return null;
    if (there && there.sum <= sum + ENOUGH * by * slope) return { next, there, by };
  }
  return null;
}

/** Values of which those that may be negative for nothing count as 0, and the sum of their squares. */
interface Counted {
  readonly counted: Float64Array;
  readonly sum: number;
}

function countedAt(problem: LeastSquares, place: Float64Array): Counted | null {
  const counted = problem.values(place)?.slice();
  if (!counted) return null;
  for (const i of problem.oneSided ?? []) if (counted[i] < 0) counted[i] = 0;
  const sum = counted.reduce((all, value) => all + value * value, 0);
  return Number.isFinite(sum) ? { counted, sum } : null;
}

/** One over the square of each column's length: what damped least squares would take for the curvature if unknowns did not mix. */
function firstScale(columns: readonly Float64Array[]): Float64Array {
  return Float64Array.from(columns, (column) => 1 / (2 * product(column, column) || 1));
}

type Square = Float64Array[];

function diagonal(values: Float64Array): Square {
  return Array.from(values, (value, j) => {
    const row = new Float64Array(values.length);
    row[j] = value;
    return row;
  });
}

function toward(inverse: Square, slopes: Float64Array, held: Float64Array): Float64Array {
  const free = slopes.map((slope, j) => (held[j] ? 0 : slope));
  return Float64Array.from(inverse, (row, j) => (held[j] ? 0 : -product(row, free)));
}

/**
 * The inverse of the curvature after a step and the change of the slopes along it (Nocedal and Wright, equation
 * 6.17); left where it would not stay positive.
 */
function update(inverse: Square, step: Float64Array, turned: Float64Array): void {
  const along = product(step, turned);
  if (!(along > 1e-10 * Math.sqrt(product(step, step) * product(turned, turned)))) return;
  const n = step.length;
  const mixed = Float64Array.from(inverse, (row) => product(row, turned));
  const size = (1 + product(turned, mixed) / along) / along;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      inverse[i][j] += size * step[i] * step[j] - (mixed[i] * step[j] + step[i] * mixed[j]) / along;
}
