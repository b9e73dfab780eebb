/**
 * Tracing through one surface, two rays at a time in SIMD lanes: intersection, aperture, normal, refraction or reflection,
 * and the step to the next vertex. Short passes over a block of rays rather than one long one: the processor overlaps the square
 * roots and divisions of neighbouring rays as far as it can look ahead.
 *
 * The formulas, their failures and the meaning of every column are those of `shapes/conic.ts`, `shapes/even-asphere.ts` and
 * `sequence/trace.ts`, which are the kernel's test oracle. Rays that ended keep their coordinates.
 * AssemblyScript, built by `npm run kernels`.
 */

/** Rays in a block; `compute/kernel.ts` lays its views over the same places. */
const BLOCK: usize = 256;
const COLUMN: usize = BLOCK * 8;

const BASE: usize = memory.data(11 * 256 * 8 + 3 * 256 + 16 * 8, 16);

// Columns follow each other from the start of the block: positions, directions, path, normals, distance; then small ones.
const X: usize = BASE + 0 * COLUMN;
const Y: usize = BASE + 1 * COLUMN;
const Z: usize = BASE + 2 * COLUMN;
const L: usize = BASE + 3 * COLUMN;
const M: usize = BASE + 4 * COLUMN;
const N: usize = BASE + 5 * COLUMN;
const PATH: usize = BASE + 6 * COLUMN;
const NX: usize = BASE + 7 * COLUMN;
const NY: usize = BASE + 8 * COLUMN;
const NZ: usize = BASE + 9 * COLUMN;
const T: usize = BASE + 10 * COLUMN;
const STATUS: usize = BASE + 11 * COLUMN;
const AT: usize = STATUS + BLOCK;
/** Coefficients of r², r⁴ …, at most 16. */
const TERMS: usize = AT + 2 * BLOCK;

const MISSED: u8 = 1;
const TOTAL_REFLECTION: u8 = 2;
const CLIPPED: u8 = 3;
const NO_INDEX: u8 = 5;

const FARTHEST: f64 = 1e100;
const SETTLED: f64 = 1e-9;
const MAX_STEPS: i32 = 40;
/** See `shapes/conic.ts`. */
const ON_SURFACE: f64 = 1e-5;

/** Where the block begins in memory. */
export function block(): usize {
  return BASE;
}

// @ts-ignore: decorator
@inline
function splat(value: f64): v128 {
  return f64x2.splat(value);
}

/** Lanes of a vector as all ones where a ray still goes on. */
// @ts-ignore: decorator
@inline
function aliveLanes(ray: usize): v128 {
  const pair = load<u16>(ray, STATUS);
  if (pair == 0) return i64x2.splat(-1);
  return i64x2.replace_lane(
    i64x2.splat((pair & 0xff) == 0 ? -1 : 0),
    1,
    pair >> 8 == 0 ? -1 : 0,
  );
}

/** Ends the rays of the lanes in `ended`. */
function end(ray: usize, ended: v128, status: u8, surface: i32): void {
  if (i64x2.extract_lane(ended, 0) != 0) {
    store<u8>(ray, status, STATUS);
    store<i16>(2 * ray, i16(surface), AT);
  }
  if (i64x2.extract_lane(ended, 1) != 0) {
    store<u8>(ray, status, STATUS + 1);
    store<i16>(2 * ray, i16(surface), AT + 2);
  }
}

/** Keeps the new value in the lanes of `mask`, the old one in the others. */
// @ts-ignore: decorator
@inline
function keep(next: v128, old: v128, mask: v128): v128 {
  return v128.bitselect(next, old, mask);
}

