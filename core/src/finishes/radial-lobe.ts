import { gaussLegendre } from '../math/quadrature.ts';
import { between } from '../physics/tables.ts';

const PANELS = 48;
export const INCIDENCES = 65;
export const STEPS = 2048;

/**
 * A BSDF that depends on the distance |β − β₀| of the projected directions alone: its total scatter for each incidence, and draws
 * from it. Rays drawn outside the unit disc are no directions; drawing anew leaves the right distribution inside.
 */
export class RadialLobe {
  readonly bsdf: (rho: number) => number;
  /** Total scatter at equal steps of the sine of incidence. */
  readonly totals = new Float64Array(INCIDENCES);
  /** Squares of the radii at equal steps of the distribution over 0 ≤ ρ ≤ 2. */
  readonly radii = new Float64Array(STEPS + 1);
  readonly #scale: number;

  /**
   * @param bsdf - per steradian over ρ = |β − β₀|
   * @param scale - the ρ about which it changes most: where its integrals need their nodes
   */
  constructor(bsdf: (rho: number) => number, scale: number) {
    this.bsdf = bsdf;
    this.#scale = Math.min(0.1, Math.max(1e-9, scale));
    for (let i = 0; i < INCIDENCES; i++) this.totals[i] = this.integrate(i / (INCIDENCES - 1));
    this.#tabulate();
  }

  /** Total integrated scatter ∫ BSDF cos θ dΩ over the hemisphere, for light that comes in at an angle of this sine. */
  total(sine: number): number {
    const at = Math.min(1, Math.max(0, sine)) * (INCIDENCES - 1);
    const i = Math.min(INCIDENCES - 2, Math.floor(at));
    return between(this.totals[i], this.totals[i + 1], at - i);
  }

  /** The same by quadrature over the unit disc about β₀, to some 1e-12. */
  integrate(sine: number): number {
    const inner = 1 - sine;
    const whole = 2 * Math.PI * this.#moment(inner);
    if (sine === 0) return whole;
    // ρ = 1 − s cos ψ runs over the circles that leave the disc; it takes away both square roots of their arcs.
    const { nodes, weights } = gaussLegendre(32);
    let sum = 0;
    const panels = 24;
    for (let panel = 0; panel < panels; panel++) {
      for (let i = 0; i < nodes.length; i++) {
        const psi = (Math.PI * (panel + (nodes[i] + 1) / 2)) / panels;
        const rho = 1 - sine * Math.cos(psi);
        if (rho <= 0) continue;
        const cosine = (rho * rho + sine * sine - 1) / (2 * rho * sine);
        const arc = 2 * Math.acos(Math.min(1, Math.max(-1, cosine)));
        sum += weights[i] * rho * this.bsdf(rho) * arc * sine * Math.sin(psi);
      }
    }
    return whole + (sum * Math.PI) / (2 * panels);
  }

  /** ∫₀^end ρ f dρ, in panels that grow from the scale of the lobe. */
  #moment(end: number): number {
    if (end <= 0) return 0;
    const { nodes, weights } = gaussLegendre(16);
    let sum = 0;
    let from = 0;
    for (let panel = 0; from < end; panel++) {
      const to = Math.min(end, this.#scale * 1e-3 * 2 ** panel);
      const half = (to - from) / 2;
      for (let i = 0; i < nodes.length; i++) {
        const rho = from + half * (nodes[i] + 1);
        sum += weights[i] * half * rho * this.bsdf(rho);
      }
      from = to;
    }
    return sum;
  }

  #tabulate(): void {
    // The distribution on places that grow with their distance, then its inverse by straight lines.
    const places = [0];
    const least = this.#scale * 1e-3;
    const growth = (2 / least) ** (1 / (PANELS * 32));
    for (let rho = least; rho < 2; rho *= growth) places.push(rho);
    places.push(2);
    const below = new Float64Array(places.length);
    for (let i = 1; i < places.length; i++) {
      const [a, b] = [places[i - 1], places[i]];
      const middle = (a + b) / 2;
      // Simpson's rule on ρ f(ρ).
      below[i] =
        below[i - 1] +
        ((b - a) / 6) * (a * this.bsdf(a || least * 1e-6) + 4 * middle * this.bsdf(middle) + b * this.bsdf(b));
    }
    const whole = below[below.length - 1];
    let i = 1;
    for (let step = 0; step <= STEPS; step++) {
      const wanted = (whole * step) / STEPS;
      while (i < below.length - 1 && below[i] < wanted) i++;
      const span = below[i] - below[i - 1];
      const part = span > 0 ? (wanted - below[i - 1]) / span : 0;
      // ρ² grows straight with the share where f is flat.
      const [a, b] = [places[i - 1] ** 2, places[i] ** 2];
      this.radii[step] = a + Math.min(1, Math.max(0, part)) * (b - a);
    }
  }

  /** The ρ below which a share `u` of ∫₀² ρ f dρ lies. */
  radius(u: number): number {
    const at = u * STEPS;
    const i = Math.min(STEPS - 1, Math.floor(at));
    return Math.sqrt(between(this.radii[i], this.radii[i + 1], at - i));
  }
}
