/**
 * The nearest faces of a block of rays in a scene of few faces: one face over all rays, two rays at a time in SIMD lanes. The rules are
 * those of `nearest.ts`; ranks and indices of faces stand in columns of numbers, so that lanes can be chosen by masks.
 */
import {
  FACE_CORNERS, FACE_FORM, FACE_HOLES, FACE_INNER, FACE_NUMBERS, FACE_OUTER, FACE_SHIFT, FACE_SIZE, FACE_UPRIGHT, FORM_FLAT,
  FORM_QUADRIC,
} from '../../src/scene/kernel-layout';
import { BEST, HIT, innermost, L, M, N, RANK, within, X, Y, Z } from './block';
import { BEHIND, meetFor, NEAR } from './nearest';
import { faceCount, faces } from './state';

// @ts-ignore: decorator
@inline
function splat(value: f64): v128 {
  return f64x2.splat(value);
}

// @ts-ignore: decorator
@inline
function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

// @ts-ignore: decorator
@inline
function add(a: v128, b: v128): v128 {
  return f64x2.add(a, b);
}

// @ts-ignore: decorator
@inline
function number(face: usize, at: i32): v128 {
  return v128.load64_splat(face + 8 * usize(at), FACE_NUMBERS);
}

/** All ones in the lanes of the rays for which it is so. */
// @ts-ignore: decorator
@inline
function lanes(first: bool, second: bool): v128 {
  return i64x2.replace_lane(i64x2.splat(first ? -1 : 0), 1, second ? -1 : 0);
}

/** Keeps what was met where it is nearer, or as near and of higher rank. */
// @ts-ignore: decorator
@inline
function offer(at: usize, t: v128, valid: v128, rank: v128, index: v128): void {
  const best = v128.load(at, BEST);
  const held = v128.load(at, RANK);
  const spare = splat(BEHIND);
  const nearer = f64x2.le(t, f64x2.sub(best, spare));
  const tied = f64x2.le(t, add(best, spare));
  const wins = v128.or(f64x2.gt(rank, held), v128.and(f64x2.eq(rank, held), f64x2.lt(t, best)));
  const better = v128.and(valid, v128.or(nearer, v128.and(tied, wins)));
  v128.store(at, v128.bitselect(t, best, better), BEST);
  v128.store(at, v128.bitselect(rank, held, better), RANK);
  v128.store(at, v128.bitselect(index, v128.load(at, HIT), better), HIT);
}

/** The same for a face that bounds no body, of rank 0. */
// @ts-ignore: decorator
@inline
function offerFree(at: usize, t: v128, valid: v128, index: v128): void {
  const best = v128.load(at, BEST);
  const held = v128.load(at, RANK);
  const nearer = f64x2.le(t, f64x2.sub(best, v128.and(splat(BEHIND), f64x2.gt(held, splat(0)))));
  const better = v128.and(valid, v128.and(nearer, f64x2.ne(t, best)));
  v128.store(at, v128.bitselect(t, best, better), BEST);
  v128.store(at, v128.andnot(held, better), RANK);
  v128.store(at, v128.bitselect(index, v128.load(at, HIT), better), HIT);
}

/** Whether a meeting lets light out of where it is or into where it is not, and its rank; `outward` by lanes. */
// @ts-ignore: decorator
@inline
function offerSolid(
  at: usize, t: v128, valid: v128, outward: v128, index: v128, here: v128, behind: v128, deepest: v128,
): void {
  const fits = v128.bitselect(here, behind, outward);
  const rank = v128.and(outward, add(splat(1), v128.and(deepest, splat(1))));
  offer(at, t, v128.and(valid, fits), rank, index);
}

