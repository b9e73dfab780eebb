import { cellError } from './statistics.ts';
import type { Counted } from './channels.ts';
import type { CompiledDetector } from './detectors.ts';

/** A plane of cells: density in each, with its standard error; NaN for cells that the detector does not have. */
export interface CellMap {
  readonly columns: number;
  readonly rows: number;
  readonly values: Float64Array;
  readonly errors: Float64Array;
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

/**
 * The map of a detector as densities.
 *
 * @param scale - of the density: see `DetectorUnits`
 * @param layer - of a block of cells, from 0
 * @param by - so many cells along x and y are taken together
 */
export function cellMap(
  { size, range: { x, y }, detector: { columns, rows } }: Pick<CompiledDetector, 'size' | 'range' | 'detector'>,
  counted: Counted,
  chunks: number,
  scale: number,
  layer = 0,
  by = 1,
): CellMap {
  const [across, up] = [Math.ceil(columns / by), Math.ceil(rows / by)];
  const first = Math.min(layer, Math.floor(size.length / (columns * rows)) - 1) * columns * rows;
  const [flux, variance, area] = [0, 1, 2].map(() => new Float64Array(across * up));
  for (let cell = 0; cell < columns * rows; cell++) {
    const into = Math.floor(Math.floor(cell / columns) / by) * across + Math.floor((cell % columns) / by);
    flux[into] += counted.sum[first + cell] / chunks;
    variance[into] += cellError(counted, first + cell, chunks) ** 2;
    area[into] += size[first + cell];
  }
  const density = (value: number, i: number) => (area[i] > 0 ? (value / area[i]) * scale : NaN);
  return {
    columns: across,
    rows: up,
    values: flux.map(density),
    errors: variance.map((value, i) => density(Math.sqrt(value), i)),
    x: [x[0], x[0] + ((x[1] - x[0]) * across * by) / columns],
    y: [y[0], y[0] + ((y[1] - y[0]) * up * by) / rows],
  };
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;
const DEGREES = 180 / Math.PI;

/** A list over the cells of a map at a place, by straight lines between the middles of the cells; NaN beside it. */
function between({ columns, rows, x, y }: CellMap, list: Float64Array, px: number, py: number): number {
  const place = ([from, to]: readonly [number, number], at: number, count: number) =>
    Math.min(count - 1, Math.max(0, ((at - from) / (to - from)) * count - 0.5));
  if (px < x[0] || px > x[1] || py < y[0] || py > y[1]) return NaN;
  const [u, v] = [place(x, px, columns), place(y, py, rows)];
  const [i, j] = [Math.max(0, Math.min(columns - 2, Math.floor(u))), Math.max(0, Math.min(rows - 2, Math.floor(v)))];
  const at = (a: number, b: number) => list[Math.min(rows - 1, b) * columns + Math.min(columns - 1, a)];
  const mix = (a: number, b: number, share: number) => a + share * (b - a);
  return mix(mix(at(i, j), at(i + 1, j), u - i), mix(at(i, j + 1), at(i + 1, j + 1), u - i), v - j);
}

/** Intensity over the angle to the axis, degrees, with the standard error of the cells there. */
export interface AngleCurve {
  readonly angles: readonly number[];
  readonly values: readonly number[];
  readonly errors: readonly number[];
}

/** The curve through a map of the far field in the plane through its axis that is turned by `plane` degrees from x toward y. */
export function planeCurve(map: CellMap, plane: number): AngleCurve {
  const [c, s] = [Math.cos(radians(plane)), Math.sin(radians(plane))];
  const widest = Math.max(map.x[1], map.y[1]);
  const steps = 4 * Math.max(map.columns, map.rows);
  const angles = Array.from({ length: steps + 1 }, (_, k) => -widest + (2 * widest * k) / steps);
  const along = (list: Float64Array) =>
    angles.map((angle) => {
      const sine = Math.sin(radians(angle));
      return between(
        map,
        list,
        Math.atan2(sine * c, Math.cos(radians(angle))) * DEGREES,
        Math.asin(sine * s) * DEGREES,
      );
    });
  return { angles, values: along(map.values), errors: along(map.errors) };
}

/**
 * Half of the angle between both places where a curve falls to a share of its peak, degrees; NaN where it does not. The standard error
 * is that of the values there over the slope.
 *
 * Noise makes the largest of many values too large and the first crossing too near: the curve is averaged over an eighth of that angle first.
 */
export function halfAngle(
  { angles, values, errors }: AngleCurve,
  share: number,
): { readonly value: number; readonly standardError: number } {
  const step = (angles[angles.length - 1] - angles[0]) / (angles.length - 1);
  const rough = crossings(angles, values, share);
  if (!rough) return { value: NaN, standardError: NaN };
  const reach = Math.round((rough[1].at - rough[0].at) / 32 / step);
  const found = reach === 0 ? rough : crossings(angles, averaged(values, reach), share);
  if (!found) return { value: NaN, standardError: NaN };
  const variance = found.reduce((sum, { k, slope }) => sum + (errors[k] / slope) ** 2, 0);
  return { value: (found[1].at - found[0].at) / 2, standardError: Math.sqrt(variance) / 2 };
}

/** Means over so many values to either side, fewer at the ends. */
function averaged(values: readonly number[], reach: number): number[] {
  return values.map((_, k) => {
    const near = values.slice(Math.max(0, k - reach), k + reach + 1).filter((value) => !Number.isNaN(value));
    return near.reduce((sum, value) => sum + value, 0) / near.length;
  });
}

interface Crossing {
  readonly at: number;
  /** Index of the value inside, and the slope there. */
  readonly k: number;
  readonly slope: number;
}

/** Where a curve falls to a share of its peak, below and above it; null where it does not on either side. */
function crossings(angles: readonly number[], values: readonly number[], share: number): [Crossing, Crossing] | null {
  let top = 0;
  values.forEach((value, k) => (top = value > (values[top] || 0) ? k : top));
  const level = share * values[top];
  const edge = (way: 1 | -1): Crossing | null => {
    for (let k = top; k + way >= 0 && k + way < values.length; k += way) {
      const [a, b] = [values[k], values[k + way]];
      if (!(b < level && a >= level)) continue;
      const step = angles[k + way] - angles[k];
      return { at: angles[k] + ((a - level) / (a - b)) * step, k, slope: (a - b) / step };
    }
    return null;
  };
  const [low, high] = [edge(-1), edge(1)];
  return low && high ? [low, high] : null;
}
