import { within } from '../bodies/sag-face.ts';
import type { Rigid } from '../math/rigid.ts';

/** A block of cells that counts what is absorbed on the way through bodies. */
export interface VolumeMeter {
  readonly toOwn: Rigid;
  /** mm, about its origin. */
  readonly size: readonly [number, number, number];
  /** Cells along x, y, z; those of a layer row by row. */
  readonly cells: readonly [number, number, number];
}

/**
 * Shares out what a ray loses on a straight way among the cells it goes through: flux·(e^(−αa) − e^(−αb)) for the piece from a to b.
 *
 * @param flux - at the start of the way
 * @param loss - α, 1/mm
 * @param moments - takes flux, flux·x, flux·y, flux·x², flux·y²
 * @returns how many cells it went through
 */
export function depositAlong(
  meter: VolumeMeter,
  ray: ArrayLike<number>,
  way: number,
  flux: number,
  loss: number,
  map: Float64Array,
  moments: Float64Array,
): number {
  const {
    toOwn: { shift: s, rotation: r },
    size,
    cells,
  } = meter;
  const [x, y, z, l, m, n] = [0, 1, 2, 3, 4, 5].map((k) => ray[k]);
  const at = [0, 3, 6].map((k, axis) => r[k] * x + r[k + 1] * y + r[k + 2] * z + s[axis]);
  const along = [0, 3, 6].map((k) => r[k] * l + r[k + 1] * m + r[k + 2] * n);
  const half = size.map((value) => value / 2);
  const box = { min: [-half[0], -half[1], -half[2]], max: [half[0], half[1], half[2]] } as const;
  const [enter, leave] = within(box, at[0], at[1], at[2], along[0], along[1], along[2]);
  let t = Math.max(0, enter);
  const end = Math.min(way, leave);
  if (!(t < end)) return 0;
  const pitch = size.map((value, axis) => value / cells[axis]);
  // The cell it is in a hair ahead, and where it leaves that cell along each axis.
  const cell = at.map((value, axis) => {
    const index = Math.floor((value + (t + 1e-12 * (end - t)) * along[axis] + half[axis]) / pitch[axis]);
    return Math.min(cells[axis] - 1, Math.max(0, index));
  });
  const boundary = (axis: number) =>
    along[axis] === 0
      ? Infinity
      : ((cell[axis] + (along[axis] > 0 ? 1 : 0)) * pitch[axis] - half[axis] - at[axis]) / along[axis];
  const next = [boundary(0), boundary(1), boundary(2)];
  let count = 0;
  for (;;) {
    const axis = next[0] <= next[1] ? (next[0] <= next[2] ? 0 : 2) : next[1] <= next[2] ? 1 : 2;
    const to = Math.min(end, Math.max(t, next[axis]));
    const left = flux * Math.exp(-loss * t) * -Math.expm1(-loss * (to - t));
    if (left > 0) {
      map[(cell[2] * cells[1] + cell[1]) * cells[0] + cell[0]] += left;
      const middle = (t + to) / 2;
      const [px, py] = [at[0] + middle * along[0], at[1] + middle * along[1]];
      moments[0] += left;
      moments[1] += left * px;
      moments[2] += left * py;
      moments[3] += left * px * px;
      moments[4] += left * py * py;
      count++;
    }
    t = to;
    if (t >= end) return count;
    cell[axis] += along[axis] > 0 ? 1 : -1;
    if (cell[axis] < 0 || cell[axis] >= cells[axis]) return count;
    next[axis] = boundary(axis);
  }
}
