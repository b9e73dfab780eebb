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
    const [ab, bc, ca] = [apart(a, b), apart(b, c), apart(c, a)];
    const [long, short] = [Math.max(ab, bc, ca), Math.min(ab, bc, ca)];
    let slices = Math.ceil(long / this.#coarse);
    if (slices < 2) {
      const staying = this.#staying(a, b, c);
      if (staying === 0 || staying === 3 || long <= this.#fine) {
        if (staying >= 2) this.#keep(a, b, c);
        return;
      }
      slices = 2;
    }
    if (2 * short > long) this.#quarter(a, b, c);
    else if (bc === short) this.#slice(a, b, c, slices);
    else if (ca === short) this.#slice(b, c, a, slices);
    else this.#slice(c, a, b, slices);
  }

  #quarter(a: Corner, b: Corner, c: Corner): void {
    const [ab, bc, ca] = [between(a, b, 1 / 2), between(b, c, 1 / 2), between(c, a, 1 / 2)];
    this.take(a, ab, ca);
    this.take(ab, b, bc);
    this.take(ca, bc, c);
    this.take(ab, bc, ca);
  }

  /** Cuts a narrow triangle across, from its tip to the short side, so that its pieces are not narrower than it is. */
  #slice(tip: Corner, b: Corner, c: Corner, slices: number): void {
    let [left, right] = [tip, tip];
    for (let i = 1; i <= slices; i++) {
      const [nextLeft, nextRight] = i < slices ? [between(tip, b, i / slices), between(tip, c, i / slices)] : [b, c];
      this.take(left, nextLeft, nextRight);
      if (i > 1) this.take(left, nextRight, right);
      [left, right] = [nextLeft, nextRight];
    }
  }

  /** How many corners stay, each a hair toward the middle: corners on the edge of the other body say nothing. */
  #staying(a: Corner, b: Corner, c: Corner): number {
    const mean = (axis: number) => (a.at[axis] + b.at[axis] + c.at[axis]) / 3;
    const [x, y, z] = [mean(0), mean(1), mean(2)];
    const stays = ({ at: [px, py, pz] }: Corner) =>
      this.#stays(px + 1e-3 * (x - px), py + 1e-3 * (y - py), pz + 1e-3 * (z - pz)) ? 1 : 0;
    return stays(a) + stays(b) + stays(c);
  }

  #keep(...corners: readonly Corner[]): void {
    for (const { at, normal } of corners) {
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

const apart = ({ at: p }: Corner, { at: q }: Corner) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);

/** The corner a share of the way from one to another. */
function between(a: Corner, b: Corner, share: number): Corner {
  const mix = ([x, y, z]: Corner['at'], [u, v, w]: Corner['at']) =>
    [x + share * (u - x), y + share * (v - y), z + share * (w - z)] as const;
  const [l, m, n] = mix(a.normal, b.normal);
  const length = Math.hypot(l, m, n) || 1;
  return { at: mix(a.at, b.at), normal: [l / length, m / length, n / length] };
}
