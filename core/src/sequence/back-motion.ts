import { RAY_STATUS } from '../compute/ray-block.ts';
import type { Rigid } from '../math/rigid.ts';
import type { Seed, Station } from './back-sweep.ts';

/**
 * What an adjoint makes of a small motion of a frame, ray by ray: the column of each entry of its shift, then of its turn, row by row. By where
 * rays were before they were taken into this frame, and their directions there.
 *
 * @param entry - from the frame before to this one
 */
export function motionMoments(
  { shift, rotation: r }: Rigid,
  station: Station,
  { x, y, z, l, m, n }: Seed,
  count: number,
  alive: Uint8Array,
): Float64Array {
  const columns = new Float64Array(12 * count);
  for (let i = 0; i < count; i++) {
    if (alive[i] !== RAY_STATUS.alive) continue;
    const [sx, sy, sz] = [station.fromX[i] - shift[0], station.fromY[i] - shift[1], station.fromZ[i] - shift[2]];
    const px = r[0] * sx + r[3] * sy + r[6] * sz;
    const py = r[1] * sx + r[4] * sy + r[7] * sz;
    const pz = r[2] * sx + r[5] * sy + r[8] * sz;
    const [il, im, inn] = [station.inL[i], station.inM[i], station.inN[i]];
    const dl = r[0] * il + r[3] * im + r[6] * inn;
    const dm = r[1] * il + r[4] * im + r[7] * inn;
    const dn = r[2] * il + r[5] * im + r[8] * inn;
    columns[i] = x[i];
    columns[count + i] = y[i];
    columns[2 * count + i] = z[i];
    columns[3 * count + i] = x[i] * px + l[i] * dl;
    columns[4 * count + i] = x[i] * py + l[i] * dm;
    columns[5 * count + i] = x[i] * pz + l[i] * dn;
    columns[6 * count + i] = y[i] * px + m[i] * dl;
    columns[7 * count + i] = y[i] * py + m[i] * dm;
    columns[8 * count + i] = y[i] * pz + m[i] * dn;
    columns[9 * count + i] = z[i] * px + n[i] * dl;
    columns[10 * count + i] = z[i] * py + n[i] * dm;
    columns[11 * count + i] = z[i] * pz + n[i] * dn;
  }
  return columns;
}

/** Adds what a small motion does: `moments` by its shift and its turn. Most of their entries are 0. */
export function addMotion(
  { shift, rotation }: Rigid,
  moments: Float64Array,
  by: Float64Array,
  start: number,
  count: number,
): void {
  for (let k = 0; k < 12; k++) {
    const factor = k < 3 ? shift[k] : rotation[k - 3];
    if (factor === 0) continue;
    const from = k * count;
    for (let i = 0; i < count; i++) by[start + i] += factor * moments[from + i];
  }
}
