/** The nearest triangle of a mesh: four boxes at a time in f32 lanes, two triangles at a time in f64 lanes. See `bodies/mesh-tree.ts`. */
import { FACE_MESH, FACE_NUMBERS, MESH_BOXES, MESH_PAIRS } from '../../src/scene/kernel-layout.ts';
import { mul } from './lanes';

const NODE: usize = 32 * 4;
const PAIR: usize = 18 * 8;
/** Nodes and leaves to look at: what they are, and where the ray meets their box. */
const OPEN: usize = memory.data(8 * 512, 16);

const NEAR: usize = memory.data(16, 16);
/** Numbers read from memory, which is quicker than constants in the code; 1e-12 is how far beyond its edges a triangle is met. */
const KNOWN: usize = memory.data<f64>([1, -1e-12, 1.000000000001, 1, -1]);

/** The triangle met: twice its pair, and which of the two. */
export let slot: i32 = -1;

// @ts-ignore: decorator
@inline
function minus(a: v128, b: v128): v128 {
  return f64x2.sub(a, b);
}

// @ts-ignore: decorator
@inline
function dot(ax: v128, ay: v128, az: v128, bx: v128, by: v128, bz: v128): v128 {
  return f64x2.add(f64x2.add(mul(ax, bx), mul(ay, by)), mul(az, bz));
}

/**
 * Distance along a line, in the mesh's own coordinates, to the nearest triangle; Infinity where there is none.
 *
 * @param least - distances below it are left out; above `most` likewise
 * @param side - 1 for triangles that are left through only, −1 for those entered through, 0 for both
 */
