import { MOST_MEETINGS, type FaceForm } from '../bodies/face-form.ts';
import { BEHIND, DEPTH, FEW, NEAR } from './kernel-layout.ts';
import { toFace, type SceneModel } from './scene-model.ts';
import type { TracedRay } from './traced-ray.ts';

/**
 * Finds what rays meet. A ray meets the nearest face; of a body, only faces that let it out of where it is or into where it is not, so that
 * touching faces and rounding confuse nothing.
 */
export class NearestFace {
  /** Rotations to the coordinates of each face, by rows, each with the shift after it. */
  readonly poses: Float64Array;
  readonly #model: SceneModel;
  readonly #forms: readonly FaceForm[];
  readonly #inner: Int32Array;
  readonly #outer: Int32Array;
  /** What was found last: the face, −1 for none, how far off, and the place in its coordinates. */
  face = -1;
  far = 0;
  readonly local = new Float64Array(3);
  #rank = 0;
  readonly #meetings = new Float64Array(MOST_MEETINGS);
  readonly #normal = new Float64Array(3);
  readonly #nodes = new Int32Array(128);
  readonly #entries = new Float64Array(128);
  readonly #inverse = new Float64Array(3);

  constructor(model: SceneModel) {
    this.#model = model;
    const { faces } = model;
    this.#forms = faces.map(({ form }) => form);
    this.poses = new Float64Array(12 * faces.length);
    faces.forEach((face, i) => {
      const { shift, rotation } = toFace(face);
      this.poses.set(rotation, 12 * i);
      this.poses.set(shift, 12 * i + 9);
    });
    this.#inner = Int32Array.from(faces, ({ inner }) => inner);
    this.#outer = Int32Array.from(faces, ({ outer }) => outer);
  }

  /** Indices of the solids that a point lies in, the outermost first: those whose faces a line from it crosses an odd number of times. */
  bodiesAt(x: number, y: number, z: number): number[] {
    // A direction that no drawing is aligned to.
    const [l, m, n] = [0.48178, 0.61394, 0.62529].map((value, _i, all) => value / Math.hypot(...all));
    const crossings = new Map<number, { count: number; last: number }>();
    this.#model.faces.forEach((face, i) => {
      if (face.inner < 0) return;
      const many = this.#crossings(i, x, y, z, l, m, n);
      if (many) {
        if (many.count > 0) crossings.set(face.inner, many);
        return;
      }
      const count = this.#meet(i, x, y, z, l, m, n);
      for (const solid of [face.inner, face.outer]) {
        if (solid < 0) continue;
        for (let k = 0; k < count; k++) {
          if (this.#meetings[k] <= 0) continue;
          const known = crossings.get(solid) ?? { count: 0, last: 0 };
          crossings.set(solid, { count: known.count + 1, last: Math.max(known.last, this.#meetings[k]) });
        }
      }
    });
    return [...crossings.entries()]
      .filter(([, { count }]) => count % 2 === 1)
      .sort(([, a], [, b]) => b.last - a.last)
      .map(([solid]) => solid)
      .slice(0, DEPTH);
  }

  /** For a face that is crossed more often than `meet` can say, and is the whole skin of its body. */
  #crossings(i: number, x: number, y: number, z: number, l: number, m: number, n: number) {
    const p = this.poses.subarray(12 * i, 12 * i + 12);
    return this.#forms[i].crossings?.(
      p[0] * x + p[1] * y + p[2] * z + p[9],
      p[3] * x + p[4] * y + p[5] * z + p[10],
      p[6] * x + p[7] * y + p[8] * z + p[11],
      p[0] * l + p[1] * m + p[2] * n,
      p[3] * l + p[4] * m + p[5] * n,
      p[6] * l + p[7] * m + p[8] * n,
    );
  }

