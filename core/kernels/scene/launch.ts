/** Rays from flat sources with the common laws, two at a time in SIMD lanes: see `scene/sources.ts`. */
import {
  LAUNCH_BELOW, LAUNCH_DEPTH, LAUNCH_DIGITS, LAUNCH_DIRECTIONS, LAUNCH_FLUX, LAUNCH_INDEX, LAUNCH_KEY_A, LAUNCH_KEY_B,
  LAUNCH_LAW, LAUNCH_LAW_KIND, LAUNCH_LINE_LIST, LAUNCH_LINES, LAUNCH_REGION, LAUNCH_REGION_KIND, LAUNCH_SHIFT,
  LAUNCH_SOURCE, LAUNCH_STACK, LAW_SINE, RAY_DEPTH, RAY_DRAWS, RAY_EVENTS, RAY_FIRST, RAY_FLUX, RAY_FRESH, RAY_KEY_A,
  RAY_KEY_B, RAY_L, RAY_M, RAY_N, RAY_SIZE, RAY_SOURCE, RAY_STACK, RAY_WAVE, RAY_X, RAY_Y, RAY_Z, REGION_DISC,
} from '../../src/scene/kernel-layout';
import { mixBits } from './random';

const DIMENSIONS: i32 = 5;
/** The points of two rays, coordinate by coordinate. */
const U: usize = memory.data(5 * 16, 16);

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

let sines: v128 = f64x2.splat(0);
let cosines: v128 = f64x2.splat(0);

/**
 * Sines and cosines of so many turns: the nearest quarter is taken off, then Taylor's series to the last bit (the first term left out is
 * below 5e-17 for an eighth of a turn).
 */
// @ts-ignore: decorator
@inline
function turned(turns: v128): void {
  const quarters = f64x2.floor(add(mul(turns, splat(4)), splat(0.5)));
  const r = mul(f64x2.sub(mul(turns, splat(4)), quarters), splat(1.5707963267948966));
  const r2 = mul(r, r);
  let s = splat(-1.0 / 1307674368000.0);
  s = add(mul(s, r2), splat(1.0 / 6227020800.0));
  s = add(mul(s, r2), splat(-1.0 / 39916800.0));
  s = add(mul(s, r2), splat(1.0 / 362880.0));
  s = add(mul(s, r2), splat(-1.0 / 5040.0));
  s = add(mul(s, r2), splat(1.0 / 120.0));
  s = add(mul(s, r2), splat(-1.0 / 6.0));
  s = add(mul(mul(s, r2), r), r);
  let c = splat(1.0 / 20922789888000.0);
  c = add(mul(c, r2), splat(-1.0 / 87178291200.0));
  c = add(mul(c, r2), splat(1.0 / 479001600.0));
  c = add(mul(c, r2), splat(-1.0 / 3628800.0));
  c = add(mul(c, r2), splat(1.0 / 40320.0));
  c = add(mul(c, r2), splat(-1.0 / 720.0));
  c = add(mul(c, r2), splat(1.0 / 24.0));
  c = add(mul(c, r2), splat(-0.5));
  c = add(mul(c, r2), splat(1));
  // By quarters 0 to 4: s, c, −s, −c, s.
  const half = mul(quarters, splat(0.5));
  const odd = f64x2.ne(half, f64x2.floor(half));
  const upper = f64x2.floor(half);
  const second = f64x2.ne(mul(upper, splat(0.5)), f64x2.floor(mul(upper, splat(0.5))));
  const flip = v128.and(second, splat(-0.0));
  sines = v128.xor(v128.bitselect(c, s, odd), flip);
  cosines = v128.xor(v128.bitselect(f64x2.neg(s), c, odd), flip);
}

/** Writes the next point of the sequence into one lane. */
// @ts-ignore: decorator
@inline
function nextPoint(source: usize, lane: usize): void {
  const index = load<u32>(source, LAUNCH_INDEX) + 1;
  store<u32>(source, index, LAUNCH_INDEX);
  const bit = usize(ctz(index));
  const directions = usize(load<u32>(source, LAUNCH_DIRECTIONS)) + 4 * bit;
  for (let d = 0; d < DIMENSIONS; d++) {
    const place = source + 4 * usize(d);
    const digits = load<u32>(place, LAUNCH_DIGITS);
    store<f64>(U + 16 * usize(d) + lane, (f64(digits) + 0.5) * 2.3283064365386963e-10);
    store<u32>(place, digits ^ load<u32>(directions + 128 * usize(d)), LAUNCH_DIGITS);
  }
}

