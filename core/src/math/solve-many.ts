import { fitLeastSquares } from './linear-fit.ts';

const ROUNDS = 60;
const HALVINGS = 12;

/**
 * A common zero of as many functions as there are numbers, by Newton's method with differences for slopes; a step that makes things worse,
 * or leads where a function ends, is halved. Null where none is found. J. E. Dennis, R. B. Schnabel, Numerical Methods for Unconstrained
 * Optimization and Nonlinear Equations, chapter 6.
 *
 * @param f - all values, each scaled so that 1 is much; null where one of them has none
 * @param steps - of each number, small against what changes the functions' course
 */
export function solveMany(
  f: (x: readonly number[]) => readonly number[] | null,
  start: readonly number[],
  steps: readonly number[],
  enough: number,
): number[] | null {
  const size = (values: readonly number[]) => Math.hypot(...values);
  let x = [...start];
  let values = f(x);
  if (!values) return null;
  for (let round = 0; round < ROUNDS; round++) {
    if (values.every((value) => Math.abs(value) <= enough)) return x;
    const columns: Float64Array[] = [];
    for (const [k, step] of steps.entries()) {
      const beside = f(x.with(k, x[k] + step));
      if (!beside) return null;
      const now: readonly number[] = values;
      columns.push(Float64Array.from(beside, (value, i) => (value - now[i]) / step));
    }
    const rows = values.map((_, i) => columns.map((column) => column[i]));
    const move = fitLeastSquares(rows, values);
    if (!move) return null;
    let better: { readonly x: number[]; readonly values: readonly number[] } | null = null;
    for (let halving = 0; halving < HALVINGS && !better; halving++) {
      const next = x.map((value, k) => value - move[k] / 2 ** halving);
      const there = f(next);
      if (there && size(there) < size(values)) better = { x: next, values: there };
    }
    if (!better) return null;
    ({ x, values } = better);
  }
  return values.every((value) => Math.abs(value) <= enough) ? x : null;
}
