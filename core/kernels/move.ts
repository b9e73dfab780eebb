/**
 * The step into the frame of a surface that is tilted or shifted: `move` of `sequence/trace.ts`, which is its test oracle, to the same
 * bits. AssemblyScript, built by `npm run kernels`.
 */
import { L, M, N, splat, STATUS, X, Y, Z } from './layout';

// @ts-ignore: decorator
@inline
function row(start: v128, a: v128, b: v128, c: v128, x: v128, y: v128, z: v128): v128 {
  return f64x2.add(f64x2.add(f64x2.add(start, f64x2.mul(a, x)), f64x2.mul(b, y)), f64x2.mul(c, z));
}

// @ts-ignore: decorator
@inline
function turned(a: v128, b: v128, c: v128, x: v128, y: v128, z: v128): v128 {
  return f64x2.add(f64x2.add(f64x2.mul(a, x), f64x2.mul(b, y)), f64x2.mul(c, z));
}

/** p ↦ shift + R·p, d ↦ R·d, for rays that go on; R row by row. Rays that ended keep their coordinates. */
export function move(
  count: i32, sx: f64, sy: f64, sz: f64,
  xx: f64, xy: f64, xz: f64, yx: f64, yy: f64, yz: f64, zx: f64, zy: f64, zz: f64,
): void {
  const vxx = splat(xx), vxy = splat(xy), vxz = splat(xz);
  const vyx = splat(yx), vyy = splat(yy), vyz = splat(yz);
  const vzx = splat(zx), vzy = splat(zy), vzz = splat(zz);
  const vsx = splat(sx), vsy = splat(sy), vsz = splat(sz);
  for (let i = 0; i < count; i += 2) {
    const at = <usize>i << 3;
    if (i + 1 < count && load<u16>(STATUS + <usize>i) == 0) {
      const x = v128.load(X + at), y = v128.load(Y + at), z = v128.load(Z + at);
      v128.store(X + at, row(vsx, vxx, vxy, vxz, x, y, z));
      v128.store(Y + at, row(vsy, vyx, vyy, vyz, x, y, z));
      v128.store(Z + at, row(vsz, vzx, vzy, vzz, x, y, z));
      const l = v128.load(L + at), m = v128.load(M + at), n = v128.load(N + at);
      v128.store(L + at, turned(vxx, vxy, vxz, l, m, n));
      v128.store(M + at, turned(vyx, vyy, vyz, l, m, n));
      v128.store(N + at, turned(vzx, vzy, vzz, l, m, n));
      continue;
    }
    const end = min(i + 2, count);
    for (let k = i; k < end; k++) {
      if (load<u8>(STATUS + <usize>k) != 0) continue;
      const to = <usize>k << 3;
      const x = load<f64>(X + to), y = load<f64>(Y + to), z = load<f64>(Z + to);
      store<f64>(X + to, sx + xx * x + xy * y + xz * z);
      store<f64>(Y + to, sy + yx * x + yy * y + yz * z);
      store<f64>(Z + to, sz + zx * x + zy * y + zz * z);
      const l = load<f64>(L + to), m = load<f64>(M + to), n = load<f64>(N + to);
      store<f64>(L + to, xx * l + xy * m + xz * n);
      store<f64>(M + to, yx * l + yy * m + yz * n);
      store<f64>(N + to, zx * l + zy * m + zz * n);
    }
  }
}