// @ts-ignore: decorator
@inline
function finish(source: usize, ray: usize, number: u32, u: f64): void {
  const flux = load<f64>(source, LAUNCH_FLUX);
  store<f64>(ray, flux, RAY_FLUX);
  store<f64>(ray, flux, RAY_FIRST);
  store<u32>(ray, load<u32>(source, LAUNCH_KEY_A), RAY_KEY_A);
  store<u32>(ray, mixBits(load<u32>(source, LAUNCH_KEY_B) + number), RAY_KEY_B);
  store<u32>(ray, 0, RAY_DRAWS);
  store<i32>(ray, 1, RAY_FRESH);
  store<i32>(ray, load<i32>(source, LAUNCH_SOURCE), RAY_SOURCE);
  store<i32>(ray, 0, RAY_EVENTS);
  const lines = load<i32>(source, LAUNCH_LINES);
  const below: usize = load<u32>(source, LAUNCH_BELOW);
  let line = 0;
  while (line < lines - 1 && u > load<f64>(below + 8 * usize(line))) line++;
  store<i32>(ray, load<i32>(usize(load<u32>(source, LAUNCH_LINE_LIST)) + 4 * usize(line)), RAY_WAVE);
  store<i32>(ray, load<i32>(source, LAUNCH_DEPTH), RAY_DEPTH);
  v128.store(ray, v128.load(source, LAUNCH_STACK), RAY_STACK);
}

/** Stores one coordinate of two rays. */
// @ts-ignore: decorator
@inline
function put(first: usize, second: usize, value: v128, place: usize): void {
  v128.store64_lane(first + place, value, 0);
  v128.store64_lane(second + place, value, 1);
}

/** Launches `count` rays, an even number, numbered on from `from`, into the places from `ray` on. */
export function launchRays(source: usize, ray: usize, from: u32, count: i32): void {
  const disc = load<i32>(source, LAUNCH_REGION_KIND) == REGION_DISC;
  const sine = load<i32>(source, LAUNCH_LAW_KIND) == LAW_SINE;
  const first = v128.load64_splat(source, LAUNCH_REGION);
  const second = v128.load64_splat(source, LAUNCH_REGION + 8);
  const law = v128.load64_splat(source, LAUNCH_LAW);
  const one = splat(1);
  const half = splat(0.5);
  for (let i = 0; i < count; i += 2) {
    nextPoint(source, 0);
    nextPoint(source, 8);
    const u0 = v128.load(U, 0);
    const u1 = v128.load(U, 16);
    const u2 = v128.load(U, 32);
    let x: v128;
    let y: v128;
    if (disc) {
      const distance = f64x2.sqrt(add(first, mul(u0, second)));
      turned(u1);
      x = mul(distance, cosines);
      y = mul(distance, sines);
    } else {
      x = mul(f64x2.sub(u0, half), first);
      y = mul(f64x2.sub(u1, half), second);
    }
    let s: v128;
    let n: v128;
    if (sine) {
      s = mul(law, f64x2.sqrt(u2));
      n = f64x2.sqrt(f64x2.sub(one, mul(s, s)));
    } else {
      n = f64x2.sub(one, mul(u2, law));
      s = f64x2.sqrt(f64x2.max(splat(0), f64x2.sub(one, mul(n, n))));
    }
    turned(v128.load(U, 48));
    const l = mul(s, cosines);
    const m = mul(s, sines);
    const to = ray + usize(i) * RAY_SIZE;
    const next = to + RAY_SIZE;
    put(to, next, add(v128.load64_splat(source, LAUNCH_SHIFT), add(mul(v128.load64_splat(source, 0), x), mul(v128.load64_splat(source, 8), y))), RAY_X);
    put(to, next, add(v128.load64_splat(source, LAUNCH_SHIFT + 8), add(mul(v128.load64_splat(source, 24), x), mul(v128.load64_splat(source, 32), y))), RAY_Y);
    put(to, next, add(v128.load64_splat(source, LAUNCH_SHIFT + 16), add(mul(v128.load64_splat(source, 48), x), mul(v128.load64_splat(source, 56), y))), RAY_Z);
    const gl = add(add(mul(v128.load64_splat(source, 0), l), mul(v128.load64_splat(source, 8), m)), mul(v128.load64_splat(source, 16), n));
    const gm = add(add(mul(v128.load64_splat(source, 24), l), mul(v128.load64_splat(source, 32), m)), mul(v128.load64_splat(source, 40), n));
    const gn = add(add(mul(v128.load64_splat(source, 48), l), mul(v128.load64_splat(source, 56), m)), mul(v128.load64_splat(source, 64), n));
    // A unit vector but for rounding: one step of Newton's method does for the root.
    const scale = f64x2.sub(splat(1.5), mul(half, add(add(mul(gl, gl), mul(gm, gm)), mul(gn, gn))));
    put(to, next, mul(gl, scale), RAY_L);
    put(to, next, mul(gm, scale), RAY_M);
    put(to, next, mul(gn, scale), RAY_N);
    finish(source, to, from + u32(i), load<f64>(U, 64));
    finish(source, next, from + u32(i) + 1, load<f64>(U, 72));
  }
}
