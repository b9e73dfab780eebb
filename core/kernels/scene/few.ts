/**
 * The nearest faces of a block of rays in a scene of few faces: one face over all rays, two rays at a time in SIMD lanes. The rules are
 * those of `nearest.ts`; ranks and indices of faces stand in columns of numbers, so that lanes can be chosen by masks.
 */
import {
  BEHIND, FACE_CORNERS, FACE_FORM, FACE_HOLES, FACE_INNER, FACE_NUMBERS, FACE_OUTER, FACE_SHIFT, FACE_SIZE, FACE_UPRIGHT, FORM_FLAT,
  FORM_QUADRIC, NEAR,
} from '../../src/scene/kernel-layout.ts';
import { BEST, BLOCK, HIT, innermost, L, M, N, RANK, within, X, Y, Z } from './block';
import { splat, mul, add } from './lanes';
import { meetFor } from './nearest';
import { faceCount, faces, solidCount } from './state';

/** Between the short loops of one face, which let the machine work on many rays at once: point next to the vertex, quadratic, roots. */
const SCRATCH: usize = memory.data(9 * 128 * 8, 16);
const COLUMN: usize = usize(BLOCK) * 8;
const PX: usize = SCRATCH;
const PY: usize = SCRATCH + COLUMN;
const PZ: usize = SCRATCH + 2 * COLUMN;
const PAST: usize = SCRATCH + 3 * COLUMN;
const PA: usize = SCRATCH + 4 * COLUMN;
const PB: usize = SCRATCH + 5 * COLUMN;
const PC: usize = SCRATCH + 6 * COLUMN;
const FIRST_ROOT: usize = SCRATCH + 7 * COLUMN;
const SECOND_ROOT: usize = SCRATCH + 8 * COLUMN;

