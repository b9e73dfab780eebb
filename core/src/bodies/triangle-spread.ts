import { MOST_MEETINGS, type FaceForm, type Triangles } from './face-form.ts';

/** Pieces of a full turn that a face is cut into: areas between corners fall short by parts in ten thousand. */
const DETAIL = 192;
/** How often a place that has no surface before it is drawn halfway to the middle of its triangle. */
const TRIES = 8;

/** Places evenly spread over a face of any outline: drawn on its triangles, set down on the face itself. */
export class TriangleSpread {
  readonly #form: Pick<FaceForm, 'meet' | 'triangles'>;
  #drawn: { readonly triangles: Triangles; readonly below: Float64Array } | undefined;
  readonly #met = new Float64Array(MOST_MEETINGS);

  constructor(form: Pick<FaceForm, 'meet' | 'triangles'>) {
    this.#form = form;
  }

  /** mm², between the corners of the triangles. */
  get area(): number {
    return this.#ready().below.at(-1) ?? 0;
  }

  /** Writes the place for u and v between 0 and 1. */
  at(u: number, v: number, out: Float64Array): void {
    const { triangles, below } = this.#ready();
    const { positions, normals, indices } = triangles;
    const wanted = u * this.area;
    const chosen = firstReaching(below, wanted);
    const before = chosen > 0 ? below[chosen - 1] : 0;
    const root = Math.sqrt(Math.min(1, Math.max(0, (wanted - before) / (below[chosen] - before))));
    const corners = [0, 1, 2].map((k) => 3 * indices[3 * chosen + k]);
    const mix = (values: Float32Array, axis: number, shares: readonly number[]) =>
      corners.reduce((sum, at, k) => sum + shares[k] * values[at + axis], 0);
    let shares = [1 - root, root * (1 - v), root * v];
    for (let attempt = 0; attempt < TRIES; attempt++) {
      const [x, y, z] = [0, 1, 2].map((axis) => mix(positions, axis, shares));
      const n = [0, 1, 2].map((axis) => mix(normals, axis, shares));
      const length = Math.hypot(...n) || 1;
      const [l, m, k] = n.map((part) => part / length);
      const count = this.#form.meet(x, y, z, l, m, k, this.#met);
      let nearest = Infinity;
      for (let i = 0; i < count; i++) if (Math.abs(this.#met[i]) < Math.abs(nearest)) nearest = this.#met[i];
      const step = Number.isFinite(nearest) ? nearest : 0;
      out[0] = x + step * l;
      out[1] = y + step * m;
      out[2] = z + step * k;
      if (Number.isFinite(nearest)) return;
      shares = shares.map((share) => (share + 1 / 3) / 2); // over the edge: the chord lies outside of the curve
    }
  }

  #ready() {
    if (this.#drawn) return this.#drawn;
    const triangles = this.#form.triangles(DETAIL);
    return (this.#drawn = { triangles, below: areasBelow(triangles) });
  }
}

/** By triangle: its area and those before it, mm². */
export function areasBelow({ positions, indices }: Triangles): Float64Array {
  const below = new Float64Array(indices.length / 3);
  let sum = 0;
  for (let k = 0; k < below.length; k++) {
    const [a, b, c] = [0, 1, 2].map((i) => 3 * indices[3 * k + i]);
    const side = (to: number) => [0, 1, 2].map((axis) => positions[to + axis] - positions[a + axis]);
    const [u, v] = [side(b), side(c)];
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    below[k] = sum;
  }
  return below;
}

/** The first entry of a rising list that reaches a value; the last one for values beyond. */
export function firstReaching(rising: Float64Array, wanted: number): number {
  let [low, high] = [0, rising.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (rising[middle] < wanted) low = middle + 1;
    else high = middle;
  }
  return low;
}
