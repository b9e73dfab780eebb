import type { RayBlock } from '../compute/ray-block.ts';
import type { CompiledShape, SagDerivatives } from './shape.ts';

const MAX_STEPS = 60;
const SETTLED = 1e-9;
/** Newton's quotient must not be divided by less: the ray runs along the surface there. */
const ALONG = 1e-12;

/** What a shape that is known by its sag alone says of itself. */
export interface SagShape {
  /** Curvature of its y–z section at the vertex, 1/mm. */
  readonly curvature: number;
  readonly reach: number;
  readonly mirrorX?: boolean;
  readonly derivatives: SagDerivatives;
  /** A simpler shape that lies near: where a ray meets that one is where it is searched first. */
  readonly near?: Pick<CompiledShape, 'intersect'>;
}

/**
 * A shape that is known by its sag and its derivatives alone: rays meet it by Newton's method on z − sag(x, y) from a shape nearby or the
 * vertex plane, stepping back where the surface ends.
 */
export function sagSurface({ curvature, reach, mirrorX = true, derivatives, near }: SagShape): CompiledShape {
  // Positions and normals want no second derivatives.
  const jet = new Float64Array(3);
  return {
    curvature,
    reach,
    mirrorX,
    derivatives,
    sag(x, y) {
      derivatives.jet(x, y, jet);
      return jet[0];
    },
    intersect(rays, count) {
      if (near) near.intersect(rays, count);
      else rays.t.fill(NaN, 0, count);
      intersect(rays, count, derivatives, jet);
    },
    normals(rays, count) {
      const { x, y, nx, ny, nz } = rays;
      for (let i = 0; i < count; i++) {
        derivatives.jet(x[i], y[i], jet);
        const scale = 1 / Math.sqrt(1 + jet[1] * jet[1] + jet[2] * jet[2]);
        nx[i] = -jet[1] * scale;
        ny[i] = -jet[2] * scale;
        nz[i] = scale;
      }
    },
  };
}

function intersect(rays: RayBlock, count: number, { jet }: SagDerivatives, out: Float64Array): void {
  const { x: X, y: Y, z: Z, l: L, m: M, n: N, t: T } = rays;
  for (let i = 0; i < count; i++) {
    let t = !Number.isNaN(T[i]) ? T[i] : N[i] === 0 ? NaN : -Z[i] / N[i];
    let change = 0;
    let settled = false;
    for (let step = 0; step < MAX_STEPS && !settled; step++) {
      jet(X[i] + t * L[i], Y[i] + t * M[i], out);
      const slope = N[i] - out[1] * L[i] - out[2] * M[i];
      if (Number.isNaN(out[0]) || Math.abs(slope) < ALONG) {
        // The surface ends before: half of the last step, or on from the vertex plane toward the axis.
        if (change === 0) change = towardAxis(X[i], Y[i], L[i], M[i], t);
        change /= 2;
        t += change;
        continue;
      }
      change = (Z[i] + t * N[i] - out[0]) / slope;
      t -= change;
      settled = Math.abs(change) <= SETTLED * Math.max(1, Math.abs(t));
    }
    T[i] = settled ? t : NaN;
  }
}

/** Twice the way along a ray to where it passes nearest the axis. */
function towardAxis(x: number, y: number, l: number, m: number, t: number): number {
  const across = l * l + m * m;
  return across === 0 ? NaN : 2 * (-(x * l + y * m) / across - t);
}

/** A function of x and y with its first and second derivatives: f, f_x, f_y, f_xx, f_xy, f_yy. */
export type Jet = Float64Array;
/** Its derivative by a parameter: f_p, f_xp, f_yp. */
export type JetChange = Float64Array;

/** The jet of N/(1 + √D) from those of N and D; the form in which conics of all kinds stay finite as they become flat. */
export function rootQuotient(n: Jet, d: Jet, out: Jet): void {
  const e = Math.sqrt(d[0]);
  const q = 1 + e;
  const [qx, qy] = [d[1] / (2 * e), d[2] / (2 * e)];
  const second = (dij: number, di: number, dj: number) => dij / (2 * e) - (di * dj) / (4 * e * e * e);
  const [qxx, qxy, qyy] = [second(d[3], d[1], d[1]), second(d[4], d[1], d[2]), second(d[5], d[2], d[2])];
  const s = n[0] / q;
  const whole = (nij: number, ni: number, nj: number, qi: number, qj: number, qij: number) =>
    (nij - (ni * qj + nj * qi) / q - s * qij + (2 * s * qi * qj) / q) / q;
  out[0] = s;
  out[1] = (n[1] - s * qx) / q;
  out[2] = (n[2] - s * qy) / q;
  out[3] = whole(n[3], n[1], n[1], qx, qx, qxx);
  out[4] = whole(n[4], n[1], n[2], qx, qy, qxy);
  out[5] = whole(n[5], n[2], n[2], qy, qy, qyy);
}

/** How N/(1 + √D) changes with a parameter on which N and D depend. */
export function rootQuotientChange(n: Jet, d: Jet, dn: JetChange, dd: JetChange, out: JetChange): void {
  const e = Math.sqrt(d[0]);
  const q = 1 + e;
  const qp = dd[0] / (2 * e);
  const s = n[0] / q;
  const mixed = (nip: number, ni: number, di: number, dip: number) => {
    const qi = di / (2 * e);
    const qip = dip / (2 * e) - (di * dd[0]) / (4 * e * e * e);
    return (nip - (ni * qp + dn[0] * qi) / q - s * qip + (2 * s * qi * qp) / q) / q;
  };
  out[0] = (dn[0] - s * qp) / q;
  out[1] = mixed(dn[1], n[1], d[1], dd[1]);
  out[2] = mixed(dn[2], n[2], d[2], dd[2]);
}
