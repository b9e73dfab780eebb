/** The nearest face that a ray can meet, as `SceneTracer` finds it. */
import {
  BEHIND, FACE_CORNER_LIST, FACE_CORNERS, FACE_FORM, FACE_HOLE_LIST, FACE_HOLES, FACE_INNER, FACE_NUMBERS, FACE_OUTER,
  FACE_SHIFT, FACE_SIZE, FACE_UPRIGHT, FORM_FLAT, FORM_MESH, FORM_QUADRIC, NEAR,
} from '../../src/scene/kernel-layout.ts';
import { BEST, HIT, innermost, RANK, TRIANGLE, within, L, M, N, X, Y, Z } from './block';
import { meetMesh, slot } from './mesh';
import {
  counts, faces, first, meetForeign, MEETINGS, nodes, normalForeign, OPEN_ENTRIES, OPEN_NODES, order, RETURNED,
} from './state';

let best: f64 = 0;
let hitFace: i32 = -1;
let hitRank: i32 = 0;

// @ts-ignore: decorator
@inline
function number(face: usize, at: i32): f64 {
  return load<f64>(face + 8 * usize(at), FACE_NUMBERS);
}

/**
 * See `QuadricFace.meet`: both roots at once, in the lanes of a vector. Meetings too far off or behind are left out before they are
 * looked at closely.
 */
// @ts-ignore: decorator
@inline
function meetQuadric(face: usize, x: f64, y: f64, z: f64, l: f64, m: f64, n: f64): i32 {
  const a = number(face, 0);
  const b = number(face, 1);
  const g = number(face, 2);
  const past = x * l + y * m + z * n;
  const px = x - past * l;
  const py = y - past * m;
  const pz = z - past * n;
  const bz = b * pz + g;
  const A = a * (l * l + m * m) + b * n * n;
  const B = a * (px * l + py * m) + bz * n;
  const C = a * (px * px + py * py) + (bz + g) * pz + number(face, 3);
  const square = B * B - A * C;
  if (!(square >= 0)) return 0;
  const q = -(B + copysign<f64>(Math.sqrt(square), B));
  const both = f64x2.splat(q);
  const t = f64x2.div(f64x2.replace_lane(both, 0, C), f64x2.replace_lane(both, 1, A));
  const far = f64x2.sub(t, f64x2.splat(past));
  const limit = f64x2.splat(min(best + BEHIND, 1e100));
  let valid = v128.and(f64x2.le(far, limit), f64x2.ge(far, f64x2.splat(-BEHIND)));
  if (!v128.any_true(valid)) return 0;
  const hz = f64x2.add(f64x2.splat(pz), f64x2.mul(t, f64x2.splat(n)));
  const vertex = number(face, 8);
  if (vertex != 0) {
    const hx = f64x2.add(f64x2.splat(px), f64x2.mul(t, f64x2.splat(l)));
    const hy = f64x2.add(f64x2.splat(py), f64x2.mul(t, f64x2.splat(m)));
    const r = f64x2.add(f64x2.mul(hx, hx), f64x2.mul(hy, hy));
    valid = v128.and(valid, v128.and(f64x2.ge(r, splatted(face, 4)), f64x2.le(r, splatted(face, 5))));
    const sheet = f64x2.mul(f64x2.add(f64x2.mul(splatted(face, 1), hz), splatted(face, 2)), f64x2.splat(vertex));
    valid = v128.and(valid, f64x2.gt(sheet, f64x2.splat(0)));
  } else valid = v128.and(valid, v128.and(f64x2.ge(hz, splatted(face, 6)), f64x2.le(hz, splatted(face, 7))));
  const which = i64x2.bitmask(valid);
  if (which == 3) {
    v128.store(MEETINGS, far);
    return 2;
  }
  if (which == 0) return 0;
  store<f64>(MEETINGS, which == 1 ? f64x2.extract_lane(far, 0) : f64x2.extract_lane(far, 1));
  return 1;
}

// @ts-ignore: decorator
@inline
function splatted(face: usize, at: i32): v128 {
  return v128.load64_splat(face + 8 * usize(at), FACE_NUMBERS);
}

/** See `PlaneFace.meet`. */
// @ts-ignore: decorator
@inline
function meetFlat(face: usize, x: f64, y: f64, z: f64, l: f64, m: f64, n: f64): i32 {
  const t = -z / n;
  if (!(Math.abs(t) < 1e100) || t > best + BEHIND || t < -BEHIND) return 0;
  const hx = x + t * l;
  const hy = y + t * m;
  if (hx < number(face, 0) || hy < number(face, 1) || hx > number(face, 2) || hy > number(face, 3)) return 0;
  const corners = load<i32>(face, FACE_CORNERS);
  if (corners > 0 && !insidePolygon(load<u32>(face, FACE_CORNER_LIST), corners, hx, hy)) return 0;
  const holes = load<i32>(face, FACE_HOLES);
  let hole: usize = load<u32>(face, FACE_HOLE_LIST);
  for (let k = 0; k < holes; k++, hole += 24) {
    const dx = hx - load<f64>(hole);
    const dy = hy - load<f64>(hole, 8);
    const radius = load<f64>(hole, 16);
    if (dx * dx + dy * dy < radius * radius) return 0;
  }
  store<f64>(MEETINGS, t);
  return 1;
}

