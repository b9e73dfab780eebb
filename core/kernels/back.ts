/**
 * Derivatives of bundles from the image back, two rays at a time in SIMD lanes, for lenses of revolution about one axis: conics with even
 * powers of r. The steps are those of `sequence/back-sweep.ts`, which is this kernel's test oracle, in one loop a surface.
 *
 * What is kept of a pair of rays stands together, each number of both rays side by side: a station (where the rays are behind a surface: positions,
 * directions, normals), and an adjoint (by x, y, z, l, m, n and the path). AssemblyScript, built by `npm run kernels`.
 */
import { L, M, N, NX, NY, NZ, splat, X, Y, Z } from './layout';

const LANES: usize = 16;
const STATION: usize = 9 * LANES;
const ADJOINT: usize = 7 * LANES;
/** Numbers of a change: its kind, the variable's column, and two of its own. */
const CHANGE: usize = 4 * 8;

const CURVATURE: i32 = 0;
const CONIC: i32 = 1;
const TERM: i32 = 2;
const INDEX: i32 = 3;

/** Where memory is free. */
export function heap(): usize {
  return __heap_base;
}

/** Keeps the first rays of the block, as they go on to the next surface, pair by pair. */
export function keepStation(pairs: i32, to: usize): void {
  for (let p = 0; p < pairs; p++) {
    const at: usize = LANES * usize(p);
    v128.store(to, v128.load(at, X), 0 * LANES);
    v128.store(to, v128.load(at, Y), 1 * LANES);
    v128.store(to, v128.load(at, Z), 2 * LANES);
    v128.store(to, v128.load(at, L), 3 * LANES);
    v128.store(to, v128.load(at, M), 4 * LANES);
    v128.store(to, v128.load(at, N), 5 * LANES);
    v128.store(to, v128.load(at, NX), 6 * LANES);
    v128.store(to, v128.load(at, NY), 7 * LANES);
    v128.store(to, v128.load(at, NZ), 8 * LANES);
    to += STATION;
  }
}

/** Sets columns to 0. */
export function clear(from: usize, bytes: usize): void {
  memory.fill(from, 0, bytes);
}

// @ts-ignore: decorator
@inline
function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

// @ts-ignore: decorator
@inline
function plus(a: v128, b: v128): v128 {
  return f64x2.add(a, b);
}

// @ts-ignore: decorator
@inline
function minus(a: v128, b: v128): v128 {
  return f64x2.sub(a, b);
}

/** a·b + c·d + e·f. */
// @ts-ignore: decorator
@inline
function dot(a: v128, b: v128, c: v128, d: v128, e: v128, f: v128): v128 {
  return plus(plus(mul(a, b), mul(c, d)), mul(e, f));
}

/** Adds to a pair of a column. */
// @ts-ignore: decorator
@inline
function add(place: usize, value: v128): void {
  v128.store(place, plus(v128.load(place), value));
}

/**
 * Takes adjoints from behind a surface to behind the one before, and adds to the columns of the variables that change the surface or the way to it.
 *
 * @param from - the station before; that of the launch for the first surface
 * @param gap - what was taken off z after this surface, on the way to the next
 * @param sets - adjoints that are taken, one behind the other
 * @param mu - n/n′; 1 at a mirror
 * @param before - refractive index in front
 * @param terms - coefficients of r², r⁴ …, `many` of them
 * @param changes - what changes here: `changed` entries
 * @param thickness - the variable's column of the gap in front; −1 for none
 * @param by - columns of the variables, `variables` for each adjoint
 */
