import type { CompiledArea } from '../apertures/area.ts';
import type { CompiledShape } from '../shapes/shape.ts';
import { MOST_MEETINGS, type Box, type FaceForm, type Triangles } from './face-form.ts';
import { cutTriangles } from './triangle-cutter.ts';
import { TriangleSpread } from './triangle-spread.ts';

/** Pieces that a line is looked at in, within the box of the face: two roots in one piece would be overlooked. */
const PIECES = 24;

/** A face on any surface that is known by its sag, out to a radius about its axis. */
export class SagFace implements FaceForm {
  readonly box: Box;
  readonly area: number;
  readonly #shape: CompiledShape;
  readonly #outer: number;
  readonly #inner: number;
  readonly #mask: CompiledArea | null;
  readonly #sign: number;
  readonly #jet = new Float64Array(6);
  readonly #even = new TriangleSpread(this);

  /** @param sign - 1 where the outside lies toward +z */
  constructor(shape: CompiledShape, inner: number, outer: number, mask: CompiledArea | null, sign: 1 | -1) {
    this.#shape = shape;
    this.#inner = inner;
    this.#outer = outer;
    this.#mask = mask;
    this.#sign = sign;
    let [low, high, area] = [Infinity, -Infinity, 0];
    for (let i = 0; i <= 32; i++)
      for (let k = 0; k < 32; k++) {
        const r = (outer * i) / 32;
        const turn = (2 * Math.PI * k) / 32;
        shape.derivatives.jet(r * Math.cos(turn), r * Math.sin(turn), this.#jet);
        const [z, sx, sy] = this.#jet;
        if (Number.isNaN(z)) continue;
        low = Math.min(low, z);
        high = Math.max(high, z);
        area += Math.sqrt(1 + sx * sx + sy * sy);
      }
    const margin = 0.02 * (high - low) + 1e-6;
    this.box = { min: [-outer, -outer, low - margin], max: [outer, outer, high + margin] };
    this.area = (area / (33 * 32)) * Math.PI * (outer * outer - inner * inner);
  }

  /** z − sag along the line, and its slope. */
  #gap(x: number, y: number, z: number, l: number, m: number, n: number, t: number): [number, number] {
    const jet = this.#jet;
    this.#shape.derivatives.jet(x + t * l, y + t * m, jet);
    return [z + t * n - jet[0], n - jet[1] * l - jet[2] * m];
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const [from, to] = within(this.box, x, y, z, l, m, n);
    if (!(from <= to)) return 0;
    let count = 0;
    let a = from;
    let [fa] = this.#gap(x, y, z, l, m, n, a);
    for (let piece = 1; piece <= PIECES && count < MOST_MEETINGS; piece++) {
      const b = from + ((to - from) * piece) / PIECES;
      const [fb] = this.#gap(x, y, z, l, m, n, b);
      if (fa === 0 || fa * fb < 0) {
        const t = fa === 0 ? a : this.#root(x, y, z, l, m, n, a, b, fa);
        const [hx, hy] = [x + t * l, y + t * m];
        const r = Math.hypot(hx, hy);
        if (r <= this.#outer && r >= this.#inner && (this.#mask?.contains(hx, hy) ?? true)) out[count++] = t;
      }
      [a, fa] = [b, fb];
    }
    return count;
  }

  #root(
    x: number,
    y: number,
    z: number,
    l: number,
    m: number,
    n: number,
    from: number,
    to: number,
    atFrom: number,
  ): number {
    let [a, b] = [from, to];
    let t = (a + b) / 2;
    for (let step = 0; step < 100; step++) {
      const [value, slope] = this.#gap(x, y, z, l, m, n, t);
      if (value === 0) return t;
      if (value * atFrom > 0) a = t;
      else b = t;
      let next = t - value / slope;
      if (!(next > a && next < b)) next = (a + b) / 2;
      if (Math.abs(next - t) <= 4e-16 * Math.abs(t) + 1e-15) return next;
      t = next;
    }
    return t;
  }

  normal(x: number, y: number, _z: number, out: Float64Array): void {
    const jet = this.#jet;
    (this.#shape.facets ?? this.#shape.derivatives).jet(x, y, jet);
    const scale = this.#sign / Math.sqrt(1 + jet[1] * jet[1] + jet[2] * jet[2]);
    out[0] = -jet[1] * scale;
    out[1] = -jet[2] * scale;
    out[2] = scale;
  }

  spread(u: number, v: number, out: Float64Array): void {
    this.#even.at(u, v, out);
  }

  triangles(detail: number): Triangles {
    const whole = this.#unmasked(detail);
    const mask = this.#mask;
    return mask ? cutTriangles(whole, this.box, detail, (x, y) => mask.contains(x, y)) : whole;
  }

  #unmasked(detail: number): Triangles {
    const rings = Math.max(6, detail >> 2);
    const positions: number[] = [];
    const normals: number[] = [];
    const indices: number[] = [];
    const normal = new Float64Array(3);
    for (let ring = 0; ring <= rings; ring++) {
      const r = this.#inner + ((this.#outer - this.#inner) * ring) / rings;
      for (let k = 0; k <= detail; k++) {
        const turn = (2 * Math.PI * k) / detail;
        const [x, y] = [r * Math.cos(turn), r * Math.sin(turn)];
        this.normal(x, y, 0, normal);
        positions.push(x, y, this.#shape.sag(x, y) || 0);
        normals.push(...normal);
        if (ring > 0 && k < detail) {
          const a = (ring - 1) * (detail + 1) + k;
          const b = a + detail + 1;
          indices.push(a, b, a + 1, a + 1, b, b + 1);
        }
      }
    }
    return {
      positions: Float32Array.from(positions),
      normals: Float32Array.from(normals, (value) => value || 0),
      indices: Uint32Array.from(indices),
    };
  }
}

/** Distances at which a line enters and leaves a box; the first is the larger where it passes by. */
export function within(
  { min, max }: Box,
  x: number,
  y: number,
  z: number,
  l: number,
  m: number,
  n: number,
): [number, number] {
  let [from, to] = [-Infinity, Infinity];
  const position = [x, y, z];
  const direction = [l, m, n];
  for (let axis = 0; axis < 3; axis++) {
    if (direction[axis] === 0) {
      if (position[axis] < min[axis] || position[axis] > max[axis]) return [1, 0];
      continue;
    }
    const a = (min[axis] - position[axis]) / direction[axis];
    const b = (max[axis] - position[axis]) / direction[axis];
    from = Math.max(from, Math.min(a, b));
    to = Math.min(to, Math.max(a, b));
  }
  return [from, to];
}
