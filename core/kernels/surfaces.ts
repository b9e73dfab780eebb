/**
 * Tracing through one surface, two rays at a time in SIMD lanes: intersection, aperture, normal, refraction or reflection,
 * and the step to the next vertex. Pairs of rays that go through plainly stay in registers; `careful.ts` does the others.
 *
 * The formulas, their failures and the meaning of every column are those of `shapes/conic.ts`, `shapes/even-asphere.ts` and
 * `sequence/trace.ts`, which are the kernel's test oracle. Rays that ended keep their coordinates.
 * AssemblyScript, built by `npm run kernels`.
 */
import { carefully, turnRange } from './careful';
import { BASE, FARTHEST, L, M, N, NX, NY, NZ, PATH, splat, STATUS, T, TERMS, X, Y, Z } from './layout';

/** Where the block begins in memory. */
export function block(): usize {
  return BASE;
}

/** From here on the root of a quadratic loses digits to cancellation; relative to the square of its linear term. */
const GRAZING: f64 = 1e-6;
const QUICK_STEPS: i32 = 8;
/** The last step of Newton's method may be so long, mm, and so much of the distance besides. */
const SLOPE_HOLDS: f64 = 1e-12;
const ROUNDING: f64 = 4e-16;

/**
 * The quick way for pairs of which both rays go on, meet the surface plainly and leave it: everything in registers. With
 * G = grad F at the hit, D·G is the root of the quadratic (with its sign), so that cosines cost nothing on a sphere. Other pairs go
 * the careful way, which decides what becomes of them.
 *
 * @param close - whether rays start near enough for the quadratic to be taken from where they are; from afar its terms would cancel
 */
// @ts-ignore: decorator
@inline
function trace(
  count: i32, c: f64, k: f64, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64, number: i32,
  close: bool, normals: bool, spherical: bool,
): void {
  const one = splat(1);
  const sign = splat(-0.0);
  const cc = splat(c);
  const kk = splat(k);
  const k1 = splat(1 + k);
  const ck1 = splat(c * (1 + k));
  const ratio = reflects ? 1.0 : before / behind;
  const mu = splat(ratio);
  const muSq = splat(ratio * ratio);
  const rest = splat(1 - ratio * ratio);
  const index = splat(before);
  const clear = splat(clearSq);
  const step = splat(gap);
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    let x = v128.load(at, X);
    let y = v128.load(at, Y);
    let z = v128.load(at, Z);
    let near = splat(0);
    if (!close) {
      near = f64x2.neg(f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(z, n)));
      x = f64x2.add(x, f64x2.mul(near, l));
      y = f64x2.add(y, f64x2.mul(near, m));
      z = f64x2.add(z, f64x2.mul(near, n));
    }
    const zk = spherical ? z : f64x2.mul(k1, z);
    const a = spherical ? cc : f64x2.mul(cc, f64x2.add(one, f64x2.mul(kk, f64x2.mul(n, n))));
    const along0 = f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(zk, n));
    const b = f64x2.sub(n, f64x2.mul(cc, along0));
    const square = f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(zk, z));
    const d = f64x2.sub(f64x2.mul(cc, square), f64x2.add(z, z));
    const bSq = f64x2.mul(b, b);
    const disc = f64x2.sub(bSq, f64x2.mul(a, d));
    const root = v128.or(f64x2.sqrt(disc), v128.and(n, sign));
    let t = f64x2.div(d, f64x2.add(b, root));
    let good = f64x2.ge(disc, f64x2.mul(splat(GRAZING), bSq));
    let hx = f64x2.add(x, f64x2.mul(t, l));
    let hy = f64x2.add(y, f64x2.mul(t, m));
    let hz = f64x2.add(z, f64x2.mul(t, n));
    let gx: v128;
    let gy: v128;
    let gz: v128;
    let cosine: v128;
    let radiusSq: v128;
    radiusSq = f64x2.add(f64x2.mul(hx, hx), f64x2.mul(hy, hy));
    gx = f64x2.neg(f64x2.mul(cc, hx));
    gy = f64x2.neg(f64x2.mul(cc, hy));
    gz = f64x2.sub(one, f64x2.mul(ck1, hz));
    good = v128.and(good, f64x2.gt(gz, splat(0))); // this sheet, this side of the equator
    cosine = root;
    if (!spherical) {
      const scale = f64x2.div(one, f64x2.sqrt(f64x2.add(f64x2.mul(f64x2.mul(cc, cc), radiusSq), f64x2.mul(gz, gz))));
      gx = f64x2.mul(gx, scale);
      gy = f64x2.mul(gy, scale);
      gz = f64x2.mul(gz, scale);
      cosine = f64x2.mul(root, scale);
    }
    const squared = f64x2.add(rest, f64x2.mul(muSq, f64x2.mul(cosine, cosine)));
    good = v128.and(good, v128.and(f64x2.le(radiusSq, clear), f64x2.ge(squared, splat(0))));
    good = v128.and(good, f64x2.lt(f64x2.abs(t), splat(FARTHEST)));
    if (load<u16>(usize(i), STATUS) != 0 || !i64x2.all_true(good)) {
      carefully(i, i + 2, c, k, 0, before, behind, reflects, clearSq, gap, number);
      continue;
    }
    const bent = reflects
      ? f64x2.neg(cosine)
      : v128.or(f64x2.sqrt(squared), v128.and(cosine, sign));
    const along = f64x2.sub(bent, f64x2.mul(mu, cosine));
    v128.store(at, f64x2.add(v128.load(at, PATH), f64x2.mul(f64x2.add(near, t), index)), PATH);
    v128.store(at, hx, X);
    v128.store(at, hy, Y);
    v128.store(at, f64x2.sub(hz, step), Z);
    v128.store(at, f64x2.add(f64x2.mul(mu, l), f64x2.mul(along, gx)), L);
    v128.store(at, f64x2.add(f64x2.mul(mu, m), f64x2.mul(along, gy)), M);
    v128.store(at, f64x2.add(f64x2.mul(mu, n), f64x2.mul(along, gz)), N);
    if (normals) {
      v128.store(at, gx, NX);
      v128.store(at, gy, NY);
      v128.store(at, gz, NZ);
    }
  }
}