  #meet(i: number, x: number, y: number, z: number, l: number, m: number, n: number): number {
    const p = this.poses;
    const o = 12 * i;
    return this.#forms[i].meet(
      p[o] * x + p[o + 1] * y + p[o + 2] * z + p[o + 9],
      p[o + 3] * x + p[o + 4] * y + p[o + 5] * z + p[o + 10],
      p[o + 6] * x + p[o + 7] * y + p[o + 8] * z + p[o + 11],
      p[o] * l + p[o + 1] * m + p[o + 2] * n,
      p[o + 3] * l + p[o + 4] * m + p[o + 5] * n,
      p[o + 6] * l + p[o + 7] * m + p[o + 8] * n,
      this.#meetings,
    );
  }

  /** Finds the nearest face of those that a ray can meet. */
  find(ray: TracedRay): void {
    const { first, count, order } = this.#model.tree;
    this.face = -1;
    const { at } = ray;
    if (order.length <= FEW) {
      let nearest = Infinity;
      for (let i = 0; i < order.length; i++) nearest = this.#try(ray, i, nearest);
      return;
    }
    for (let axis = 0; axis < 3; axis++) this.#inverse[axis] = 1 / at[3 + axis];
    const nodes = this.#nodes;
    const entries = this.#entries;
    let best = Infinity;
    let top = 0;
    let node = 0;
    let entry = this.#enter(at, 0);
    for (;;) {
      if (entry <= best + BEHIND) {
        const size = count[node];
        if (size > 0) {
          for (let k = first[node]; k < first[node] + size; k++) best = this.#try(ray, order[k], best);
        } else {
          // The nearer box first: what it holds leaves out most of the other.
          const left = first[node];
          const a = this.#enter(at, left);
          const b = this.#enter(at, left + 1);
          const near = a <= b ? left : left + 1;
          const low = a <= b ? a : b;
          const high = a <= b ? b : a;
          if (high < Infinity) {
            nodes[top] = near === left ? left + 1 : left;
            entries[top++] = high;
          }
          if (low < Infinity) {
            node = near;
            entry = low;
            continue;
          }
        }
      }
      if (top === 0) return;
      node = nodes[--top];
      entry = entries[top];
    }
  }

  /** How far off the box of a node is met; Infinity where the ray passes it. A NaN (along a face of the box) changes nothing. */
  #enter(ray: Float64Array, node: number): number {
    const { boxes } = this.#model.tree;
    const inverse = this.#inverse;
    const o = 6 * node;
    let from = -BEHIND;
    let to = Infinity;
    for (let axis = 0; axis < 3; axis++) {
      const a = (boxes[o + axis] - ray[axis]) * inverse[axis];
      const b = (boxes[o + 3 + axis] - ray[axis]) * inverse[axis];
      const near = a < b ? a : b;
      const far = a < b ? b : a;
      if (near > from) from = near;
      if (far < to) to = far;
    }
    return from <= to ? from : Infinity;
  }

  /** Meets one face; returns the distance of the nearest meeting so far. */
  #try(ray: TracedRay, i: number, best: number): number {
    const x = ray.at[0];
    const y = ray.at[1];
    const z = ray.at[2];
    const l = ray.at[3];
    const m = ray.at[4];
    const n = ray.at[5];
    const count = this.#meet(i, x, y, z, l, m, n);
    if (count === 0) return best;
    const form = this.#forms[i];
    const p = this.poses;
    const o = 12 * i;
    const inner = this.#inner[i];
    const normal = this.#normal;
    for (let k = 0; k < count; k++) {
      const t = this.#meetings[k];
      if (t > best + BEHIND || t < -BEHIND || (inner < 0 && t < NEAR)) continue;
      const hx = x + t * l;
      const hy = y + t * m;
      const hz = z + t * n;
      const lx = p[o] * hx + p[o + 1] * hy + p[o + 2] * hz + p[o + 9];
      const ly = p[o + 3] * hx + p[o + 4] * hy + p[o + 5] * hz + p[o + 10];
      const lz = p[o + 6] * hx + p[o + 7] * hy + p[o + 8] * hz + p[o + 11];
      let rank = 0;
      if (inner >= 0) {
        form.normal(lx, ly, lz, normal);
        const cosine =
          (p[o] * l + p[o + 1] * m + p[o + 2] * n) * normal[0] +
          (p[o + 3] * l + p[o + 4] * m + p[o + 5] * n) * normal[1] +
          (p[o + 6] * l + p[o + 7] * m + p[o + 8] * n) * normal[2];
        const within = ray.isIn(inner);
        const outer = this.#outer[i];
        // Out of the inner body only from inside of it; in from outside of it, or out of the one behind the face.
        const fits = cosine > 0 ? within : outer >= 0 ? ray.isIn(outer) : !within;
        if (!fits) continue;
        rank = cosine > 0 ? (inner === ray.innermost ? 2 : 1) : 0;
      }
      // Where bodies touch, a ray leaves the one it is in before it enters the next.
      const tied = this.face >= 0 && t > best - BEHIND;
      if (tied && (rank < this.#rank || (rank === this.#rank && t >= best))) continue;
      this.#rank = rank;
      best = t;
      this.face = i;
      this.far = t;
      this.local[0] = lx;
      this.local[1] = ly;
      this.local[2] = lz;
    }
    return best;
  }
}
