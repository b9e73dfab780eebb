/**
 * Tracing through one surface, two rays at a time in SIMD lanes: intersection, aperture, normal, refraction or reflection,
 * and the step to the next vertex. Pairs of rays that go through plainly stay in registers; `careful.ts` does the others.
 *
 * The formulas, their failures and the meaning of every column are those of `shapes/conic.ts`, `shapes/even-asphere.ts` and
 * `sequence/trace.ts`, which are the kernel's test oracle. Rays that ended keep their coordinates.
 * AssemblyScript, built by `npm run kernels`.
 */
import { carefully, turnRange } from './careful';
import { BASE, FARTHEST, L, M, N, NX, NY, NZ, PATH, SLOPES, splat, STATUS, T, TERMS, X, Y, Z } from './layout';

export { backSurface, clear, heap, keepStation } from './back';
export { move } from './move';

/** Where the block begins in memory. */
export function block(): usize {
  return BASE;
}

/** From here on the root of a quadratic loses digits to cancellation; relative to the square of its linear term. */
const GRAZING: f64 = 1e-6;
/** For larger curvatures, 1/mm, t = (b − root)/c is as good as d/(b + root): what cancels costs 2⁻⁵² of the radius, 6e-14 mm at most. */
const CURVED: f64 = 1 / 250.0;
/** Below it the start of Newton's method takes the division. */
const FLAT: f64 = 1e-6;
const QUICK_STEPS: i32 = 8;
/** The step of Newton's method that is left out may be so long, mm; so much of the distance is rounding. */
const LEFT_OUT: f64 = 1e-15;
const ROUNDING: f64 = 4e-16;

/**
 * The quick way for pairs of which both rays go on, meet the surface plainly and leave it: everything in registers. With
 * G = grad F at the hit, D·G is the root of the quadratic (with its sign), so that cosines cost nothing, and the root of Snell's law
 * does not wait for it. Other pairs go
 * the careful way, which decides what becomes of them.
 *
 * @param close - whether rays start near enough for the quadratic to be taken from where they are; from afar its terms would cancel
 * @param curved - a sphere so curved that its quadratic may be solved without a division: see `CURVED`
 */