/**
 * A sphere, or a flat for c = 0, over the first `count` rays of the block.
 *
 * @param c - curvature, 1/mm
 * @param before - refractive index in front; behind likewise
 * @param clearSq - square of the semi-aperture that clips, mm²; Infinity for none
 * @param gap - distance to the next vertex, mm, taken off z
 * @param number - of the surface, for the rays that end here
 * @param close - whether all rays start within some tens of centimetres of the vertex
 * @param normals - whether NX, NY and NZ are needed afterwards
 */
export function sphere(
  count: i32, c: f64, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64, number: i32, close: bool,
  normals: bool,
): void {
  if (close) trace(count, c, 0, before, behind, reflects, clearSq, gap, number, true, normals, true);
  else trace(count, c, 0, before, behind, reflects, clearSq, gap, number, false, normals, true);
}

/** A conic of revolution with conic constant k. */
export function conic(
  count: i32, c: f64, k: f64, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64, number: i32,
  close: bool, normals: bool,
): void {
  if (close) trace(count, c, k, before, behind, reflects, clearSq, gap, number, true, normals, false);
  else trace(count, c, k, before, behind, reflects, clearSq, gap, number, false, normals, false);
}

/**
 * A conic with even powers of r; their coefficients stand in the block's place for terms. Newton's method takes one step for all
 * rays at a time, so that their chains of square root, polynomial and division overlap. Between the steps T, NX, NY and NZ hold
 * distances, q, q times twice the slope, and which rays are done.
 */