export function meetMesh(face: usize, x: f64, y: f64, z: f64, l: f64, m: f64, n: f64, least: f64, most: f64, side: i32): f64 {
  const mesh: usize = load<u32>(face, FACE_MESH);
  const boxes: usize = load<u32>(mesh, MESH_BOXES);
  const pairs: usize = load<u32>(mesh, MESH_PAIRS);
  const jx = 1 / l;
  const jy = 1 / m;
  const jz = 1 / n;
  // From where the line comes to the box about all: f32 has digits for places in the mesh, not for places far from it.
  let start: f64 = 0;
  const ex = ((jx < 0 ? load<f64>(face, FACE_NUMBERS + 24) : load<f64>(face, FACE_NUMBERS)) - x) * jx;
  const ey = ((jy < 0 ? load<f64>(face, FACE_NUMBERS + 32) : load<f64>(face, FACE_NUMBERS + 8)) - y) * jy;
  const ez = ((jz < 0 ? load<f64>(face, FACE_NUMBERS + 40) : load<f64>(face, FACE_NUMBERS + 16)) - z) * jz;
  if (ex > start) start = ex;
  if (ey > start) start = ey;
  if (ez > start) start = ez;
  if (!(start < 1e30)) return Infinity;
  const ox = f32x4.splat(f32(x + start * l));
  const oy = f32x4.splat(f32(y + start * m));
  const oz = f32x4.splat(f32(z + start * n));
  const ix = f32x4.splat(f32(jx));
  const iy = f32x4.splat(f32(jy));
  const iz = f32x4.splat(f32(jz));
  // The near and the far side of a box by the sign of one over the direction, which knows −0.
  const nx: usize = jx < 0 ? 16 : 0;
  const ny: usize = jy < 0 ? 16 : 0;
  const nz: usize = jz < 0 ? 16 : 0;
  const dx = f64x2.splat(l);
  const dy = f64x2.splat(m);
  const dz = f64x2.splat(n);
  const px = f64x2.splat(x);
  const py = f64x2.splat(y);
  const pz = f64x2.splat(z);
  const from = f32x4.splat(f32(least - start) - 1e-4 * f32(start));
  const one = v128.load64_splat(KNOWN);
  const rim = v128.load64_splat(KNOWN, 8);
  const beyond = v128.load64_splat(KNOWN, 16);
  const wrongWay = side == 0 ? f64x2.splat(0) : side > 0 ? v128.load64_splat(KNOWN, 24) : v128.load64_splat(KNOWN, 32);
  const lowest = f64x2.splat(least);
  let best = most;
  let farthest = f64x2.splat(best);
  let limit = f32(best - start) * 1.000001;
  slot = -1;
  let top: usize = OPEN;
  let next: i32 = 0;
  for (;;) {
    if (next >= 0) {
      const box = boxes + usize(next) * NODE;
      const ref = box + 96;
      let near = f32x4.pmax(from, f32x4.mul(f32x4.sub(v128.load(box + nx), ox), ix));
      near = f32x4.pmax(near, f32x4.mul(f32x4.sub(v128.load(box + ny, 32), oy), iy));
      near = f32x4.pmax(near, f32x4.mul(f32x4.sub(v128.load(box + nz, 64), oz), iz));
      let far = f32x4.pmin(f32x4.splat(limit), f32x4.mul(f32x4.sub(v128.load(box - nx, 16), ox), ix));
      far = f32x4.pmin(far, f32x4.mul(f32x4.sub(v128.load(box - ny, 48), oy), iy));
      far = f32x4.pmin(far, f32x4.mul(f32x4.sub(v128.load(box - nz, 80), oz), iz));
      let which = i32x4.bitmask(f32x4.le(near, far));
      if (which != 0) {
        v128.store(NEAR, near);
        let k: usize = ctz(which);
        which &= which - 1;
        next = load<i32>(ref + 4 * k);
        if (which == 0) continue;
        // The nearest of those met comes next; the others wait, the nearer on top.
        let t = load<f32>(NEAR + 4 * k);
        const bottom = top;
        do {
          k = ctz(which);
          which &= which - 1;
          let other = load<i32>(ref + 4 * k);
          let u = load<f32>(NEAR + 4 * k);
          if (u < t) {
            const node = next;
            const far = t;
            next = other;
            t = u;
            other = node;
            u = far;
          }
          let place = top;
          while (place > bottom && load<f32>(place - 4) < u) {
            store<u64>(place, load<u64>(place - 8));
            place -= 8;
          }
          store<i32>(place, other);
          store<f32>(place, u, 4);
          top += 8;
        } while (which != 0);
        continue;
      }
    } else {
      const packed = -1 - next;
      let p = pairs + usize(packed >> 3) * PAIR;
      const end = p + usize(packed & 7) * PAIR;
      for (; p < end; p += PAIR) {
        const ax = v128.load(p, 48);
        const ay = v128.load(p, 64);
        const az = v128.load(p, 80);
        const bx = v128.load(p, 96);
        const by = v128.load(p, 112);
        const bz = v128.load(p, 128);
        const cx = minus(mul(dy, bz), mul(dz, by));
        const cy = minus(mul(dz, bx), mul(dx, bz));
        const cz = minus(mul(dx, by), mul(dy, bx));
        const det = dot(ax, ay, az, cx, cy, cz);
        const inverse = f64x2.div(one, det);
        const sx = minus(px, v128.load(p));
        const sy = minus(py, v128.load(p, 16));
        const sz = minus(pz, v128.load(p, 32));
        const u = mul(dot(sx, sy, sz, cx, cy, cz), inverse);
        const qx = minus(mul(sy, az), mul(sz, ay));
        const qy = minus(mul(sz, ax), mul(sx, az));
        const qz = minus(mul(sx, ay), mul(sy, ax));
        const v = mul(dot(dx, dy, dz, qx, qy, qz), inverse);
        let valid = v128.and(f64x2.ge(u, rim), f64x2.ge(v, rim));
        valid = v128.and(valid, f64x2.le(f64x2.add(u, v), beyond));
        // Where only one side counts, the sign of the determinant must be the other way: no product above 0.
        valid = v128.and(valid, f64x2.le(mul(det, wrongWay), f64x2.splat(0)));
        if (!v128.any_true(valid)) continue;
        const t = mul(dot(bx, by, bz, qx, qy, qz), inverse);
        valid = v128.and(valid, v128.and(f64x2.ge(t, lowest), f64x2.le(t, farthest)));
        const hits = i64x2.bitmask(valid);
        if (hits == 0) continue;
        const t0 = f64x2.extract_lane(t, 0);
        const t1 = f64x2.extract_lane(t, 1);
        const second = hits == 2 || (hits == 3 && t1 < t0);
        best = second ? t1 : t0;
        farthest = f64x2.splat(best);
        slot = 2 * i32((p - pairs) / PAIR) + (second ? 1 : 0);
        limit = f32(best - start) * 1.000001;
      }
    }
    // The next that waits and is not too far by now.
    let found = false;
    while (top > OPEN && !found) {
      top -= 8;
      found = load<f32>(top, 4) <= limit;
    }
    if (!found) break;
    next = load<i32>(top);
  }
  return slot < 0 ? Infinity : best;
}

/** Writes the normal of a triangle, not of unit length, to three numbers at `to`. */
export function normalOfSlot(face: usize, triangle: i32, to: usize): void {
  const mesh: usize = load<u32>(face, FACE_MESH);
  const p = usize(load<u32>(mesh, MESH_PAIRS)) + usize(triangle >> 1) * PAIR + 8 * usize(triangle & 1);
  const ax = load<f64>(p, 48);
  const ay = load<f64>(p, 64);
  const az = load<f64>(p, 80);
  const bx = load<f64>(p, 96);
  const by = load<f64>(p, 112);
  const bz = load<f64>(p, 128);
  store<f64>(to, ay * bz - az * by);
  store<f64>(to, az * bx - ax * bz, 8);
  store<f64>(to, ax * by - ay * bx, 16);
}