function insidePolygon(list: usize, count: i32, x: f64, y: f64): bool {
  let inside = false;
  let xj = load<f64>(list + 16 * usize(count - 1));
  let yj = load<f64>(list + 16 * usize(count - 1), 8);
  for (let i = 0; i < count; i++) {
    const xi = load<f64>(list + 16 * usize(i));
    const yi = load<f64>(list + 16 * usize(i), 8);
    if (yi > y != yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
    xj = xi;
    yj = yi;
  }
  return inside;
}

/** Meets one face: keeps what it finds where that is nearer, and can be, from where the ray is. */
function meet(i: i32, ray: usize): void {
  const face = faces + usize(i) * FACE_SIZE;
  let x = load<f64>(ray, X);
  let y = load<f64>(ray, Y);
  let z = load<f64>(ray, Z);
  let l = load<f64>(ray, L);
  let m = load<f64>(ray, M);
  let n = load<f64>(ray, N);
  if (load<i32>(face, FACE_UPRIGHT) != 0) {
    x += load<f64>(face, FACE_SHIFT);
    y += load<f64>(face, FACE_SHIFT + 8);
    z += load<f64>(face, FACE_SHIFT + 16);
  } else {
    const r0 = load<f64>(face, 0);
    const r1 = load<f64>(face, 8);
    const r2 = load<f64>(face, 16);
    const r3 = load<f64>(face, 24);
    const r4 = load<f64>(face, 32);
    const r5 = load<f64>(face, 40);
    const r6 = load<f64>(face, 48);
    const r7 = load<f64>(face, 56);
    const r8 = load<f64>(face, 64);
    const gx = x;
    const gy = y;
    const gz = z;
    const gl = l;
    const gm = m;
    const gn = n;
    x = r0 * gx + r1 * gy + r2 * gz + load<f64>(face, FACE_SHIFT);
    y = r3 * gx + r4 * gy + r5 * gz + load<f64>(face, FACE_SHIFT + 8);
    z = r6 * gx + r7 * gy + r8 * gz + load<f64>(face, FACE_SHIFT + 16);
    l = r0 * gl + r1 * gm + r2 * gn;
    m = r3 * gl + r4 * gm + r5 * gn;
    n = r6 * gl + r7 * gm + r8 * gn;
  }
  const form = load<i32>(face, FACE_FORM);
  if (form == FORM_MESH) {
    meetOfMesh(i, face, ray, x, y, z, l, m, n);
    return;
  }
  const count =
    form == FORM_QUADRIC
      ? meetQuadric(face, x, y, z, l, m, n)
      : form == FORM_FLAT
        ? meetFlat(face, x, y, z, l, m, n)
        : meetForeign(i, x, y, z, l, m, n);
  const inner = load<i32>(face, FACE_INNER);
  for (let k = 0; k < count; k++) {
    const t = load<f64>(MEETINGS + 8 * usize(k));
    if (t > best + BEHIND || t < -BEHIND || (inner < 0 && t < NEAR)) continue;
    let rank = 0;
    if (inner >= 0) {
      let cosine: f64;
      if (form == FORM_FLAT) cosine = n;
      else if (form == FORM_QUADRIC) {
        // Its sign is all that matters.
        const a = number(face, 0);
        const b = number(face, 1);
        cosine =
          number(face, 9) *
          (a * ((x + t * l) * l + (y + t * m) * m) + (b * (z + t * n) + number(face, 2)) * n);
      } else {
        normalForeign(i, x + t * l, y + t * m, z + t * n);
        cosine = l * load<f64>(RETURNED) + m * load<f64>(RETURNED, 8) + n * load<f64>(RETURNED, 16);
      }
      const here = within(ray, inner);
      const outer = load<i32>(face, FACE_OUTER);
      // Out of the inner body only from inside of it; in from outside of it, or out of the one behind the face.
      const fits = cosine > 0 ? here : outer >= 0 ? within(ray, outer) : !here;
      if (!fits) continue;
      rank = cosine > 0 ? (inner == innermost(ray) ? 2 : 1) : 0;
    }
    // Where bodies touch, a ray leaves the one it is in before it enters the next.
    const tied = hitFace >= 0 && t > best - BEHIND;
    if (tied && (rank < hitRank || (rank == hitRank && t >= best))) continue;
    hitRank = rank;
    best = t;
    hitFace = i;
  }
}

/** The ray that walks the tree: its place and one over its direction, in both lanes. */
let ox: v128 = f64x2.splat(0);
let oy: v128 = f64x2.splat(0);
let oz: v128 = f64x2.splat(0);
let ix: v128 = f64x2.splat(0);
let iy: v128 = f64x2.splat(0);
let iz: v128 = f64x2.splat(0);

/**
 * How far off two neighbouring boxes are met, in lanes; Infinity where the ray passes one. A NaN (along a face of the box) changes
 * nothing: the comparisons choose the other side.
 */
// @ts-ignore: decorator
@inline
function enterPair(node: i32): v128 {
  const boxes = nodes + 48 * usize(node);
  let a = f64x2.mul(f64x2.sub(v128.load(boxes), ox), ix);
  let b = f64x2.mul(f64x2.sub(v128.load(boxes, 48), ox), ix);
  let from = f64x2.pmax(f64x2.splat(-BEHIND), f64x2.pmin(b, a));
  let to = f64x2.pmin(f64x2.splat(Infinity), f64x2.pmax(a, b));
  a = f64x2.mul(f64x2.sub(v128.load(boxes, 16), oy), iy);
  b = f64x2.mul(f64x2.sub(v128.load(boxes, 64), oy), iy);
  from = f64x2.pmax(from, f64x2.pmin(b, a));
  to = f64x2.pmin(to, f64x2.pmax(a, b));
  a = f64x2.mul(f64x2.sub(v128.load(boxes, 32), oz), iz);
  b = f64x2.mul(f64x2.sub(v128.load(boxes, 80), oz), iz);
  from = f64x2.pmax(from, f64x2.pmin(b, a));
  to = f64x2.pmin(to, f64x2.pmax(a, b));
  return v128.bitselect(from, f64x2.splat(Infinity), f64x2.le(from, to));
}

/** Meets a mesh: only its nearest triangle that can be the next. */
function meetOfMesh(i: i32, face: usize, ray: usize, x: f64, y: f64, z: f64, l: f64, m: f64, n: f64): void {
  const inner = load<i32>(face, FACE_INNER);
  const here = inner >= 0 && within(ray, inner);
  const side = inner < 0 ? 0 : here ? 1 : -1;
  const t = meetMesh(face, x, y, z, l, m, n, inner < 0 ? NEAR : -BEHIND, min(best + BEHIND, 1e100), side);
  if (!(t < Infinity)) return;
  const rank = here ? (inner == innermost(ray) ? 2 : 1) : 0;
  const tied = hitFace >= 0 && t > best - BEHIND;
  if (tied && (rank < hitRank || (rank == hitRank && t >= best))) return;
  hitRank = rank;
  best = t;
  hitFace = i;
  store<i32>(ray, slot, TRIANGLE);
}

/** Meets one more face. */
export function meetFor(index: i32, ray: usize): void {
  best = load<f64>(ray, BEST);
  hitFace = load<i32>(ray, HIT);
  hitRank = i32(load<f64>(ray, RANK));
  meet(index, ray);
  store<f64>(ray, best, BEST);
  store<i32>(ray, hitFace, HIT);
  store<f64>(ray, f64(hitRank), RANK);
}

/** Finds what a ray meets in a scene of many faces. */
export function nearest(ray: usize): void {
  best = Infinity;
  hitFace = -1;
  hitRank = 0;
  walk(ray);
  store<i32>(ray, hitFace, HIT);
  store<f64>(ray, best, BEST);
}

function walk(ray: usize): void {
  const one = f64x2.splat(1);
  ox = v128.load64_splat(ray, X);
  oy = v128.load64_splat(ray, Y);
  oz = v128.load64_splat(ray, Z);
  ix = f64x2.div(one, v128.load64_splat(ray, L));
  iy = f64x2.div(one, v128.load64_splat(ray, M));
  iz = f64x2.div(one, v128.load64_splat(ray, N));
  let top: usize = 0;
  let node: i32 = 0;
  let entry: f64 = 0;
  for (;;) {
    if (entry <= best + BEHIND) {
      const size = load<i32>(counts + 4 * usize(node));
      const from = load<i32>(first + 4 * usize(node));
      if (size > 0) {
        for (let k = from; k < from + size; k++) meet(load<i32>(order + 4 * usize(k)), ray);
      } else {
        // The nearer box first: what it holds leaves out most of the other.
        const pair = enterPair(from);
        const a = f64x2.extract_lane(pair, 0);
        const b = f64x2.extract_lane(pair, 1);
        const high = a <= b ? b : a;
        if (high < Infinity) {
          store<i32>(OPEN_NODES + 4 * top, a <= b ? from + 1 : from);
          store<f64>(OPEN_ENTRIES + 8 * top, high);
          top++;
        }
        const low = a <= b ? a : b;
        if (low < Infinity) {
          node = a <= b ? from : from + 1;
          entry = low;
          continue;
        }
      }
    }
    if (top == 0) return;
    top--;
    node = load<i32>(OPEN_NODES + 4 * top);
    entry = load<f64>(OPEN_ENTRIES + 8 * top);
  }
}