// @ts-ignore: decorator
@inline
function meetBlock(face: usize, index: i32, count: i32, upright: bool, flat: bool, free: bool): void {
  const r0 = v128.load64_splat(face, 0);
  const r1 = v128.load64_splat(face, 8);
  const r2 = v128.load64_splat(face, 16);
  const r3 = v128.load64_splat(face, 24);
  const r4 = v128.load64_splat(face, 32);
  const r5 = v128.load64_splat(face, 40);
  const r6 = v128.load64_splat(face, 48);
  const r7 = v128.load64_splat(face, 56);
  const r8 = v128.load64_splat(face, 64);
  const sx = v128.load64_splat(face, FACE_SHIFT);
  const sy = v128.load64_splat(face, FACE_SHIFT + 8);
  const sz = v128.load64_splat(face, FACE_SHIFT + 16);
  const inner = load<i32>(face, FACE_INNER);
  const outer = load<i32>(face, FACE_OUTER);
  const own = i64x2.splat(index);
  const least = splat(inner < 0 ? NEAR : -BEHIND);
  const farthest = splat(1e100);
  const zero = splat(0);
  const spare = splat(BEHIND);
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    let x = v128.load(at, X);
    let y = v128.load(at, Y);
    let z = v128.load(at, Z);
    let l = v128.load(at, L);
    let m = v128.load(at, M);
    let n = v128.load(at, N);
    if (upright) {
      x = add(x, sx);
      y = add(y, sy);
      z = add(z, sz);
    } else {
      const gx = x;
      const gy = y;
      const gz = z;
      const gl = l;
      const gm = m;
      const gn = n;
      x = add(add(mul(r0, gx), mul(r1, gy)), add(mul(r2, gz), sx));
      y = add(add(mul(r3, gx), mul(r4, gy)), add(mul(r5, gz), sy));
      z = add(add(mul(r6, gx), mul(r7, gy)), add(mul(r8, gz), sz));
      l = add(add(mul(r0, gl), mul(r1, gm)), mul(r2, gn));
      m = add(add(mul(r3, gl), mul(r4, gm)), mul(r5, gn));
      n = add(add(mul(r6, gl), mul(r7, gm)), mul(r8, gn));
    }
    let here = zero;
    let behind = zero;
    let deepest = zero;
    if (flat) {
      const t = f64x2.div(f64x2.neg(z), n);
      let valid = v128.and(f64x2.ge(t, least), f64x2.lt(t, farthest));
      valid = v128.and(valid, f64x2.le(t, add(v128.load(at, BEST), spare)));
      if (!v128.any_true(valid)) continue;
      const hx = add(x, mul(t, l));
      const hy = add(y, mul(t, m));
      valid = v128.and(valid, v128.and(f64x2.ge(hx, number(face, 0)), f64x2.ge(hy, number(face, 1))));
      valid = v128.and(valid, v128.and(f64x2.le(hx, number(face, 2)), f64x2.le(hy, number(face, 3))));
      if (!v128.any_true(valid)) continue;
      if (free) offerFree(at, t, valid, own);
      else {
        const next = at + 8;
        here = lanes(within(at, inner), within(next, inner));
        behind = outer >= 0 ? lanes(within(at, outer), within(next, outer)) : v128.not(here);
        deepest = lanes(innermost(at) == inner, innermost(next) == inner);
        offerSolid(at, t, valid, f64x2.gt(n, zero), own, here, behind, deepest);
      }
      continue;
    }
    const a = number(face, 0);
    const b = number(face, 1);
    const g = number(face, 2);
    const near = f64x2.neg(add(add(mul(x, l), mul(y, m)), mul(z, n)));
    const px = add(x, mul(near, l));
    const py = add(y, mul(near, m));
    const pz = add(z, mul(near, n));
    const A = add(mul(a, add(mul(l, l), mul(m, m))), mul(b, mul(n, n)));
    const B = add(add(mul(a, add(mul(px, l), mul(py, m))), mul(mul(b, pz), n)), mul(g, n));
    const C = add(
      add(mul(a, add(mul(px, px), mul(py, py))), mul(mul(b, pz), pz)),
      add(mul(add(g, g), pz), number(face, 3)),
    );
    const square = f64x2.sub(mul(B, B), mul(A, C));
    const real = f64x2.ge(square, zero);
    if (!v128.any_true(real)) continue;
    const root = v128.or(f64x2.sqrt(square), v128.and(B, splat(-0.0)));
    const q = f64x2.neg(add(B, root));
    const one = f64x2.div(C, q);
    const other = f64x2.div(q, A);
    const best = v128.load(at, BEST);
    if (!free) {
      const next = at + 8;
      here = lanes(within(at, inner), within(next, inner));
      behind = outer >= 0 ? lanes(within(at, outer), within(next, outer)) : v128.not(here);
      deepest = lanes(innermost(at) == inner, innermost(next) == inner);
    }
    for (let k = 0; k < 2; k++) {
      const t = k == 0 ? f64x2.pmin(one, other) : f64x2.pmax(one, other);
      const far = add(near, t);
      let valid = v128.and(f64x2.ge(far, least), f64x2.lt(f64x2.abs(t), farthest));
      valid = v128.and(valid, v128.and(real, f64x2.le(far, add(best, spare))));
      if (!v128.any_true(valid)) continue;
      const hx = add(px, mul(t, l));
      const hy = add(py, mul(t, m));
      const hz = add(pz, mul(t, n));
      const r = add(mul(hx, hx), mul(hy, hy));
      valid = v128.and(valid, v128.and(f64x2.ge(r, number(face, 4)), f64x2.le(r, number(face, 5))));
      valid = v128.and(valid, v128.and(f64x2.ge(hz, number(face, 6)), f64x2.le(hz, number(face, 7))));
      const vertex = number(face, 8);
      const sheet = mul(add(mul(b, hz), g), vertex);
      valid = v128.and(valid, v128.or(f64x2.gt(sheet, zero), f64x2.eq(vertex, zero)));
      if (free) offerFree(at, far, valid, own);
      else {
        // Half the gradient along the ray says by which way it goes through.
        const outward = f64x2.gt(mul(number(face, 9), add(mul(A, t), B)), zero);
        offerSolid(at, far, valid, outward, own, here, behind, deepest);
      }
    }
  }
}

/** Finds what the first `count` rays of the block meet. */
export function nearestOfFew(count: i32): void {
  const none = i64x2.splat(-1);
  const far = splat(Infinity);
  const zero = splat(0);
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    v128.store(at, none, HIT);
    v128.store(at, far, BEST);
    v128.store(at, zero, RANK);
  }
  for (let index = 0; index < faceCount; index++) {
    const face = faces + usize(index) * FACE_SIZE;
    const form = load<i32>(face, FACE_FORM);
    const upright = load<i32>(face, FACE_UPRIGHT) != 0;
    const free = load<i32>(face, FACE_INNER) < 0;
    if (form == FORM_QUADRIC) {
      if (upright) {
        if (free) meetBlock(face, index, count, true, false, true);
        else meetBlock(face, index, count, true, false, false);
      } else if (free) meetBlock(face, index, count, false, false, true);
      else meetBlock(face, index, count, false, false, false);
    } else if (form == FORM_FLAT && load<i32>(face, FACE_CORNERS) + load<i32>(face, FACE_HOLES) == 0) {
      if (upright) {
        if (free) meetBlock(face, index, count, true, true, true);
        else meetBlock(face, index, count, true, true, false);
      } else if (free) meetBlock(face, index, count, false, true, true);
      else meetBlock(face, index, count, false, true, false);
    } else {
      for (let i = 0; i < count; i++) meetFor(index, 8 * usize(i));
    }
  }
}
