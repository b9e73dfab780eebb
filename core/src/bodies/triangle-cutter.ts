import type { Box, Triangles } from './face-form.ts';

interface Corner {
  readonly at: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
}

/**
 * Triangles of the part of a face that stays, the edge followed by ever smaller ones.
 *
 * @param box - about the face
 * @param stays - whether a place of it belongs to what stays
 * @param turn - −1 turns the normals over
 */
export function cutTriangles(
  whole: Triangles,
  { min, max }: Box,
  detail: number,
  stays: (x: number, y: number, z: number) => boolean,
  turn: 1 | -1 = 1,
): Triangles {
  const size = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const cutter = new Cutter(stays, size / 12, size / Math.max(96, 2 * detail));
  const corner = (k: number): Corner => {
    const at = 3 * whole.indices[k];
    const normal = [...whole.normals.subarray(at, at + 3)].map((part) => turn * part);
    return { at: [...whole.positions.subarray(at, at + 3)] as never, normal: normal as never };
  };
  for (let k = 0; k < whole.indices.length; k += 3) cutter.take(corner(k), corner(k + 1), corner(k + 2));
  return cutter.triangles();
}

/** Cuts triangles into smaller ones until each stays or goes. */
class Cutter {
  readonly #stays: (x: number, y: number, z: number) => boolean;
  readonly #coarse: number;
  readonly #fine: number;
  readonly #positions: number[] = [];
  readonly #normals: number[] = [];

  /** Triangles larger than `coarse` are always cut, those that only partly stay down to `fine`. */
  constructor(stays: (x: number, y: number, z: number) => boolean, coarse: number, fine: number) {
    this.#stays = stays;
    this.#coarse = coarse;
    this.#fine = fine;
  }

  take(a: Corner, b: Corner, c: Corner): void {
    const apart = ({ at: p }: Corner, { at: q }: Corner) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
    const size = Math.max(apart(a, b), apart(b, c), apart(c, a));
    const inner = [a, b, c].map((one) => {
      // A hair toward the middle: corners on the edge of the other body say nothing.
      const other = [a, b, c].map(({ at }) => at);
      const mean = [0, 1, 2].map((axis) => other.reduce((sum, at) => sum + at[axis] / 3, 0));
      const [x, y, z] = one.at.map((value, axis) => value + 1e-3 * (mean[axis] - value));
      return this.#stays(x, y, z);
    });
    const staying = inner.filter(Boolean).length;
    if (size > this.#coarse || (staying > 0 && staying < 3 && size > this.#fine)) {
      const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
      for (const [p, q, r] of [
        [a, ab, ca],
        [ab, b, bc],
        [ca, bc, c],
        [ab, bc, ca],
      ])
        this.take(p, q, r);
    } else if (staying >= 2)
      for (const { at, normal } of [a, b, c]) {
        this.#positions.push(...at);
        this.#normals.push(...normal);
      }
  }

  triangles(): Triangles {
    return {
      positions: Float32Array.from(this.#positions),
      normals: Float32Array.from(this.#normals),
      indices: Uint32Array.from({ length: this.#positions.length / 3 }, (_, k) => k),
    };
  }
}

function middle(a: Corner, b: Corner): Corner {
  const mean = (p: readonly number[], q: readonly number[]) => p.map((value, axis) => (value + q[axis]) / 2);
  const normal = mean(a.normal, b.normal);
  const length = Math.hypot(...normal) || 1;
  return { at: mean(a.at, b.at) as never, normal: normal.map((part) => part / length) as never };
}
