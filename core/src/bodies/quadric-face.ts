import type { CompiledArea } from '../apertures/area.ts';
import { revolve, RevolvedArea, type Box, type CompiledForm, type FaceForm, type Triangles } from './face-form.ts';
import { cutTriangles } from './triangle-cutter.ts';
import { TriangleSpread } from './triangle-spread.ts';

/** a(x² + y²) + b z² + 2 g z + d = 0. */
export interface Quadric {
  readonly a: number;
  readonly b: number;
  readonly g: number;
  readonly d: number;
}

/** The part of a quadric that a face is. */
export type QuadricTrim =
  /** About its vertex, out to a radius: discs, rings, lens surfaces. */
  | {
      readonly kind: 'cap';
      readonly inner: number;
      readonly outer: number;
      readonly mask?: CompiledArea | null;
    }
  /** Between two planes across the axis: cylinders, cones. */
  | { readonly kind: 'wall'; readonly from: number; readonly to: number };

const FINE = 96;

/** A face on a quadric about z. */
export class QuadricFace implements FaceForm {
  readonly box: Box;
  readonly #q: Quadric;
  readonly #trim: QuadricTrim;
  readonly #sign: number;
  readonly #inner: number;
  readonly #outer: number;
  readonly #from: number;
  readonly #to: number;
  readonly #mask: CompiledArea | null;
  readonly #vertex: number;
  readonly #spread: RevolvedArea;
  readonly #masked: TriangleSpread | null;
  readonly chart: FaceForm['chart'];

  /** @param sign - 1 where the gradient of the quadric points out of the body, −1 where it points inward */
  constructor(q: Quadric, trim: QuadricTrim, sign: 1 | -1, chart?: FaceForm['chart']) {
    this.chart = chart;
    this.#q = q;
    this.#trim = trim;
    this.#sign = sign;
    const cap = trim.kind === 'cap';
    this.#inner = cap ? trim.inner * trim.inner * (trim.inner > 0 ? 1 : 0) : -1;
    this.#outer = cap ? trim.outer * trim.outer * (1 + 1e-12) : Infinity;
    this.#from = cap ? -Infinity : trim.from - 1e-12 * Math.abs(trim.to - trim.from);
    this.#to = cap ? Infinity : trim.to + 1e-12 * Math.abs(trim.to - trim.from);
    this.#mask = cap ? (trim.mask ?? null) : null;
    this.#vertex = cap ? Math.sign(q.g) || -1 : 0;
    const profile = this.#profile(FINE);
    this.#spread = new RevolvedArea(profile);
    this.#masked = this.#mask && new TriangleSpread(this);
    const r = Math.max(...profile.map(([radius]) => radius));
    const zs = profile.map(([, z]) => z);
    this.box = { min: [-r, -r, Math.min(...zs)], max: [r, r, Math.max(...zs)] };
  }

  get area(): number {
    return this.#masked?.area ?? this.#spread.total;
  }

