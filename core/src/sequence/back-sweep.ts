// The loops of a sweep from the image back, each over all rays of a bundle and nothing but numbers: so written, the engine makes them fast.
// The steps are those of docs/physics.md, “Derivatives of rays”, read backward.
import { directedColumns, type Directed } from '../compute/ray-block.ts';

/** By how much something changes with x, y, z, l, m, n and the path of each ray at a surface: an adjoint. */
export type Seed = Directed;

/** A seed of zeros for `count` rays. */
export const seedOf: (count: number) => Seed = directedColumns;

/** What of a surface the way back needs: where rays met it, their directions before and behind, and its normals. */
export interface Station {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly z: Float64Array;
  readonly l: Float64Array;
  readonly m: Float64Array;
  readonly n: Float64Array;
  readonly nx: Float64Array;
  readonly ny: Float64Array;
  readonly nz: Float64Array;
  /** Positions in its frame before the step to it, and directions there. */
  readonly fromX: Float64Array;
  readonly fromY: Float64Array;
  readonly fromZ: Float64Array;
  readonly inL: Float64Array;
  readonly inM: Float64Array;
  readonly inN: Float64Array;
}

export function stationOf(count: number): Station {
  const columns = new Float64Array(15 * count);
  let next = 0;
  const column = () => columns.subarray(next, (next += count));
  return {
    x: column(),
    y: column(),
    z: column(),
    l: column(),
    m: column(),
    n: column(),
    nx: column(),
    ny: column(),
    nz: column(),
    fromX: column(),
    fromY: column(),
    fromZ: column(),
    inL: column(),
    inM: column(),
    inN: column(),
  };
}

/** What of a surface all adjoints need, ray by ray. */
export interface Local {
  /** Slopes of the sag that rays meet, and second derivatives of the one that turns them. */
  readonly zx: Float64Array;
  readonly zy: Float64Array;
  readonly fxx: Float64Array;
  readonly fxy: Float64Array;
  readonly fyy: Float64Array;
  /** q = μD + λm∇φ/n′, its part along the direction behind, and the step along the normal from the one to the other. */
  readonly qx: Float64Array;
  readonly qy: Float64Array;
  readonly qz: Float64Array;
  readonly g: Float64Array;
  readonly along: Float64Array;
  /** Way from where the ray was taken into this frame, and 1/(D·G). */
  readonly t: Float64Array;
  readonly approach: Float64Array;
  /** Slopes and second derivatives of what diffracts. */
  readonly phx: Float64Array;
  readonly phy: Float64Array;
  readonly phxx: Float64Array;
  readonly phxy: Float64Array;
  readonly phyy: Float64Array;
  /** Adjoints of q, of the slopes and of the step to the surface, and of the path: of the sweep that went through last. */
  readonly aqx: Float64Array;
  readonly aqy: Float64Array;
  readonly aqz: Float64Array;
  readonly agx: Float64Array;
  readonly agy: Float64Array;
  readonly push: Float64Array;
  readonly aPath: Float64Array;
}

const SCRATCH = new Map<number, Local>();
const LOCAL_COLUMNS = 24;

/** Room for what of a surface is needed: used again for every surface of bundles of one size. */
export function localOf(count: number): Local {
  let found = SCRATCH.get(count);
  if (found) return found;
  const columns = new Float64Array(LOCAL_COLUMNS * count);
  let next = 0;
  const column = () => columns.subarray(next, (next += count));
  found = {
    zx: column(),
    zy: column(),
    fxx: column(),
    fxy: column(),
    fyy: column(),
    qx: column(),
    qy: column(),
    qz: column(),
    g: column(),
    along: column(),
    t: column(),
    approach: column(),
    phx: column(),
    phy: column(),
    phxx: column(),
    phxy: column(),
    phyy: column(),
    aqx: column(),
    aqy: column(),
    aqz: column(),
    agx: column(),
    agy: column(),
    push: column(),
    aPath: column(),
  };
  if (SCRATCH.size > 40) SCRATCH.clear();
  SCRATCH.set(count, found);
  return found;
}