export function evenAsphere(
  count: i32, c: f64, k: f64, terms: i32, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64,
  number: i32, close: bool, normals: bool,
): void {
  const one = splat(1);
  const sign = splat(-0.0);
  const cc = splat(c);
  const kk = splat(k);
  const k1 = splat(1 + k);
  const squeeze = splat((1 + k) * c * c);
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    let x = v128.load(at, X);
    let y = v128.load(at, Y);
    let z = v128.load(at, Z);
    let near = splat(0);
    if (!close) {
      near = f64x2.neg(f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(z, n)));
      x = f64x2.add(x, f64x2.mul(near, l));
      y = f64x2.add(y, f64x2.mul(near, m));
      z = f64x2.add(z, f64x2.mul(near, n));
    }
    const zk = f64x2.mul(k1, z);
    const a = f64x2.mul(cc, f64x2.add(one, f64x2.mul(kk, f64x2.mul(n, n))));
    const along = f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(zk, n));
    const b = f64x2.sub(n, f64x2.mul(cc, along));
    const square = f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(zk, z));
    const d = f64x2.sub(f64x2.mul(cc, square), f64x2.add(z, z));
    const root = v128.or(f64x2.sqrt(f64x2.sub(f64x2.mul(b, b), f64x2.mul(a, d))), v128.and(n, sign));
    v128.store(at, f64x2.add(near, f64x2.div(d, f64x2.add(b, root))), T);
  }
  let settled = false;
  for (let round = 0; round < QUICK_STEPS && !settled; round++) {
    let all = i64x2.splat(-1);
    for (let i = 0; i < count; i += 2) {
      const at: usize = 8 * usize(i);
      let t = v128.load(at, T);
      const l = v128.load(at, L);
      const m = v128.load(at, M);
      const n = v128.load(at, N);
      const x = f64x2.add(v128.load(at, X), f64x2.mul(t, l));
      const y = f64x2.add(v128.load(at, Y), f64x2.mul(t, m));
      const z = f64x2.add(v128.load(at, Z), f64x2.mul(t, n));
      const radiusSq = f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y));
      const e = f64x2.sqrt(f64x2.sub(one, f64x2.mul(squeeze, radiusSq)));
      const e1 = f64x2.add(one, e);
      let sum = splat(0);
      let slope = splat(0);
      for (let term = terms - 1; term >= 0; term--) {
        slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
        sum = f64x2.add(f64x2.mul(sum, radiusSq), v128.load64_splat(8 * usize(term), TERMS));
      }
      slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
      // See `settle` for the formulas.
      const q = f64x2.mul(e, e1);
      const sag = f64x2.mul(f64x2.add(f64x2.mul(cc, e), f64x2.mul(sum, q)), radiusSq);
      const twice = f64x2.add(f64x2.mul(cc, e1), f64x2.mul(f64x2.add(slope, slope), q));
      const across = f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m));
      const change = f64x2.div(
        f64x2.sub(f64x2.mul(z, q), sag),
        f64x2.sub(f64x2.mul(n, q), f64x2.mul(twice, across)),
      );
      t = f64x2.sub(t, change);
      v128.store(at, t, T);
      v128.store(at, q, NX);
      v128.store(at, twice, NY);
      // So small that the slope found before the step holds behind it. Lanes of NaN are left to the careful way.
      const limit = f64x2.add(splat(SLOPE_HOLDS), f64x2.mul(splat(ROUNDING), f64x2.abs(t)));
      const done = v128.or(f64x2.le(f64x2.abs(change), limit), f64x2.ne(change, change));
      v128.store(at, done, NZ);
      all = v128.and(all, done);
    }
    settled = i64x2.all_true(all);
  }
  const ratio = reflects ? 1.0 : before / behind;
  const mu = splat(ratio);
  const muSq = splat(ratio * ratio);
  const rest = splat(1 - ratio * ratio);
  const index = splat(before);
  const clear = splat(clearSq);
  const step = splat(gap);
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const t = v128.load(at, T);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    const x = f64x2.add(v128.load(at, X), f64x2.mul(t, l));
    const y = f64x2.add(v128.load(at, Y), f64x2.mul(t, m));
    const z = f64x2.add(v128.load(at, Z), f64x2.mul(t, n));
    const radiusSq = f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y));
    const twice = f64x2.div(v128.load(at, NY), v128.load(at, NX));
    const gz = f64x2.div(one, f64x2.sqrt(f64x2.add(f64x2.mul(f64x2.mul(twice, twice), radiusSq), one)));
    const tilt = f64x2.neg(f64x2.mul(twice, gz));
    const gx = f64x2.mul(tilt, x);
    const gy = f64x2.mul(tilt, y);
    const cosine = f64x2.add(f64x2.add(f64x2.mul(l, gx), f64x2.mul(m, gy)), f64x2.mul(n, gz));
    const squared = f64x2.add(rest, f64x2.mul(muSq, f64x2.mul(cosine, cosine)));
    let good = v128.and(f64x2.le(radiusSq, clear), f64x2.ge(squared, splat(0)));
    good = v128.and(good, f64x2.lt(f64x2.abs(t), splat(FARTHEST)));
    if (!settled) good = v128.and(good, v128.load(at, NZ));
    if (load<u16>(usize(i), STATUS) != 0 || !i64x2.all_true(good)) {
      carefully(i, i + 2, c, k, terms, before, behind, reflects, clearSq, gap, number);
      continue;
    }
    const bent = reflects ? f64x2.neg(cosine) : v128.or(f64x2.sqrt(squared), v128.and(cosine, sign));
    const along = f64x2.sub(bent, f64x2.mul(mu, cosine));
    v128.store(at, f64x2.add(v128.load(at, PATH), f64x2.mul(t, index)), PATH);
    v128.store(at, x, X);
    v128.store(at, y, Y);
    v128.store(at, f64x2.sub(z, step), Z);
    v128.store(at, f64x2.add(f64x2.mul(mu, l), f64x2.mul(along, gx)), L);
    v128.store(at, f64x2.add(f64x2.mul(mu, m), f64x2.mul(along, gy)), M);
    v128.store(at, f64x2.add(f64x2.mul(mu, n), f64x2.mul(along, gz)), N);
    if (normals) {
      v128.store(at, gx, NX);
      v128.store(at, gy, NY);
      v128.store(at, gz, NZ);
    }
  }
}

/** The second half alone, for rays that `meet` brought to the surface. */
export function turn(count: i32, before: f64, behind: f64, reflects: bool, gap: f64, number: i32): void {
  turnRange(0, count, before, behind, reflects, gap, number);
}