/** Numbers that loops need: read from memory, which is quicker than constants in the code. */
const KNOWN: usize = memory.data<f64>([1e100, 1e-7, -0.0]);

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
function offer(at: usize, t: v128, valid: v128, rank: v128, index: v128, spare: v128): void {
  const best = v128.load(at, BEST);
  const held = v128.load(at, RANK);
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
function offerFree(at: usize, t: v128, valid: v128, index: v128, spare: v128): void {
  const best = v128.load(at, BEST);
  const held = v128.load(at, RANK);
  const nearer = f64x2.le(t, f64x2.sub(best, v128.and(spare, f64x2.gt(held, splat(0)))));
  const better = v128.and(valid, v128.and(nearer, f64x2.ne(t, best)));
  v128.store(at, v128.bitselect(t, best, better), BEST);
  v128.store(at, v128.andnot(held, better), RANK);
  v128.store(at, v128.bitselect(index, v128.load(at, HIT), better), HIT);
}

/** The same where no face bounds a body: there are no ranks. */
// @ts-ignore: decorator
@inline
function offerAlone(at: usize, t: v128, valid: v128, index: v128): void {
  const best = v128.load(at, BEST);
  const better = v128.and(valid, f64x2.lt(t, best));
  v128.store(at, v128.bitselect(t, best, better), BEST);
  v128.store(at, v128.bitselect(index, v128.load(at, HIT), better), HIT);
}

/** Whether a meeting lets light out of where it is or into where it is not, and its rank; `outward` by lanes. */
// @ts-ignore: decorator
@inline
function offerSolid(
  at: usize, t: v128, valid: v128, outward: v128, index: v128, here: v128, behind: v128, deepest: v128, spare: v128,
): void {
  const fits = v128.bitselect(here, behind, outward);
  const rank = v128.and(outward, add(splat(1), v128.and(deepest, splat(1))));
  offer(at, t, v128.and(valid, fits), rank, index, spare);
}

// @ts-ignore: decorator
@inline
function meetBlock(face: usize, index: i32, count: i32, upright: bool, flat: bool, free: bool, alone: bool, cap: bool): void {
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
  const farthest = v128.load64_splat(KNOWN);
  const spare = v128.load64_splat(KNOWN, 8);
  const signs = v128.load64_splat(KNOWN, 16);
  const zero = splat(0);
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
    if (flat) {
      const t = f64x2.div(f64x2.sub(zero, z), n);
      let valid = v128.and(f64x2.ge(t, least), f64x2.lt(t, farthest));
      valid = v128.and(valid, f64x2.le(t, add(v128.load(at, BEST), spare)));
      if (!v128.any_true(valid)) continue;
      const hx = add(x, mul(t, l));
      const hy = add(y, mul(t, m));
      valid = v128.and(valid, v128.and(f64x2.ge(hx, number(face, 0)), f64x2.ge(hy, number(face, 1))));
      valid = v128.and(valid, v128.and(f64x2.le(hx, number(face, 2)), f64x2.le(hy, number(face, 3))));
      if (!v128.any_true(valid)) continue;
      if (alone) offerAlone(at, t, valid, own);
      else if (free) offerFree(at, t, valid, own, spare);
      else {
        const next = at + 8;
        const here = lanes(within(at, inner), within(next, inner));
        const behind = outer >= 0 ? lanes(within(at, outer), within(next, outer)) : v128.not(here);
        const deepest = lanes(innermost(at) == inner, innermost(next) == inner);
        offerSolid(at, t, valid, f64x2.gt(n, zero), own, here, behind, deepest, spare);
      }
      continue;
    }
    const a = number(face, 0);
    const b = number(face, 1);
    const past = add(add(mul(x, l), mul(y, m)), mul(z, n));
    x = f64x2.sub(x, mul(past, l));
    y = f64x2.sub(y, mul(past, m));
    z = f64x2.sub(z, mul(past, n));
    const bz = add(mul(b, z), number(face, 2));
    const A = add(mul(a, add(mul(l, l), mul(m, m))), mul(b, mul(n, n)));
    const B = add(mul(a, add(mul(x, l), mul(y, m))), mul(bz, n));
    const C = add(
      mul(a, add(mul(x, x), mul(y, y))),
      add(mul(add(bz, number(face, 2)), z), number(face, 3)),
    );
    if (!upright) {
      v128.store(at, x, PX);
      v128.store(at, y, PY);
      v128.store(at, z, PZ);
    }
    v128.store(at, past, PAST);
    v128.store(at, A, PA);
    v128.store(at, B, PB);
    v128.store(at, C, PC);
  }
  if (flat) return;
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const A = v128.load(at, PA);
    const B = v128.load(at, PB);
    const C = v128.load(at, PC);
    // Where there is no root, all that follows is NaN, which is never valid.
    const root = v128.or(f64x2.sqrt(f64x2.sub(mul(B, B), mul(A, C))), v128.and(B, signs));
    const q = f64x2.sub(zero, add(B, root));
    const one = f64x2.div(C, q);
    const other = f64x2.div(q, A);
    v128.store(at, f64x2.pmin(one, other), FIRST_ROOT);
    v128.store(at, f64x2.pmax(one, other), SECOND_ROOT);
  }
  for (let i = 0; i < count; i += 2) {
    const at: usize = 8 * usize(i);
    const limit = add(v128.load(at, BEST), spare);
    const past = v128.load(at, PAST);
    for (let k = 0; k < 2; k++) {
      const t = k == 0 ? v128.load(at, FIRST_ROOT) : v128.load(at, SECOND_ROOT);
      const far = f64x2.sub(t, past);
      let valid = v128.and(f64x2.ge(far, least), f64x2.lt(far, farthest));
      valid = v128.and(valid, f64x2.le(far, limit));
      if (!v128.any_true(valid)) continue;
      let l = v128.load(at, L);
      let m = v128.load(at, M);
      let n = v128.load(at, N);
      if (!upright) {
        const gl = l;
        const gm = m;
        const gn = n;
        l = add(add(mul(r0, gl), mul(r1, gm)), mul(r2, gn));
        m = add(add(mul(r3, gl), mul(r4, gm)), mul(r5, gn));
        n = add(add(mul(r6, gl), mul(r7, gm)), mul(r8, gn));
      }
      // Of an upright face places follow from the ray itself.
      const hz = upright ? add(add(v128.load(at, Z), sz), mul(far, n)) : add(v128.load(at, PZ), mul(t, n));
      if (cap) {
        const hx = upright ? add(add(v128.load(at, X), sx), mul(far, l)) : add(v128.load(at, PX), mul(t, l));
        const hy = upright ? add(add(v128.load(at, Y), sy), mul(far, m)) : add(v128.load(at, PY), mul(t, m));
        const r = add(mul(hx, hx), mul(hy, hy));
        valid = v128.and(valid, v128.and(f64x2.ge(r, number(face, 4)), f64x2.le(r, number(face, 5))));
        valid = v128.and(
          valid,
          f64x2.gt(mul(add(mul(number(face, 1), hz), number(face, 2)), number(face, 8)), zero),
        );
      } else valid = v128.and(valid, v128.and(f64x2.ge(hz, number(face, 6)), f64x2.le(hz, number(face, 7))));
      if (alone) offerAlone(at, far, valid, own);
      else if (free) offerFree(at, far, valid, own, spare);
      else {
        const next = at + 8;
        const here = lanes(within(at, inner), within(next, inner));
        const behind = outer >= 0 ? lanes(within(at, outer), within(next, outer)) : v128.not(here);
        const deepest = lanes(innermost(at) == inner, innermost(next) == inner);
        // Half the gradient along the ray says by which way it goes through.
        const along = mul(number(face, 9), add(mul(v128.load(at, PA), t), v128.load(at, PB)));
        offerSolid(at, far, valid, f64x2.gt(along, zero), own, here, behind, deepest, spare);
      }
    }
  }
}