  get compiled(): CompiledForm | undefined {
    if (this.#mask !== null) return undefined;
    const { a, b, g, d } = this.#q;
    const bounds = [this.#inner, this.#outer, this.#from, this.#to, this.#vertex];
    return { kind: 'quadric', numbers: [a, b, g, d, ...bounds, this.#sign] };
  }

  #profile(pieces: number): [number, number][] {
    const trim = this.#trim;
    return Array.from({ length: pieces + 1 }, (_, i): [number, number] => {
      const part = i / pieces;
      // Closer where a ball or a bowl turns most: equal steps of its angle.
      if (trim.kind === 'cap') {
        const r = trim.inner + Math.sin((Math.PI / 2) * part) * (trim.outer - trim.inner);
        return [r, this.#depth(r)];
      }
      const z = trim.from + ((1 - Math.cos(Math.PI * part)) / 2) * (trim.to - trim.from);
      return [this.#radius(z), z];
    });
  }

  /** z at a distance from the axis, by the vertex. */
  #depth(r: number): number {
    const { a, b, g, d } = this.#q;
    const c = a * r * r + d;
    const root = Math.sqrt(Math.max(0, g * g - b * c));
    return -c / (g < 0 ? g - root : g + root);
  }

  /** Distance from the axis at a z. */
  #radius(z: number): number {
    const { a, b, g, d } = this.#q;
    return Math.sqrt(Math.max(0, -(b * z * z + 2 * g * z + d) / a));
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const q4 = this.#q;
    const a = q4.a;
    const b = q4.b;
    const g = q4.g;
    const d = q4.d;
    // From the point nearest the origin the terms of the constant do not cancel.
    const near = -(x * l + y * m + z * n);
    const px = x + near * l;
    const py = y + near * m;
    const pz = z + near * n;
    const A = a * (l * l + m * m) + b * n * n;
    const B = a * (px * l + py * m) + b * pz * n + g * n;
    const C = a * (px * px + py * py) + b * pz * pz + 2 * g * pz + d;
    const square = B * B - A * C;
    if (!(square >= 0)) return 0;
    const q = -(B + (B < 0 ? -Math.sqrt(square) : Math.sqrt(square)));
    let count = 0;
    for (let root = 0; root < 2; root++) {
      const t = root === 0 ? C / q : q / A;
      if (!(Math.abs(t) < 1e100)) continue;
      const hx = px + t * l;
      const hy = py + t * m;
      const hz = pz + t * n;
      const r = hx * hx + hy * hy;
      if (r > this.#outer || r < this.#inner || hz < this.#from || hz > this.#to) continue;
      if (this.#vertex !== 0 && (b * hz + g) * this.#vertex <= 0) continue;
      if (this.#mask !== null && !this.#mask.contains(hx, hy)) continue;
      out[count++] = near + t;
    }
    return count;
  }

  normal(x: number, y: number, z: number, out: Float64Array): void {
    const { a, b, g } = this.#q;
    const gx = a * x;
    const gy = a * y;
    const gz = b * z + g;
    const scale = this.#sign / Math.sqrt(gx * gx + gy * gy + gz * gz);
    out[0] = gx * scale;
    out[1] = gy * scale;
    out[2] = gz * scale;
  }

  spread(u: number, v: number, out: Float64Array): void {
    if (this.#masked) {
      this.#masked.at(u, v, out);
      return;
    }
    const [along, up] = this.#spread.at(u);
    const [r, z] = this.#trim.kind === 'cap' ? [along, this.#depth(along)] : [this.#radius(up), up];
    out[0] = r * Math.cos(2 * Math.PI * v);
    out[1] = r * Math.sin(2 * Math.PI * v);
    out[2] = z;
  }

  triangles(detail: number): Triangles {
    const flat = this.#q.a === 0 || this.#q.b === 0; // straight along its profile, or nearly
    const straight = this.#trim.kind === 'wall' ? flat : this.#q.a === 0;
    const whole = revolve(this.#profile(straight ? 1 : Math.max(4, detail >> 2)), detail, this);
    const mask = this.#mask;
    return mask ? cutTriangles(whole, this.box, detail, (x, y) => mask.contains(x, y)) : whole;
  }
}

/** A disc or ring across z. @param sign - 1 where the outside lies toward +z */
export function discFace(z: number, inner: number, outer: number, sign: 1 | -1): QuadricFace {
  // g z + d/2 = 0: with g = 1/2 the gradient points to +z.
  return new QuadricFace({ a: 0, b: 0, g: 0.5, d: -z }, { kind: 'cap', inner, outer }, sign);
}

/**
 * The wall that a straight piece of profile from (r0, z0) to (r1, z1) makes about z.
 *
 * @param sign - 1 where the outside lies away from the axis
 */
export function coneFace(r0: number, z0: number, r1: number, z1: number, sign: 1 | -1): QuadricFace {
  const slope = (r1 - r0) / (z1 - z0);
  // r = s(z − z₀) + r₀ ⇒ r² − s²z² − 2s(r₀ − s z₀)z − (r₀ − s z₀)² = 0
  const base = r0 - slope * z0;
  const scale = 1 / Math.max(r0, r1);
  return new QuadricFace(
    { a: scale, b: -slope * slope * scale, g: -slope * base * scale, d: -base * base * scale },
    { kind: 'wall', from: Math.min(z0, z1), to: Math.max(z0, z1) },
    sign,
    r0 === r1 ? { kind: 'cylinder', radius: r0 } : undefined,
  );
}
