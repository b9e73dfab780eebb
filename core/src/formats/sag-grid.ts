import { LEAST_VALUES, type Grid } from '../math/spline2d.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { MAX_TABLE_TEXT, MOST_SAGS } from './limits.ts';

/** By how much of a step a place may miss its grid. */
const OFF = 1e-4;

/**
 * Reads a plain list of points, a line each: x, y and z in mm, split by spaces, commas, semicolons or tabs, on a regular grid in any
 * order. Lines that begin with # and a first line of words are passed over.
 *
 * Fails with the line, or with what the grid lacks.
 */
export function readSagGrid(text: string): Outcome<Grid> {
  if (text.length > MAX_TABLE_TEXT) return failure(`The file has more than ${MAX_TABLE_TEXT / 1e6} MB.`);
  const points: (readonly [number, number, number])[] = [];
  for (const [i, line] of text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .entries()) {
    const trimmed = line.trim();
    if (trimmed === '' || trimmed.startsWith('#')) continue;
    const words = trimmed.split(/[\s,;]+/).filter(Boolean);
    const numbers = words.map(Number);
    if (words.length !== 3 || !numbers.every(Number.isFinite)) {
      if (points.length === 0 && !/^[-+.\d]/.test(trimmed)) continue; // names of columns
      return failure(`Line ${i + 1}: “${trimmed.slice(0, 60)}” is not x, y and z.`);
    }
    points.push([numbers[0], numbers[1], numbers[2]]);
    if (points.length > MOST_SAGS) return failure(`The list has more than ${MOST_SAGS} points.`);
  }
  const [columns, rows] = [places(points.map(([x]) => x)), places(points.map(([, y]) => y))];
  if (!columns || !rows) return failure('The points lie on no grid of equal steps in x and y.');
  const [nx, ny] = [columns.count, rows.count];
  if (nx < LEAST_VALUES || ny < LEAST_VALUES)
    return failure(`A grid needs at least ${LEAST_VALUES} × ${LEAST_VALUES} points; this one has ${nx} × ${ny}.`);
  if (nx * ny > MOST_SAGS) return failure(`The grid would have ${nx} × ${ny} points; the limit is ${MOST_SAGS}.`);
  const z = new Array<number>(nx * ny).fill(NaN);
  for (const [x, y, sag] of points) {
    const at = Math.round((y - rows.from) / rows.step) * nx + Math.round((x - columns.from) / columns.step);
    if (!Number.isNaN(z[at])) return failure(`The point ${x}, ${y} is there twice.`);
    z[at] = sag;
  }
  const missing = z.findIndex(Number.isNaN);
  if (missing >= 0) {
    const [x, y] = [columns.from + (missing % nx) * columns.step, rows.from + Math.floor(missing / nx) * rows.step];
    return failure(
      `The grid of ${nx} × ${ny} points lacks one at x ${Number(x.toPrecision(9))}, y ${Number(y.toPrecision(9))}.`,
    );
  }
  return success({ x: columns.from, y: rows.from, dx: columns.step, dy: rows.step, columns: nx, z });
}

/** The equal steps that coordinates lie on; null where they do not. */
function places(values: readonly number[]): { from: number; step: number; count: number } | null {
  const sorted = [...values].sort((a, b) => a - b);
  const span = sorted[sorted.length - 1] - sorted[0];
  if (!(span > 0)) return null;
  const distinct = sorted.filter((value, i) => i === 0 || value - sorted[i - 1] > 1e-9 * span);
  let step = Infinity;
  for (let i = 1; i < distinct.length; i++) step = Math.min(step, distinct[i] - distinct[i - 1]);
  const count = Math.round(span / step) + 1;
  step = span / (count - 1);
  const from = sorted[0];
  const fits = distinct.every((value) => Math.abs((value - from) / step - Math.round((value - from) / step)) < OFF);
  return fits ? { from, step, count } : null;
}
