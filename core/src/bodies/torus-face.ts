import { realRoots } from '../math/real-roots.ts';
import { revolve, RevolvedArea, type Box, type FaceForm, type Triangles } from './face-form.ts';

/** A whole torus about z: a circle of radius `tube` carried round at the distance `ring` of its centre. */
export class TorusFace implements FaceForm {
  readonly box: Box;
  readonly area: number;
  readonly #ring: number;
  readonly #tube: number;
  readonly #spread: RevolvedArea;
  readonly #roots = new Float64Array(8);

  /** @param ring - larger than `tube` */
  constructor(ring: number, tube: number) {
    this.#ring = ring;
    this.#tube = tube;
    const reach = ring + tube;
    this.box = { min: [-reach, -reach, -tube], max: [reach, reach, tube] };
    this.area = 4 * Math.PI * Math.PI * ring * tube;
    this.#spread = new RevolvedArea(this.#profile(256));
  }

  #profile(pieces: number): [number, number][] {
    return Array.from({ length: pieces + 1 }, (_, i): [number, number] => {
      const turn = (2 * Math.PI * i) / pieces;
      return [this.#ring + this.#tube * Math.cos(turn), this.#tube * Math.sin(turn)];
    });
  }

  meet(x: number, y: number, z: number, l: number, m: number, n: number, out: Float64Array): number {
    const [R, r] = [this.#ring, this.#tube];
    const near = -(x * l + y * m + z * n);
    const [px, py, pz] = [x + near * l, y + near * m, z + near * n];
    // With p·d = 0: (t² + e)² = 4R²(|p⊥|² + 2t p⊥·d⊥ + t²|d⊥|²), e = |p|² + R² − r²; lengths in units of R + r.
    const unit = R + r;
    const e = (px * px + py * py + pz * pz + R * R - r * r) / unit ** 2;
    const four = (4 * R * R) / unit ** 2;
    const across = (px * px + py * py) / unit ** 2;
    const mixed = (px * l + py * m) / unit;
    const turn = l * l + m * m;
    const c = [e * e - four * across, -2 * four * mixed, 2 * e - four * turn, 0, 1];
    const count = realRoots(c, -1.01, 1.01, this.#roots);
    for (let i = 0; i < count; i++) out[i] = near + this.#roots[i] * unit;
    return count;
  }

  normal(x: number, y: number, z: number, out: Float64Array): void {
    const r = Math.hypot(x, y);
    const off = r - this.#ring;
    const scale = 1 / Math.hypot(off, z);
    out[0] = (x / r) * off * scale;
    out[1] = (y / r) * off * scale;
    out[2] = z * scale;
  }

  spread(u: number, v: number, out: Float64Array): void {
    // From the chord of the profile out to its circle.
    const [near, low] = this.#spread.at(u);
    const scale = this.#tube / Math.hypot(near - this.#ring, low);
    const [r, z] = [this.#ring + (near - this.#ring) * scale, low * scale];
    out[0] = r * Math.cos(2 * Math.PI * v);
    out[1] = r * Math.sin(2 * Math.PI * v);
    out[2] = z;
  }

  triangles(detail: number): Triangles {
    return revolve(this.#profile(Math.max(8, detail >> 1)), detail, this);
  }
}