/** Distance to a conic of revolution, into T; NaN where a ray misses it or meets the other sheet. */
// @ts-ignore: decorator
@inline
function intersect(from: i32, count: i32, c: f64, k: f64, spherical: bool): void {
  const one = splat(1);
  const cc = splat(c);
  const k1 = splat(1 + k);
  const ck1 = splat(c * (1 + k));
  for (let i = from; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    let x = v128.load(at, X);
    let y = v128.load(at, Y);
    let z = v128.load(at, Z);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    // From the point of the ray nearest the vertex: from far away the terms of d would cancel.
    const near = f64x2.neg(f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(z, n)));
    x = f64x2.add(x, f64x2.mul(near, l));
    y = f64x2.add(y, f64x2.mul(near, m));
    z = f64x2.add(z, f64x2.mul(near, n));
    const a = spherical ? cc : f64x2.mul(cc, f64x2.add(one, f64x2.mul(splat(k), f64x2.mul(n, n))));
    const zk = spherical ? z : f64x2.mul(k1, z);
    const along = f64x2.add(f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m)), f64x2.mul(zk, n));
    const b = f64x2.sub(n, f64x2.mul(cc, along));
    const square = f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(zk, z));
    const d = f64x2.sub(f64x2.mul(cc, square), f64x2.add(z, z));
    const root = f64x2.sqrt(f64x2.sub(f64x2.mul(b, b), f64x2.mul(a, d)));
    const sameSign = v128.or(root, v128.and(n, splat(-0.0))); // the root with the sign of n
    const further = f64x2.div(d, f64x2.add(b, sameSign));
    const hz = f64x2.add(z, f64x2.mul(further, n));
    const hx = f64x2.add(x, f64x2.mul(further, l));
    const hy = f64x2.add(y, f64x2.mul(further, m));
    const off = f64x2.sub(
      f64x2.mul(cc, f64x2.add(f64x2.add(f64x2.mul(hx, hx), f64x2.mul(hy, hy)), f64x2.mul(k1, f64x2.mul(hz, hz)))),
      f64x2.add(hz, hz),
    );
    const onIt = f64x2.le(f64x2.abs(f64x2.mul(cc, off)), splat(ON_SURFACE));
    const thisSheet = v128.and(onIt, f64x2.lt(f64x2.mul(ck1, hz), one));
    v128.store(at, keep(f64x2.add(near, further), splat(NaN), thisSheet), T);
  }
}

/**
 * Newton's method on z − sag(x, y) from the distances in T, one step for all rays at a time; NaN where it does not settle. Rays that
 * the conic missed begin at the vertex plane. NX holds which rays are still open.
 */
// @ts-ignore: decorator
@inline
function settle(from: i32, count: i32, c: f64, k: f64, terms: i32): void {
  const one = splat(1);
  const cc = splat(c);
  const squeeze = splat((1 + k) * c * c);
  for (let i = from; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const t = v128.load(at, T);
    const met = f64x2.eq(t, t);
    if (!i64x2.all_true(met)) {
      v128.store(at, keep(t, f64x2.div(f64x2.neg(v128.load(at, Z)), v128.load(at, N)), met), T);
    }
    v128.store(at, aliveLanes(usize(i)), NX);
  }
  let left = true;
  for (let step = 0; step < MAX_STEPS && left; step++) {
    left = false;
    for (let i = from; i < count; i += 2) {
      const at: usize = 8 * usize(i);
      const open = v128.load(at, NX);
      if (!v128.any_true(open)) continue;
      const t = v128.load(at, T);
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
        sum = f64x2.add(f64x2.mul(sum, radiusSq), splat(load<f64>(8 * usize(term), TERMS)));
      }
      slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
      // With q = e(1 + e): sag = (c e/q + Σ) r², 2 d(sag)/d(r²) = c (1 + e)/q + 2Σ′. Both sides of Newton's quotient times q.
      const q = f64x2.mul(e, e1);
      const sag = f64x2.mul(f64x2.add(f64x2.mul(cc, e), f64x2.mul(sum, q)), radiusSq);
      const twice = f64x2.add(f64x2.mul(cc, e1), f64x2.mul(f64x2.add(slope, slope), q));
      const across = f64x2.add(f64x2.mul(x, l), f64x2.mul(y, m));
      const change = f64x2.div(
        f64x2.sub(f64x2.mul(z, q), sag),
        f64x2.sub(f64x2.mul(n, q), f64x2.mul(twice, across)),
      );
      const next = keep(f64x2.sub(t, change), t, open);
      const limit = f64x2.mul(splat(SETTLED), f64x2.max(one, f64x2.abs(next)));
      const stillOpen = v128.andnot(open, f64x2.le(f64x2.abs(change), limit));
      v128.store(at, next, T);
      v128.store(at, stillOpen, NX);
      // A ray that left the surface never settles: NaN stays NaN.
      left = left || v128.any_true(v128.and(stillOpen, f64x2.eq(change, change)));
    }
  }
  for (let i = from; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const open = v128.load(at, NX);
    if (v128.any_true(open)) v128.store(at, keep(splat(NaN), v128.load(at, T), open), T);
  }
}

