/**
 * Tracing through one surface whatever becomes of the rays: intersection, aperture, normal, refraction or reflection, and the step to
 * the next vertex, in short passes over the rays. The quick way of `surfaces.ts` leaves to it the pairs that do not go through plainly.
 */
import {
  aliveLanes, AT, CLIPPED, FARTHEST, keep, L, M, MAX_STEPS, MISSED, N, NO_INDEX, NX, NY, NZ, ON_SURFACE, PATH, SETTLED,
  splat, STATUS, T, TERMS, TOTAL_REFLECTION, X, Y, Z,
} from './layout';

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
export function turnRange(from: i32, count: i32, before: f64, behind: f64, reflects: bool, gap: f64, number: i32): void {
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
export function carefully(
  from: i32, to: i32, c: f64, k: f64, terms: i32, before: f64, behind: f64, reflects: bool, clearSq: f64, gap: f64,
  number: i32,
): void {
  if (k == 0) intersect(from, to, c, 0, true);
  else intersect(from, to, c, k, false);
  if (terms > 0) settle(from, to, c, k, terms);
  advance(from, to, c, k, terms, before, clearSq, number, k == 0 && terms == 0);
  turnRange(from, to, before, behind, reflects, gap, number);
}
