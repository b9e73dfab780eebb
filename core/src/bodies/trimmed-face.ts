import { inverse, type Rigid } from '../math/rigid.ts';
import type { BuiltFace } from './body.ts';
import { MOST_MEETINGS, type Box, type FaceForm, type Triangles } from './face-form.ts';
import { cutTriangles } from './triangle-cutter.ts';
import { TriangleSpread } from './triangle-spread.ts';

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
    for (const {
      form,
      back: { shift: s, rotation: r },
    } of this.#faces) {
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
  }
}

/** The part of a face that lies in another body, or outside of it; turned over where it bounds a hole. */
export class TrimmedFace implements FaceForm {
  readonly box: Box;
  readonly #form: FaceForm;
  readonly #pose: Rigid;
  readonly #other: Inside;
  readonly #keep: boolean;
  readonly #turn: 1 | -1;
  readonly #even = new TriangleSpread(this);

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
    return this.#even.area;
  }

  spread(u: number, v: number, out: Float64Array): void {
    this.#even.at(u, v, out);
  }

  triangles(detail: number): Triangles {
    const stays = (x: number, y: number, z: number) => this.#stays(x, y, z);
    return cutTriangles(this.#form.triangles(detail), this.box, detail, stays, this.#turn);
  }
}

/** How two bodies make one. */
export type Combination = 'union' | 'difference' | 'intersection';

/**
 * Faces of the union, difference (first without second) or intersection of two closed bodies, in common coordinates: the faces of each,
 * trimmed by the other. Faces of both that lie in one plane have no clear side there: let one body reach a little beyond the other.
 */
export function combineFaces(
  operation: Combination,
  first: readonly BuiltFace[],
  second: readonly BuiltFace[],
): BuiltFace[] {
  const [inFirst, inSecond] = [new Inside(first), new Inside(second)];
  const trimmed = (faces: readonly BuiltFace[], other: Inside, keep: 'inside' | 'outside', turn: 1 | -1) =>
    faces.map(({ name, form, pose }) => ({ name, pose, form: new TrimmedFace(form, pose, other, keep, turn) }));
  return [
    ...trimmed(first, inSecond, operation === 'intersection' ? 'inside' : 'outside', 1),
    ...trimmed(second, inFirst, operation === 'union' ? 'outside' : 'inside', operation === 'difference' ? -1 : 1),
  ];
}