function flat(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, true, false, false, false);
}

function flatFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, true, true, false, false);
}

function flatAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, true, true, true, false);
}

function flatUpright(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, true, false, false, false);
}

function flatUprightFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, true, true, false, false);
}

function flatUprightAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, true, true, true, false);
}

function cap(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, false, false, true);
}

function capFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, true, false, true);
}

function capAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, true, true, true);
}

function capUpright(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, false, false, true);
}

function capUprightFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, true, false, true);
}

function capUprightAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, true, true, true);
}

function wall(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, false, false, false);
}

function wallFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, true, false, false);
}

function wallAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, false, false, true, true, false);
}

function wallUpright(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, false, false, false);
}

function wallUprightFree(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, true, false, false);
}

function wallUprightAlone(face: usize, index: i32, count: i32): void {
  meetBlock(face, index, count, true, false, true, true, false);
}

/** Called through this list, so that each stays a function of its own: a compiler has too few registers for all of them in one. */
const WAYS: StaticArray<(face: usize, index: i32, count: i32) => void> = [
  flat, flatFree, flatAlone, flatUpright, flatUprightFree, flatUprightAlone,
  cap, capFree, capAlone, capUpright, capUprightFree, capUprightAlone,
  wall, wallFree, wallAlone, wallUpright, wallUprightFree, wallUprightAlone,
];

/** Finds what the first `count` rays of the block meet. */
export function nearestOfFew(count: i32): void {
  const none = i64x2.splat(-1);
  const far = splat(Infinity);
  const zero = splat(0);
  const alone = solidCount == 0;
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
    const bare = load<i32>(face, FACE_CORNERS) + load<i32>(face, FACE_HOLES) == 0;
    if (form == FORM_QUADRIC || (form == FORM_FLAT && bare)) {
      const kind = form == FORM_FLAT ? 0 : load<f64>(face, FACE_NUMBERS + 64) != 0 ? 1 : 2;
      const bounds = load<i32>(face, FACE_INNER) >= 0 ? 0 : alone ? 2 : 1;
      const way = unchecked(WAYS[6 * kind + (upright ? 3 : 0) + bounds]);
      way(face, index, count);
    } else {
      for (let i = 0; i < count; i++) meetFor(index, 8 * usize(i));
    }
  }
}
