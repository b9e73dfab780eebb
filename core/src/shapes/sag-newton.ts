import type { RayBlock } from '../compute/ray-block.ts';
import type { SagDerivatives } from './shape.ts';

/** A surface of revolution known by its sag alone. */
export interface RadialSag {
  /**
   * Writes the sag in mm and its derivative d(sag)/d(r²) in 1/mm into `out`, at a squared distance from the axis in mm²;
   * NaN where the surface does not exist. Both at once, because they share their square root.
   */
  evaluate(radiusSq: number, out: Float64Array): void;
}

const MAX_STEPS = 40;
const SETTLED = 1e-9;

/**
 * Distance along each ray to a surface given by its sag: Newton's method on F(t) = z − sag(x, y), one ray after another.
 *
 * Starts at `rays.t` (a distance to a nearby simpler surface); where that is NaN, at the vertex plane.
 * Writes NaN where it does not settle within a fixed number of steps.
 */
export function intersectBySag(rays: RayBlock, count: number, surface: RadialSag): void {
  const { x: X, y: Y, z: Z, l: L, m: M, n: N, t: T } = rays;
  const out = new Float64Array(2);
  for (let i = 0; i < count; i++) {
    let t = Number.isNaN(T[i]) ? -Z[i] / N[i] : T[i];
    let settled = false;
    for (let step = 0; step < MAX_STEPS && !settled; step++) {
      const x = X[i] + t * L[i];
      const y = Y[i] + t * M[i];
      const radiusSq = x * x + y * y;
      surface.evaluate(radiusSq, out);
      const change = (Z[i] + t * N[i] - out[0]) / (N[i] - 2 * out[1] * (x * L[i] + y * M[i]));
      t -= change;
      // Convergence is quadratic: after a step this small the next one would be below rounding.
      settled = Math.abs(change) <= SETTLED * Math.max(1, Math.abs(t));
    }
    T[i] = settled ? t : NaN;
  }
}

/** Unit normals, pointing to +z at the vertex, of a surface given by its sag. */
export function normalsBySag(rays: RayBlock, count: number, surface: RadialSag): void {
  const { x: X, y: Y, nx, ny, nz } = rays;
  const out = new Float64Array(2);
  for (let i = 0; i < count; i++) {
    surface.evaluate(X[i] * X[i] + Y[i] * Y[i], out);
    const twice = 2 * out[1];
    const gx = -twice * X[i];
    const gy = -twice * Y[i];
    const scale = 1 / Math.sqrt(gx * gx + gy * gy + 1);
    nx[i] = gx * scale;
    ny[i] = gy * scale;
    nz[i] = scale;
  }
}

/** A sag as a function of u = r²: s, ds/du, d²s/du². */
export type RadialJet = (u: number, out: Float64Array) => void;
/** Its derivative by a parameter: ∂s/∂p, ∂²s/∂u∂p. */
export type RadialChange = (u: number, out: Float64Array) => void;

/** Derivatives of a surface of revolution in x and y from those in r². */
export function radialDerivatives(jet: RadialJet, by: Readonly<Record<string, RadialChange>>): SagDerivatives {
  const s = new Float64Array(3);
  const change =
    (of: RadialChange) =>
    (x: number, y: number, out: Float64Array): void => {
      of(x * x + y * y, s);
      out[0] = s[0];
      out[1] = 2 * x * s[1];
      out[2] = 2 * y * s[1];
    };
  return {
    jet(x, y, out) {
      jet(x * x + y * y, s);
      out[0] = s[0];
      out[1] = 2 * x * s[1];
      out[2] = 2 * y * s[1];
      out[3] = 2 * s[1] + 4 * x * x * s[2];
      out[4] = 4 * x * y * s[2];
      out[5] = 2 * s[1] + 4 * y * y * s[2];
    },
    by: Object.fromEntries(Object.entries(by).map(([id, of]) => [id, change(of)])),
  };
}
