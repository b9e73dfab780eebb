import type { RayBlock } from '../compute/ray-block.ts';
import { curvatureOf, type Extent } from '../math/parameter.ts';
import { radialDerivatives, type RadialChange, type RadialJet } from './sag-newton.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';

export interface ConicRecord {
  readonly kind: 'conic';
  readonly radius: Extent;
  readonly conic?: number;
}

export const conic = defineShape<ConicRecord>({
  kind: 'conic',
  title: 'Conic',
  meaning: 'A conic of revolution: z = c r²/(1 + √(1 − (1+k) c² r²)), c = 1/radius.',
  parameters: [RADIUS, CONIC],
  compile: (record) => compileConic(curvatureOf(record.radius), record.conic ?? 0),
});

const NO_TERMS = new Float64Array(0);

/**
 * A conic of revolution from its vertex curvature c (1/mm) and conic constant k; a sphere for k = 0, a flat for c = 0.
 *
 * Only the sheet through the vertex counts, up to the equator where the normal is square to the axis.
 */
export function compileConic(c: number, k: number): CompiledShape {
  const squeeze = (1 + k) * c * c;
  return {
    curvature: c,
    form: { c, k, terms: NO_TERMS },
    reach: squeeze > 0 ? 1 / Math.sqrt(squeeze) : Infinity,
    derivatives: radialDerivatives(conicJet(c, k), conicChanges(c, k)),
    sag: (x, y) => conicSag(c, k, x * x + y * y),
    intersect: (rays, count) => intersectConic(rays, count, c, k),
    normals:
      k === 0 ? (rays, count) => normalsOfSphere(rays, count, c) : (rays, count) => normalsOfConic(rays, count, c, k),
  };
}

/** Sag in mm at a squared distance from the axis; NaN beyond the equator. */
export function conicSag(c: number, k: number, radiusSq: number): number {
  return (c * radiusSq) / (1 + Math.sqrt(1 - (1 + k) * c * c * radiusSq));
}

/** With E = √(1 − (1+k)c²u): s = cu/(1+E), s′ = c/2E, s″ = (1+k)c³/4E³. */
export function conicJet(c: number, k: number): RadialJet {
  return (u, out) => {
    const e = Math.sqrt(1 - (1 + k) * c * c * u);
    out[0] = (c * u) / (1 + e);
    out[1] = c / (2 * e);
    out[2] = ((1 + k) * c * c * c) / (4 * e * e * e);
  };
}

/** By c: u/(E(1+E)) and 1/2E³; by k: c³u²/(2E(1+E)²) and c³u/4E³. */
export function conicChanges(c: number, k: number): { radius: RadialChange; conic: RadialChange } {
  const root = (u: number) => Math.sqrt(1 - (1 + k) * c * c * u);
  return {
    radius(u, out) {
      const e = root(u);
      out[0] = u / (e * (1 + e));
      out[1] = 1 / (2 * e * e * e);
    },
    conic(u, out) {
      const e = root(u);
      out[0] = (c * c * c * u * u) / (2 * e * (1 + e) * (1 + e));
      out[1] = (c * c * c * u) / (4 * e * e * e);
    },
  };
}

/** How far c times the equation of the surface may be from 0: beyond it rounding has eaten the intersection. */
const ON_SURFACE = 1e-5;

/**
 * Inserting the ray into c(x² + y² + (1+k)z²) − 2z = 0 gives A t² − 2B t + C = 0; see docs/physics.md, “Conic”.
 * Of its two roots the one that stays finite as c → 0 is t = C/(B ± √(B² − AC)), with the sign of N.
 * The ray is first taken to its point nearest the vertex: from far away the terms of C would cancel.
 */
function intersectConic(rays: RayBlock, count: number, c: number, k: number): void {
  const { x: X, y: Y, z: Z, l: DL, m: DM, n: DN, t } = rays;
  for (let i = 0; i < count; i++) {
    const L = DL[i];
    const M = DM[i];
    const N = DN[i];
    const near = -(X[i] * L + Y[i] * M + Z[i] * N);
    const x = X[i] + near * L;
    const y = Y[i] + near * M;
    const z = Z[i] + near * N;
    const a = c * (1 + k * N * N);
    const b = N - c * (x * L + y * M + (1 + k) * z * N);
    const d = c * (x * x + y * y + (1 + k) * z * z) - 2 * z;
    const root = Math.sqrt(b * b - a * d); // NaN: the ray passes the quadric by
    const further = d / (b + (N < 0 ? -root : root));
    const hx = x + further * L;
    const hy = y + further * M;
    const hz = z + further * N;
    const off = c * (hx * hx + hy * hy + (1 + k) * hz * hz) - 2 * hz;
    const onIt = Math.abs(c * off) <= ON_SURFACE && c * (1 + k) * hz < 1; // not past the equator or on the other sheet
    t[i] = onIt ? near + further : NaN;
  }
}

function normalsOfConic(rays: RayBlock, count: number, c: number, k: number): void {
  const { x: X, y: Y, z: Z, nx, ny, nz } = rays;
  for (let i = 0; i < count; i++) {
    const gx = -c * X[i];
    const gy = -c * Y[i];
    const gz = 1 - c * (1 + k) * Z[i];
    const scale = 1 / Math.sqrt(gx * gx + gy * gy + gz * gz);
    nx[i] = gx * scale;
    ny[i] = gy * scale;
    nz[i] = gz * scale;
  }
}

/** On a sphere the gradient is a unit vector but for rounding: one step of Newton's method does for the root. */
function normalsOfSphere(rays: RayBlock, count: number, c: number): void {
  const { x: X, y: Y, z: Z, nx, ny, nz } = rays;
  for (let i = 0; i < count; i++) {
    const gx = -c * X[i];
    const gy = -c * Y[i];
    const gz = 1 - c * Z[i];
    const scale = 1.5 - 0.5 * (gx * gx + gy * gy + gz * gz);
    nx[i] = gx * scale;
    ny[i] = gy * scale;
    nz[i] = gz * scale;
  }
}