/** Brings the rays to the surface, ends those that miss it or fall outside its aperture, and writes the normals. */
// @ts-ignore: decorator
@inline
function advance(
  from: i32, count: i32, c: f64, k: f64, terms: i32, before: f64, clearSq: f64, number: i32, spherical: bool,
): void {
  const one = splat(1);
  const cc = splat(c);
  const ck1 = splat(c * (1 + k));
  const squeeze = splat((1 + k) * c * c);
  for (let i = from; i < count; i += 2) {
    const ray = usize(i);
    const going = aliveLanes(ray);
    if (!v128.any_true(going)) continue;
    const at: usize = 8 * ray;
    const x0 = v128.load(at, X);
    const y0 = v128.load(at, Y);
    const z0 = v128.load(at, Z);
    const t = v128.load(at, T);
    const path0 = v128.load(at, PATH);
    const found = v128.and(going, f64x2.lt(f64x2.abs(t), splat(FARTHEST)));
    let x = f64x2.add(x0, f64x2.mul(t, v128.load(at, L)));
    let y = f64x2.add(y0, f64x2.mul(t, v128.load(at, M)));
    let z = f64x2.add(z0, f64x2.mul(t, v128.load(at, N)));
    let path = f64x2.add(path0, f64x2.mul(t, splat(before)));
    if (!i64x2.all_true(found)) {
      end(ray, v128.andnot(going, found), MISSED, number);
      x = keep(x, x0, found);
      y = keep(y, y0, found);
      z = keep(z, z0, found);
      path = keep(path, path0, found);
    }
    v128.store(at, path, PATH);
    v128.store(at, x, X);
    v128.store(at, y, Y);
    v128.store(at, z, Z);
    const radiusSq = f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y));
    const outside = v128.and(found, f64x2.gt(radiusSq, splat(clearSq)));
    if (v128.any_true(outside)) end(ray, outside, CLIPPED, number);

    let gx: v128;
    let gy: v128;
    let gz: v128;
    if (terms > 0) {
      const e = f64x2.sqrt(f64x2.sub(one, f64x2.mul(squeeze, radiusSq)));
      let sum = splat(0);
      let slope = splat(0);
      for (let term = terms - 1; term >= 0; term--) {
        slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
        sum = f64x2.add(f64x2.mul(sum, radiusSq), splat(load<f64>(8 * usize(term), TERMS)));
      }
      slope = f64x2.add(f64x2.mul(slope, radiusSq), sum);
      const twice = f64x2.add(f64x2.div(cc, e), f64x2.add(slope, slope));
      gx = f64x2.neg(f64x2.mul(twice, x));
      gy = f64x2.neg(f64x2.mul(twice, y));
      const square = f64x2.add(f64x2.add(f64x2.mul(gx, gx), f64x2.mul(gy, gy)), one);
      gz = f64x2.div(one, f64x2.sqrt(square));
      gx = f64x2.mul(gx, gz);
      gy = f64x2.mul(gy, gz);
    } else {
      gx = f64x2.neg(f64x2.mul(cc, x));
      gy = f64x2.neg(f64x2.mul(cc, y));
      gz = f64x2.sub(one, f64x2.mul(ck1, z));
      const square = f64x2.add(f64x2.add(f64x2.mul(gx, gx), f64x2.mul(gy, gy)), f64x2.mul(gz, gz));
      // On a sphere it is 1 but for rounding: one step of Newton's method does for the root.
      const scale = spherical
        ? f64x2.sub(splat(1.5), f64x2.mul(splat(0.5), square))
        : f64x2.div(one, f64x2.sqrt(square));
      gx = f64x2.mul(gx, scale);
      gy = f64x2.mul(gy, scale);
      gz = f64x2.mul(gz, scale);
    }
    v128.store(at, gx, NX);
    v128.store(at, gy, NY);
    v128.store(at, gz, NZ);
  }
}