export function backSurface(
  pairs: i32, station: usize, from: usize, gap: f64, adjoints: usize, sets: i32, c: f64, k: f64, terms: usize, many: i32,
  mu: f64, before: f64, changes: usize, changed: i32, thickness: i32, by: usize, variables: i32,
): void {
  const one = splat(1);
  const cc = splat(c);
  const squeeze = splat((1 + k) * c * c);
  const ratio = splat(mu);
  const index = splat(before);
  const step = splat(gap);
  const column: usize = LANES * usize(pairs);
  for (let p = 0; p < pairs; p++) {
    const x = v128.load(station, 0 * LANES);
    const y = v128.load(station, 1 * LANES);
    const nx = v128.load(station, 6 * LANES);
    const ny = v128.load(station, 7 * LANES);
    const nz = v128.load(station, 8 * LANES);
    const inL = v128.load(from, 3 * LANES);
    const inM = v128.load(from, 4 * LANES);
    const inN = v128.load(from, 5 * LANES);
    // Slopes and second derivatives of the sag: z_x = x s with s = c/E + Σ 2(i+1) aᵢ uⁱ, u = x² + y², and z_xx = s + x² · 2 ds/du.
    const u = plus(mul(x, x), mul(y, y));
    const root = f64x2.sqrt(minus(one, mul(squeeze, u)));
    const e = f64x2.div(one, root);
    let s = mul(cc, e);
    let bend = mul(mul(s, squeeze), mul(e, e));
    if (many > 0) {
      let slope = splat(0);
      let second = splat(0);
      for (let i = many - 1; i >= 0; i--) {
        second = plus(mul(second, u), slope);
        slope = plus(mul(slope, u), splat(2 * f64(i + 1) * load<f64>(terms + 8 * usize(i))));
      }
      s = plus(s, slope);
      bend = plus(bend, plus(second, second));
    }
    const zx = mul(x, s);
    const zy = mul(y, s);
    const fxx = plus(s, mul(mul(x, x), bend));
    const fxy = mul(mul(x, y), bend);
    const fyy = plus(s, mul(mul(y, y), bend));
    const qx = mul(ratio, inL);
    const qy = mul(ratio, inM);
    const qz = mul(ratio, inN);
    const g = dot(v128.load(station, 3 * LANES), nx, v128.load(station, 4 * LANES), ny, v128.load(station, 5 * LANES), nz);
    const along = minus(g, dot(qx, nx, qy, ny, qz, nz));
    const perG = f64x2.div(one, g);
    const approach = f64x2.div(one, minus(inN, plus(mul(inL, zx), mul(inM, zy))));
    const way = dot(
      minus(x, v128.load(from, 0 * LANES)), inL,
      minus(y, v128.load(from, 1 * LANES)), inM,
      minus(plus(v128.load(station, 2 * LANES), step), v128.load(from, 2 * LANES)), inN,
    );
    for (let set = 0; set < sets; set++) {
      const adjoint = adjoints + (usize(set) * usize(pairs) + usize(p)) * ADJOINT;
      const al = v128.load(adjoint, 3 * LANES);
      const am = v128.load(adjoint, 4 * LANES);
      const an = v128.load(adjoint, 5 * LANES);
      const path = v128.load(adjoint, 6 * LANES);
      const share = mul(dot(al, nx, am, ny, an, nz), perG);
      const aC = f64x2.neg(mul(share, along));
      const bx = plus(minus(al, mul(share, qx)), mul(aC, nx));
      const by1 = plus(minus(am, mul(share, qy)), mul(aC, ny));
      const bz = plus(minus(an, mul(share, qz)), mul(aC, nz));
      const anx = plus(mul(along, al), mul(aC, qx));
      const any = plus(mul(along, am), mul(aC, qy));
      const anz = plus(mul(along, an), mul(aC, qz));
      const lengthwise = dot(nx, anx, ny, any, nz, anz);
      const gx = mul(minus(anx, mul(nx, lengthwise)), nz);
      const gy = mul(minus(any, mul(ny, lengthwise)), nz);
      const px = minus(v128.load(adjoint, 0 * LANES), plus(mul(fxx, gx), mul(fxy, gy)));
      const py = minus(v128.load(adjoint, 1 * LANES), plus(mul(fxy, gx), mul(fyy, gy)));
      const pz = v128.load(adjoint, 2 * LANES);
      const pushed = mul(plus(dot(px, inL, py, inM, pz, inN), mul(index, path)), approach);
      const wx = plus(px, mul(pushed, zx));
      const wy = plus(py, mul(pushed, zy));
      const wz = minus(pz, pushed);
      v128.store(adjoint, wx, 0 * LANES);
      v128.store(adjoint, wy, 1 * LANES);
      v128.store(adjoint, wz, 2 * LANES);
      v128.store(adjoint, plus(mul(ratio, bx), mul(way, wx)), 3 * LANES);
      v128.store(adjoint, plus(mul(ratio, by1), mul(way, wy)), 4 * LANES);
      v128.store(adjoint, plus(mul(ratio, bz), mul(way, wz)), 5 * LANES);
      const columns = by + column * usize(set * variables) + LANES * usize(p);
      if (thickness >= 0) {
        const place = columns + column * usize(thickness);
        v128.store(place, minus(v128.load(place), wz));
      }
      for (let n = 0; n < changed; n++) {
        const change = changes + CHANGE * usize(n);
        const kind = i32(load<f64>(change));
        const place = columns + column * usize(load<f64>(change, 8));
        const leaning = plus(mul(x, gx), mul(y, gy));
        if (kind == CURVATURE) {
          const sag = f64x2.div(mul(mul(pushed, u), e), plus(one, root));
          add(place, minus(sag, mul(leaning, mul(e, mul(e, e)))));
        } else if (kind == CONIC) {
          // ∂z/∂k = c³u²/(2E(1+E)²), ∂z_x/∂k = c³ux/(2E³).
          const half = mul(splat(0.5 * c * c * c), mul(u, e));
          const over = plus(one, root);
          add(place, mul(half, minus(f64x2.div(mul(pushed, u), mul(over, over)), mul(leaning, mul(e, e)))));
        } else if (kind == TERM) {
          // ∂z/∂aᵢ = uⁱ⁺¹, ∂z_x/∂aᵢ = 2(i+1)uⁱx.
          const order = i32(load<f64>(change, 16));
          let power = one;
          for (let i = 0; i < order; i++) power = mul(power, u);
          add(place, mul(power, minus(mul(pushed, u), mul(splat(2 * f64(order + 1)), leaning))));
        } else if (kind == INDEX) {
          const turned = mul(splat(load<f64>(change, 16)), dot(bx, inL, by1, inM, bz, inN));
          add(place, plus(turned, mul(mul(splat(load<f64>(change, 24)), way), path)));
        }
      }
    }
    station += STATION;
    from += STATION;
  }
}
