import { inverse, type Rigid } from '../math/rigid.ts';
import type { BuiltFace } from './body.ts';
import { MOST_MEETINGS, type Box, type FaceForm, type Triangles } from './face-form.ts';

/** A direction that no drawing is aligned to. */
const [PX, PY, PZ] = [0.43817, 0.58261, 0.68463].map((value, _i, all) => value / Math.hypot(...all));

/** Whether places lie in a body, by the faces that a line from there crosses. */
export class Inside {
  readonly #faces: readonly { readonly form: FaceForm; readonly back: Rigid }[];
  readonly #out = new Float64Array(MOST_MEETINGS);

  /** @param faces - all faces of a closed body, in the coordinates that places are given in */
  constructor(faces: readonly BuiltFace[]) {
    this.#faces = faces.map(({ form, pose }) => ({ form, back: inverse(pose) }));
  }

  contains(x: number, y: number, z: number): boolean {
    let crossings = 0;
    for (const { form, back: { shift: s, rotation: r } } of this.#faces) {
      const count = form.meet(
        r[0] * x + r[1] * y + r[2] * z + s[0],
        r[3] * x + r[4] * y + r[5] * z + s[1],
        r[6] * x + r[7] * y + r[8] * z + s[2],
        r[0] * PX + r[1] * PY + r[2] * PZ,
        r[3] * PX + r[4] * PY + r[5] * PZ,
        r[6] * PX + r[7] * PY + r[8] * PZ,
        this.#out,
      );
      for (let k = 0; k < count; k++) if (this.#out[k] > 0) crossings++;
    }
    return crossings % 2 === 1;
  } // prettier-ignore
}

/** The part of a face that lies in another body, or outside of it; turned over where it bounds a hole. */
export class TrimmedFace implements FaceForm {
  readonly box: Box;
  readonly #form: FaceForm;
  readonly #pose: Rigid;
  readonly #other: Inside;
  readonly #keep: boolean;
  readonly #turn: 1 | -1;
  #area: number | undefined;

  /**
   * @param pose - from the coordinates of the face to those of the other body
   * @param keep - whether what lies inside of the other body stays, or what lies outside
   * @param turn - −1 where the outside of the face becomes the inside of what it bounds
   */
  constructor(form: FaceForm, pose: Rigid, other: Inside, keep: 'inside' | 'outside', turn: 1 | -1) {
    this.box = form.box;
    this.#form = form;
    this.#pose = pose;
    this.#other = other;
    this.#keep = keep === 'inside';
    this.#turn = turn;
  }

  #stays(x: number, y: number, z: number): boolean {
    const { shift: s, rotation: r } = this.#pose;
    return (
      this.#other.contains(
        s[0] + r[0] * x + r[1] * y + r[2] * z,
        s[1] + r[3] * x + r[4] * y + r[5] * z,
        s[2] + r[6] * x + r[7] * y + r[8] * z,
      ) === this.#keep
    );
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const met = this.#form.meet(x, y, z, l, m, n, out);
    let count = 0;
    for (let k = 0; k < met; k++) {
      const t = out[k];
      if (this.#stays(x + t * l, y + t * m, z + t * n)) out[count++] = t;
    }
    return count;
  }

  normal(x: number, y: number, z: number, out: Float64Array): void {
    this.#form.normal(x, y, z, out);
    if (this.#turn === 1) return;
    for (let axis = 0; axis < 3; axis++) out[axis] = -out[axis];
  }

  /** Of its drawing: to a percent. */
  get area(): number {
    this.#area ??= areaOf(this.triangles(96));
    return this.#area;
  }

  triangles(detail: number): Triangles {
    const whole = this.#form.triangles(detail);
    const { min, max } = this.box;
    const size = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
    const cut = new Cutter((x, y, z) => this.#stays(x, y, z), size / 12, size / Math.max(96, 2 * detail));
    const corner = (k: number): Corner3 => {
      const at = 3 * whole.indices[k];
      const normal = whole.normals.subarray(at, at + 3);
      return { at: [...whole.positions.subarray(at, at + 3)] as never, normal: [...normal].map((part) => this.#turn * part) as never };
    };
    for (let k = 0; k < whole.indices.length; k += 3) cut.take(corner(k), corner(k + 1), corner(k + 2));
    return cut.triangles();
  } // prettier-ignore
}

interface Corner3 {
  readonly at: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
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

  take(a: Corner3, b: Corner3, c: Corner3): void {
    const apart = ({ at: p }: Corner3, { at: q }: Corner3) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
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
      for (const [p, q, r] of [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]]) this.take(p, q, r);
    } else if (staying >= 2)
      for (const { at, normal } of [a, b, c]) {
        this.#positions.push(...at);
        this.#normals.push(...normal);
      }
  } // prettier-ignore

  triangles(): Triangles {
    return {
      positions: Float32Array.from(this.#positions),
      normals: Float32Array.from(this.#normals),
      indices: Uint32Array.from({ length: this.#positions.length / 3 }, (_, k) => k),
    };
  }
}

function middle(a: Corner3, b: Corner3): Corner3 {
  const mean = (p: readonly number[], q: readonly number[]) => p.map((value, axis) => (value + q[axis]) / 2);
  const normal = mean(a.normal, b.normal);
  const length = Math.hypot(...normal) || 1;
  return { at: mean(a.at, b.at) as never, normal: normal.map((part) => part / length) as never };
}

function areaOf({ positions, indices }: Triangles): number {
  let sum = 0;
  for (let k = 0; k < indices.length; k += 3) {
    const [a, b, c] = [0, 1, 2].map((i) => positions.subarray(3 * indices[k + i], 3 * indices[k + i] + 3));
    const [u, v] = [b, c].map((point) => [0, 1, 2].map((axis) => point[axis] - a[axis]));
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
}

/** How two bodies make one. */
export type Combination = 'union' | 'difference' | 'intersection';

/**
 * Faces of the union, difference (first without second) or intersection of two closed bodies, in common coordinates: the faces of each,
 * trimmed by the other. Faces of both that lie in one plane have no clear side there: let one body reach a little beyond the other.
 */
export function combineFaces(operation: Combination, first: readonly BuiltFace[], second: readonly BuiltFace[]): BuiltFace[] {
  const [inFirst, inSecond] = [new Inside(first), new Inside(second)];
  const trimmed = (faces: readonly BuiltFace[], other: Inside, keep: 'inside' | 'outside', turn: 1 | -1) =>
    faces.map(({ name, form, pose }) => ({ name, pose, form: new TrimmedFace(form, pose, other, keep, turn) }));
  return [
    ...trimmed(first, inSecond, operation === 'intersection' ? 'inside' : 'outside', 1),
    ...trimmed(second, inFirst, operation === 'union' ? 'outside' : 'inside', operation === 'difference' ? -1 : 1),
  ];
} // prettier-ignore