/** Reflects or refracts the rays that go on, ends those that are totally reflected, and steps to the next vertex. */
function turnRange(from: i32, count: i32, before: f64, behind: f64, reflects: bool, gap: f64, number: i32): void {
  const one = splat(1);
  const ratio = before / behind;
  const turns = reflects || before != behind;
  if (!turns && gap == 0) return;
  for (let i = from; i < count; i += 2) {
    const ray = usize(i);
    let going = aliveLanes(ray);
    if (!v128.any_true(going)) continue;
    const at: usize = 8 * ray;
    if (turns) {
      const l = v128.load(at, L);
      const m = v128.load(at, M);
      const n = v128.load(at, N);
      const gx = v128.load(at, NX);
      const gy = v128.load(at, NY);
      const gz = v128.load(at, NZ);
      const cosine = f64x2.add(f64x2.add(f64x2.mul(l, gx), f64x2.mul(m, gy)), f64x2.mul(n, gz));
      let ahead = one; // d′ = ahead·d + along·N
      let along: v128;
      if (reflects) along = f64x2.mul(splat(-2), cosine);
      else {
        const squared = f64x2.sub(
          one,
          f64x2.mul(splat(ratio * ratio), f64x2.sub(one, f64x2.mul(cosine, cosine))),
        );
        const refracted = v128.and(going, f64x2.ge(squared, splat(0)));
        if (!i64x2.all_true(refracted)) {
          end(ray, v128.andnot(going, refracted), ratio == ratio ? TOTAL_REFLECTION : NO_INDEX, number);
          going = refracted;
        }
        ahead = splat(ratio);
        const sameSign = v128.or(f64x2.sqrt(squared), v128.and(cosine, splat(-0.0)));
        along = f64x2.sub(sameSign, f64x2.mul(ahead, cosine));
      }
      let l1 = f64x2.add(f64x2.mul(ahead, l), f64x2.mul(along, gx));
      let m1 = f64x2.add(f64x2.mul(ahead, m), f64x2.mul(along, gy));
      let n1 = f64x2.add(f64x2.mul(ahead, n), f64x2.mul(along, gz));
      if (!i64x2.all_true(going)) {
        l1 = keep(l1, l, going);
        m1 = keep(m1, m, going);
        n1 = keep(n1, n, going);
      }
      v128.store(at, l1, L);
      v128.store(at, m1, M);
      v128.store(at, n1, N);
    }
    const z = v128.load(at, Z);
    v128.store(at, keep(f64x2.sub(z, splat(gap)), z, going), Z);
  }
}

/** All three steps for the rays from `from` up to `to`, whatever becomes of them. */
function carefully(
  from: i32, to: i32, c: f64, k: f64, terms: i32, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64,
  number: i32,
): void {
  if (k == 0) intersect(from, to, c, 0, true);
  else intersect(from, to, c, k, false);
  if (terms > 0) settle(from, to, c, k, terms);
  advance(from, to, c, k, terms, before, clearSq, number, k == 0 && terms == 0);
  turnRange(from, to, before, behind, reflects, gap, number);
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
