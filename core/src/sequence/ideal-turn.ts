import { RAY_STATUS, type RayBlock } from '../compute/ray-block.ts';

/** An ideal thin lens between two media. */
export interface IdealTurn {
  /** 1/mm. */
  readonly power: number;
  /** One over the distance of the object plane in front, 1/mm. */
  readonly nearness: number;
  readonly before: number;
  readonly behind: number;
  readonly reflects: boolean;
}

/**
 * Difference of two ways from a point, to the vertex and to where the ray meets the lens, over its distance: with t the tangents of the
 * ray to the axis and κ one over the distance, w/(√(κw + e²) + e), w = κr² ± 2 r·t, e² = 1 + t²; it stays whole for κ = 0.
 */
function wayDifference(x: number, y: number, tx: number, ty: number, near: number, sign: number): number {
  const e = Math.sqrt(1 + tx * tx + ty * ty);
  const w = near * (x * x + y * y) + sign * 2 * (x * tx + y * ty);
  return w / (Math.sqrt(near * w + e * e) + e);
}

/**
 * Turns living rays on an ideal thin lens: n′ tan U′ = n tan U − r·Φ in both directions across, and a path that makes all ways from a
 * point of the object plane to its image equally long. A mirror sends them back likewise.
 */
export function turnIdeally(rays: RayBlock, count: number, lens: IdealTurn): void {
  const { x, y, l, m, n, path, status } = rays;
  const { power, nearness, before, behind, reflects } = lens;
  const nearImage = (power - before * nearness) / behind;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const along = Math.abs(n[i]);
    const [tx, ty] = [l[i] / along, m[i] / along];
    const [sx, sy] = [(before * tx - x[i] * power) / behind, (before * ty - y[i] * power) / behind];
    const length = Math.sqrt(1 + sx * sx + sy * sy);
    path[i] +=
      before * wayDifference(x[i], y[i], tx, ty, nearness, -1) +
      behind * wayDifference(x[i], y[i], sx, sy, nearImage, 1);
    l[i] = sx / length;
    m[i] = sy / length;
    n[i] = (n[i] < 0 !== reflects ? -1 : 1) / length;
  }
}

/** How an ideal lens itself changes with a variable. */
export interface IdealChange {
  readonly power: number;
  readonly nearness: number;
  readonly before: number;
  readonly behind: number;
}

/**
 * Derivatives of `turnIdeally` for one ray: from those of its point and direction in front to those of direction and path behind,
 * written over `by` from `at` on, in the order x y z l m n path.
 *
 * @param ray - x, y, z, l, m, n in front, on the lens
 */
export function idealTurnChange(
  ray: Float64Array,
  lens: IdealTurn,
  change: IdealChange,
  by: Float64Array,
  at: number,
): void {
  const [x, y, , l, m, n] = ray;
  const [dx, dy, , dl, dm, dn] = by.subarray(at, at + 6);
  const { power, nearness, before, behind, reflects } = lens;
  const side = n < 0 ? -1 : 1;
  const along = Math.abs(n);
  const [tx, ty] = [l / along, m / along];
  const [dtx, dty] = [(dl - tx * side * dn) / along, (dm - ty * side * dn) / along];
  const [sx, sy] = [(before * tx - x * power) / behind, (before * ty - y * power) / behind];
  const turned = (s: number, t: number, dt: number, r: number, dr: number) =>
    (change.before * t + before * dt - dr * power - r * change.power - s * change.behind) / behind;
  const [dsx, dsy] = [turned(sx, tx, dtx, x, dx), turned(sy, ty, dty, y, dy)];
  const nearImage = (power - before * nearness) / behind;
  const dNearImage =
    (change.power - change.before * nearness - before * change.nearness - nearImage * change.behind) / behind;
  const front = differenceChange(x, y, tx, ty, nearness, -1, dx, dy, dtx, dty, change.nearness);
  const back = differenceChange(x, y, sx, sy, nearImage, 1, dx, dy, dsx, dsy, dNearImage);
  by[at + 6] +=
    change.before * wayDifference(x, y, tx, ty, nearness, -1) +
    before * front +
    change.behind * wayDifference(x, y, sx, sy, nearImage, 1) +
    behind * back;
  const length = Math.sqrt(1 + sx * sx + sy * sy);
  const stretch = (sx * dsx + sy * dsy) / (length * length);
  const out = reflects ? -side : side;
  by[at + 3] = (dsx - sx * stretch) / length;
  by[at + 4] = (dsy - sy * stretch) / length;
  by[at + 5] = (-out * stretch) / length;
}

function differenceChange(
  x: number,
  y: number,
  tx: number,
  ty: number,
  near: number,
  sign: number,
  dx: number,
  dy: number,
  dtx: number,
  dty: number,
  dNear: number,
): number {
  const e = Math.sqrt(1 + tx * tx + ty * ty);
  const square = x * x + y * y;
  const w = near * square + sign * 2 * (x * tx + y * ty);
  const h = Math.sqrt(near * w + e * e);
  const de = (tx * dtx + ty * dty) / e;
  const dw = dNear * square + 2 * near * (x * dx + y * dy) + sign * 2 * (dx * tx + x * dtx + dy * ty + y * dty);
  const dh = (dNear * w + near * dw + 2 * e * de) / (2 * h);
  return (dw - (w / (h + e)) * (dh + de)) / (h + e);
}