/** Slopes and second derivatives of a conic of revolution: z_x = cx/E, z_xx = c/E + (1+k)c³x²/E³. */
export function plainJets(at: Station, count: number, c: number, k: number, local: Local): void {
  const { x, y } = at;
  const { zx, zy, fxx, fxy, fyy } = local;
  const squeeze = (1 + k) * c * c;
  for (let i = 0; i < count; i++) {
    const px = x[i];
    const py = y[i];
    const e = 1 / Math.sqrt(1 - squeeze * (px * px + py * py));
    const s = c * e;
    const bend = s * squeeze * e * e;
    zx[i] = px * s;
    zy[i] = py * s;
    fxx[i] = s + px * px * bend;
    fxy[i] = px * py * bend;
    fyy[i] = s + py * py * bend;
  }
}

type Jet = (x: number, y: number, out: Float64Array) => void;

const JET = new Float64Array(6);
const CHANGE = new Float64Array(3);

/** The same for a sag of any form; `facets` where normals are those of another. */
export function anyJets(
  at: Station,
  count: number,
  alive: Uint8Array,
  jet: Jet,
  facets: Jet | null,
  local: Local,
): void {
  const { x, y } = at;
  const { zx, zy, fxx, fxy, fyy } = local;
  for (let i = 0; i < count; i++) {
    if (alive[i] !== 0) continue;
    jet(x[i], y[i], JET);
    zx[i] = JET[1];
    zy[i] = JET[2];
    if (facets) facets(x[i], y[i], JET);
    fxx[i] = JET[3];
    fxy[i] = JET[4];
    fyy[i] = JET[5];
  }
}

export function phaseJets(at: Station, count: number, alive: Uint8Array, jet: Jet, local: Local): void {
  const { x, y } = at;
  const { phx, phy, phxx, phxy, phyy } = local;
  for (let i = 0; i < count; i++) {
    if (alive[i] !== 0) continue;
    jet(x[i], y[i], JET);
    phx[i] = JET[1];
    phy[i] = JET[2];
    phxx[i] = JET[3];
    phxy[i] = JET[4];
    phyy[i] = JET[5];
  }
}

/** q, the parts along the normal, and the way to the surface. */
export function turns(at: Station, count: number, mu: number, lines: number, local: Local): void {
  const { x, y, z, l, m, n, nx, ny, nz, fromX, fromY, fromZ, inL, inM, inN } = at;
  const { zx, zy, qx, qy, qz, g, along, t, approach, phx, phy } = local;
  for (let i = 0; i < count; i++) {
    const dl = inL[i];
    const dm = inM[i];
    const dn = inN[i];
    let ax = mu * dl;
    let ay = mu * dm;
    const az = mu * dn;
    if (lines !== 0) {
      ax += lines * phx[i];
      ay += lines * phy[i];
    }
    const behind = l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i];
    qx[i] = ax;
    qy[i] = ay;
    qz[i] = az;
    g[i] = behind;
    along[i] = behind - (ax * nx[i] + ay * ny[i] + az * nz[i]);
    t[i] = (x[i] - fromX[i]) * dl + (y[i] - fromY[i]) * dm + (z[i] - fromZ[i]) * dn;
    approach[i] = 1 / (dn - dl * zx[i] - dm * zy[i]);
  }
}

/**
 * An adjoint through refraction and the way to the surface: D′ = q + (g − c)N with g² = 1 − q·q + c², N = G/|G| with G = (−z_x, −z_y, 1), and the
 * point on the surface, G·(dP + t dD + D dt) = ∂sag/∂p. Leaves in `local` what derivatives by the surface's own numbers are made of.
 */
