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

/**
 * Intensity over the angle to the axis of a map of the far field, as the mean of all planes: flux over solid angle of rings about the axis, each
 * about as wide as a cell. Rings that the map does not hold whole are left out.
 */
export function ringCurve(map: CellMap): AngleCurve {
  const { columns, rows, x, y } = map;
  const [dx, dy] = [(x[1] - x[0]) / columns, (y[1] - y[0]) / rows];
  const width = Math.max(dx, dy);
  const count = Math.floor(Math.min(-x[0], x[1], -y[0], y[1]) / width);
  const [flux, variance, size] = [0, 1, 2].map(() => new Float64Array(count));
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [azimuth, elevation] = [radians(x[0] + (column + 0.5) * dx), radians(y[0] + (row + 0.5) * dy)];
      const ring = Math.floor((Math.acos(Math.cos(azimuth) * Math.cos(elevation)) * DEGREES) / width);
      const cell = row * columns + column;
      if (ring >= count || Number.isNaN(map.values[cell])) continue;
      const solid = Math.cos(elevation); // of cells all alike in both angles
      flux[ring] += map.values[cell] * solid;
      variance[ring] += (map.errors[cell] * solid) ** 2;
      size[ring] += solid;
    }
  const rings = Array.from({ length: count }, (_, k) => k).filter((k) => size[k] > 0);
  return {
    angles: rings.map((k) => (k + 0.5) * width),
    values: rings.map((k) => flux[k] / size[k]),
    errors: rings.map((k) => Math.sqrt(variance[k]) / size[k]),
  };
}

/**
 * The angle at which a curve over rings falls to a share of its peak, degrees, with its standard error by the errors of the peak and of the
 * value there, over the slope; NaN where it does not.
 *
 * The first rings hold few rays: where the peak lies on the axis, it is that of a parabola through all rings up to half of that angle.
 */
export function fallAngle(curve: AngleCurve, share: number): ReturnType<typeof halfAngle> {
  const { angles, values, errors } = curve;
  let top = 0;
  values.forEach((value, k) => (top = value > values[top] ? k : top));
  const rough = falls(curve, top, share * values[top]);
  if (!rough) return { value: NaN, standardError: NaN };
  const reach = angles.findIndex((angle) => angle > rough.at / 2);
  const peak = reach >= 3 && top < reach ? apex(curve, reach) : { value: values[top], standardError: errors[top] };
  const found = falls(curve, Math.min(top, Math.max(0, reach - 1)), share * peak.value) ?? rough;
  return {
    value: found.at,
    standardError: Math.abs(Math.hypot(errors[found.k], share * peak.standardError) / found.slope),
  };
}

/** Where a curve falls below a level, from one of its places on. */
function falls({ angles, values }: AngleCurve, from: number, level: number): Crossing | null {
  for (let k = from; k + 1 < values.length; k++) {
    const [a, b] = [values[k], values[k + 1]];
    if (!(b < level && a >= level)) continue;
    const step = angles[k + 1] - angles[k];
    return { at: angles[k] + ((a - level) / (a - b)) * step, k, slope: (a - b) / step };
  }
  return null;
}

/** The value on the axis of the parabola a − bθ² through the first rings, by least squares with their errors. */
function apex({ angles, values, errors }: AngleCurve, count: number): ReturnType<typeof halfAngle> {
  const squares = angles.slice(0, count).map((angle) => angle ** 2);
  // Where a ring is known without error, solid angle weighs.
  const spread = errors.slice(0, count).every((error) => error > 0);
  const weights = squares.map((_, k) => (spread ? 1 / errors[k] ** 2 : angles[k]));
  const [w, x, xx] = [0, 1, 2].map((power) => weights.reduce((sum, one, k) => sum + one * squares[k] ** power, 0));
  const parts = squares.map((square, k) => ((xx - x * square) * weights[k]) / (w * xx - x * x));
  return {
    value: parts.reduce((sum, part, k) => sum + part * values[k], 0),
    standardError: Math.hypot(...parts.map((part, k) => part * errors[k])),
  };
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