// @ts-ignore: decorator
@inline
function trace(
  count: i32, c: f64, k: f64, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64, number: i32,
  close: bool, normals: bool, spherical: bool, curved: bool,
): void {
  const one = splat(1);
  const sign = splat(-0.0);
  const cc = splat(c);
  const kk = splat(k);
  const k1 = splat(1 + k);
  const ck1 = splat(c * (1 + k));
  const bulge = splat(k * c * c);
  const ratio = reflects ? 1.0 : before / behind;
  const mu = splat(ratio);
  const muSq = splat(ratio * ratio);
  const rest = splat(1 - ratio * ratio);
  const index = splat(before);
  const clear = splat(min(clearSq, FARTHEST * FARTHEST));
  const radius = splat(1 / c);
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
    const side = v128.and(n, sign);
    const root = v128.or(f64x2.sqrt(disc), side);
    const t = curved ? f64x2.mul(f64x2.sub(b, root), radius) : f64x2.div(d, f64x2.add(b, root));
    const hx = f64x2.add(x, f64x2.mul(t, l));
    const hy = f64x2.add(y, f64x2.mul(t, m));
    const hz = f64x2.add(z, f64x2.mul(t, n));
    const radiusSq = f64x2.add(f64x2.mul(hx, hx), f64x2.mul(hy, hy));
    // G = (−c x, −c y, 1 − c(1+k) z), |G|² = 1 − k c² r² on the surface; all that follows is counted in its length.
    const gz = f64x2.sub(one, f64x2.mul(ck1, hz));
    const size = spherical ? one : f64x2.sub(one, f64x2.mul(bulge, radiusSq));
    const squared = f64x2.add(spherical ? rest : f64x2.mul(rest, size), f64x2.mul(muSq, disc));
    let good = f64x2.ge(disc, f64x2.mul(splat(GRAZING), bSq));
    good = v128.and(good, f64x2.gt(gz, splat(0))); // this sheet, this side of the equator
    good = v128.and(good, v128.and(f64x2.le(radiusSq, clear), f64x2.ge(squared, splat(0))));
    if (load<u16>(usize(i), STATUS) != 0 || !i64x2.all_true(good)) {
      carefully(i, i + 2, c, k, 0, before, behind, reflects, clearSq, gap, number);
      continue;
    }
    const bent = reflects ? f64x2.neg(root) : v128.or(f64x2.sqrt(squared), side);
    let along = f64x2.sub(bent, f64x2.mul(mu, root));
    if (!spherical) along = f64x2.div(along, size);
    const alongC = f64x2.mul(along, cc);
    const way = close ? t : f64x2.add(near, t);
    v128.store(at, f64x2.add(v128.load(at, PATH), f64x2.mul(way, index)), PATH);
    v128.store(at, hx, X);
    v128.store(at, hy, Y);
    v128.store(at, f64x2.sub(hz, step), Z);
    v128.store(at, f64x2.sub(f64x2.mul(mu, l), f64x2.mul(alongC, hx)), L);
    v128.store(at, f64x2.sub(f64x2.mul(mu, m), f64x2.mul(alongC, hy)), M);
    v128.store(at, f64x2.add(f64x2.mul(mu, n), f64x2.mul(along, gz)), N);
    if (normals) {
      const scale = spherical ? one : f64x2.div(one, f64x2.sqrt(size));
      const tilt = f64x2.neg(spherical ? cc : f64x2.mul(cc, scale));
      v128.store(at, f64x2.mul(tilt, hx), NX);
      v128.store(at, f64x2.mul(tilt, hy), NY);
      v128.store(at, spherical ? gz : f64x2.mul(gz, scale), NZ);
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
  if (close) {
    if (abs(c) > CURVED) trace(count, c, 0, before, behind, reflects, clearSq, gap, number, true, normals, true, true);
    else trace(count, c, 0, before, behind, reflects, clearSq, gap, number, true, normals, true, false);
  } else trace(count, c, 0, before, behind, reflects, clearSq, gap, number, false, normals, true, false);
}

/** A conic of revolution with conic constant k. */
export function conic(
  count: i32, c: f64, k: f64, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64, number: i32,
  close: bool, normals: bool,
): void {
  if (close) trace(count, c, k, before, behind, reflects, clearSq, gap, number, true, normals, false, false);
  else trace(count, c, k, before, behind, reflects, clearSq, gap, number, false, normals, false, false);
}

/**
 * A conic with even powers of r; their coefficients stand in the block's place for terms. Newton's method takes one step for all
 * rays at a time, so that their chains of square root, polynomial and division overlap. Its steps shrink quadratically, each by the
 * same factor times the square of the one before: δ³/δ₀² is the length of the next, which is left out when it is nothing. Between
 * the steps T, NX and NZ hold distances, the length of the last step, and which rays are done.
 */
export function evenAsphere(
  count: i32, c: f64, k: f64, terms: i32, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64,
  number: i32, close: bool, normals: bool,
): void {
  if (terms <= FEW) even(count, c, k, terms, before, behind, reflects, clearSq, gap, number, close, normals, true);
  else even(count, c, k, terms, before, behind, reflects, clearSq, gap, number, close, normals, false);
}

/** Up to r¹⁰ polynomials are written out, their coefficients held in registers; behind the last one they are 0. */
const FEW: i32 = 5;

// @ts-ignore: decorator
@inline
function coefficient(place: usize, term: i32): v128 {
  return v128.load64_splat(place + 8 * usize(term));
}

// @ts-ignore: decorator
@inline
function even(
  count: i32, c: f64, k: f64, terms: i32, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64,
  number: i32, close: bool, normals: bool, few: bool,
): void {
  const one = splat(1);
  const sign = splat(-0.0);
  const cc = splat(c);
  const squeeze = splat((1 + k) * c * c);
  const flat = abs(c) < FLAT;
  const radius = splat(1 / c);
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
    // To the sphere of the vertex, or as near as the ray comes to it: good enough to begin with.
    const along = f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(z, n));
    const b = f64x2.sub(n, f64x2.mul(cc, along));
    const square = f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(z, z));
    const d = f64x2.sub(f64x2.mul(cc, square), f64x2.add(z, z));
    const disc = f64x2.max(f64x2.sub(f64x2.mul(b, b), f64x2.mul(cc, d)), splat(0));
    const root = v128.or(f64x2.sqrt(disc), v128.and(n, sign));
    const t = flat ? f64x2.div(d, f64x2.add(b, root)) : f64x2.mul(f64x2.sub(b, root), radius);
    v128.store(at, f64x2.add(near, t), T);
    v128.store(at, splat(0), NX);
  }
  const written: i32 = few ? FEW : terms;
  for (let term = 0; term < written; term++) {
    const place: usize = 8 * usize(term);
    store<f64>(place, f64(term + 1) * load<f64>(place, TERMS), SLOPES);
  }
  const a0 = coefficient(TERMS, 0);
  const a1 = coefficient(TERMS, 1);
  const a2 = coefficient(TERMS, 2);
  const a3 = coefficient(TERMS, 3);
  const a4 = coefficient(TERMS, 4);
  let settled = false;
  for (let round = 0; round < QUICK_STEPS && !settled; round++) {
    let all = i64x2.splat(-1);
    for (let i = 0; i < count; i += 2) {
      const at: usize = 8 * usize(i);
      if (round > 1 && i64x2.all_true(v128.load(at, NZ))) continue;
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
      let sum: v128;
      let slope: v128;
      if (few) {
        slope = a4;
        sum = f64x2.add(f64x2.mul(a4, radiusSq), a3);
        slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
        sum = f64x2.add(f64x2.mul(sum, radiusSq), a2);
        slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
        sum = f64x2.add(f64x2.mul(sum, radiusSq), a1);
        slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
        sum = f64x2.add(f64x2.mul(sum, radiusSq), a0);
      } else {
        sum = splat(0);
        slope = splat(0);
        for (let term = terms - 1; term >= 0; term--) {
          slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
          sum = f64x2.add(f64x2.mul(sum, radiusSq), v128.load64_splat(8 * usize(term), TERMS));
        }
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
      const length = f64x2.abs(change);
      const last = v128.load(at, NX);
      v128.store(at, length, NX);
      // Lanes of NaN are left to the careful way.
      const small = f64x2.le(length, f64x2.mul(splat(ROUNDING), f64x2.abs(t)));
      const cube = f64x2.mul(f64x2.mul(length, length), length);
      const nothing = f64x2.le(cube, f64x2.mul(splat(LEFT_OUT), f64x2.mul(last, last)));
      const done = v128.or(v128.or(small, nothing), f64x2.ne(change, change));
      v128.store(at, done, NZ);
      all = v128.and(all, done);
    }
    settled = i64x2.all_true(all);
  }
  const s1 = coefficient(SLOPES, 1);
  const s2 = coefficient(SLOPES, 2);
  const s3 = coefficient(SLOPES, 3);
  const s4 = coefficient(SLOPES, 4);
  const ratio = reflects ? 1.0 : before / behind;
  const mu = splat(ratio);
  const muSq = splat(ratio * ratio);
  const rest = splat(1 - ratio * ratio);
  const index = splat(before);
  const clear = splat(min(clearSq, FARTHEST * FARTHEST));
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
    const e = f64x2.sqrt(f64x2.sub(one, f64x2.mul(squeeze, radiusSq)));
    let slope: v128;
    if (few) {
      slope = f64x2.add(f64x2.mul(s4, radiusSq), s3);
      slope = f64x2.add(f64x2.mul(slope, radiusSq), s2);
      slope = f64x2.add(f64x2.mul(slope, radiusSq), s1);
      slope = f64x2.add(f64x2.mul(slope, radiusSq), a0);
    } else {
      slope = splat(0);
      for (let term = terms - 1; term >= 0; term--)
        slope = f64x2.add(f64x2.mul(slope, radiusSq), v128.load64_splat(8 * usize(term), SLOPES));
    }
    // Twice the slope over r², times e: the gradient of z − sag is (−twice x, −twice y, e) but for its length.
    const twice = f64x2.add(cc, f64x2.mul(f64x2.add(slope, slope), e));
    const size = f64x2.add(f64x2.mul(f64x2.mul(twice, twice), radiusSq), f64x2.mul(e, e));
    const tilt = f64x2.neg(twice);
    const gx = f64x2.mul(tilt, x);
    const gy = f64x2.mul(tilt, y);
    const cosine = f64x2.add(f64x2.add(f64x2.mul(l, gx), f64x2.mul(m, gy)), f64x2.mul(n, e));
    const squared = f64x2.add(f64x2.mul(rest, size), f64x2.mul(muSq, f64x2.mul(cosine, cosine)));
    let good = v128.and(f64x2.le(radiusSq, clear), f64x2.ge(squared, splat(0)));
    if (!settled) good = v128.and(good, v128.load(at, NZ));
    if (load<u16>(usize(i), STATUS) != 0 || !i64x2.all_true(good)) {
      carefully(i, i + 2, c, k, terms, before, behind, reflects, clearSq, gap, number);
      continue;
    }
    const bent = reflects ? f64x2.neg(cosine) : v128.or(f64x2.sqrt(squared), v128.and(cosine, sign));
    const along = f64x2.div(f64x2.sub(bent, f64x2.mul(mu, cosine)), size);
    v128.store(at, f64x2.add(v128.load(at, PATH), f64x2.mul(t, index)), PATH);
    v128.store(at, x, X);
    v128.store(at, y, Y);
    v128.store(at, f64x2.sub(z, step), Z);
    v128.store(at, f64x2.add(f64x2.mul(mu, l), f64x2.mul(along, gx)), L);
    v128.store(at, f64x2.add(f64x2.mul(mu, m), f64x2.mul(along, gy)), M);
    v128.store(at, f64x2.add(f64x2.mul(mu, n), f64x2.mul(along, e)), N);
    if (normals) {
      const scale = f64x2.div(one, f64x2.sqrt(size));
      v128.store(at, f64x2.mul(gx, scale), NX);
      v128.store(at, f64x2.mul(gy, scale), NY);
      v128.store(at, f64x2.mul(e, scale), NZ);
    }
  }
}

/** The second half alone, for rays that `meet` brought to the surface. */
export function turn(count: i32, before: f64, behind: f64, reflects: bool, gap: f64, number: i32): void {
  turnRange(0, count, before, behind, reflects, gap, number);
}