export function turnBack(
  count: number,
  mu: number,
  before: number,
  lines: number,
  mm: number,
  at: Station,
  local: Local,
  adjoint: Seed,
): void {
  const { nx, ny, nz, inL, inM, inN } = at;
  const { zx, zy, fxx, fxy, fyy, qx, qy, qz, g, along, t, approach, phx, phy, phxx, phxy, phyy } = local;
  const { aqx, aqy, aqz, agx, agy, push, aPath } = local;
  const { x: AX, y: AY, z: AZ, l: AL, m: AM, n: AN, path: AP } = adjoint;
  for (let i = 0; i < count; i++) {
    const al = AL[i];
    const am = AM[i];
    const an = AN[i];
    const normalX = nx[i];
    const normalY = ny[i];
    const normalZ = nz[i];
    const step = along[i];
    const share = (al * normalX + am * normalY + an * normalZ) / g[i];
    const aC = -share * step;
    const bx = al - share * qx[i] + aC * normalX;
    const by = am - share * qy[i] + aC * normalY;
    const bz = an - share * qz[i] + aC * normalZ;
    const anx = step * al + aC * qx[i];
    const any = step * am + aC * qy[i];
    const anz = step * an + aC * qz[i];
    const lengthwise = normalX * anx + normalY * any + normalZ * anz;
    const gx = (anx - normalX * lengthwise) * normalZ;
    const gy = (any - normalY * lengthwise) * normalZ;
    let px = AX[i] - (fxx[i] * gx + fxy[i] * gy);
    let py = AY[i] - (fxy[i] * gx + fyy[i] * gy);
    const path = AP[i];
    if (lines !== 0) {
      px += lines * (phxx[i] * bx + phxy[i] * by) + path * mm * phx[i];
      py += lines * (phxy[i] * bx + phyy[i] * by) + path * mm * phy[i];
    }
    const pz = AZ[i];
    const pushed = (px * inL[i] + py * inM[i] + pz * inN[i] + before * path) * approach[i];
    const wx = px + pushed * zx[i];
    const wy = py + pushed * zy[i];
    const wz = pz - pushed;
    const way = t[i];
    aqx[i] = bx;
    aqy[i] = by;
    aqz[i] = bz;
    agx[i] = gx;
    agy[i] = gy;
    push[i] = pushed;
    aPath[i] = path;
    AX[i] = wx;
    AY[i] = wy;
    AZ[i] = wz;
    AL[i] = mu * bx + way * wx;
    AM[i] = mu * by + way * wy;
    AN[i] = mu * bz + way * wz;
  }
}

/** By the curvature of a conic: u/(E(1+E)) of the sag and x/E³ of its slope. */
export function addCurvature(
  count: number,
  start: number,
  c: number,
  k: number,
  at: Station,
  local: Local,
  out: Float64Array,
): void {
  const { x, y } = at;
  const { push, agx, agy } = local;
  const squeeze = (1 + k) * c * c;
  for (let i = 0; i < count; i++) {
    const px = x[i];
    const py = y[i];
    const u = px * px + py * py;
    const e = Math.sqrt(1 - squeeze * u);
    out[start + i] += (push[i] * u) / (e * (1 + e)) - (px * agx[i] + py * agy[i]) / (e * e * e);
  }
}

/** By any number of a shape; `facet` where normals are those of another sag. */
export function addShape(
  count: number,
  start: number,
  sag: Jet,
  facet: Jet | null,
  at: Station,
  alive: Uint8Array,
  local: Local,
  out: Float64Array,
): void {
  const { x, y } = at;
  const { push, agx, agy } = local;
  for (let i = 0; i < count; i++) {
    if (alive[i] !== 0) continue;
    sag(x[i], y[i], CHANGE);
    const moved = CHANGE[0];
    if (facet) facet(x[i], y[i], CHANGE);
    out[start + i] += push[i] * moved - (CHANGE[1] * agx[i] + CHANGE[2] * agy[i]);
  }
}

/** By a number of what diffracts. */
export function addPhase(
  count: number,
  start: number,
  change: Jet,
  lines: number,
  mm: number,
  at: Station,
  alive: Uint8Array,
  local: Local,
  out: Float64Array,
): void {
  const { x, y } = at;
  const { aqx, aqy, aPath } = local;
  for (let i = 0; i < count; i++) {
    if (alive[i] !== 0) continue;
    change(x[i], y[i], CHANGE);
    out[start + i] += lines * (CHANGE[1] * aqx[i] + CHANGE[2] * aqy[i]) + aPath[i] * mm * CHANGE[0];
  }
}

/** By the indices before and behind. */
export function addIndex(
  count: number,
  start: number,
  dMu: number,
  dLines: number,
  dBefore: number,
  at: Station,
  local: Local,
  out: Float64Array,
): void {
  const { inL, inM, inN } = at;
  const { aqx, aqy, aqz, phx, phy, t, aPath } = local;
  for (let i = 0; i < count; i++) {
    let sum = dMu * (aqx[i] * inL[i] + aqy[i] * inM[i] + aqz[i] * inN[i]) + dBefore * t[i] * aPath[i];
    if (dLines !== 0) sum += dLines * (phx[i] * aqx[i] + phy[i] * aqy[i]);
    out[start + i] += sum;
  }
}
