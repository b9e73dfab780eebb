/** Rays from flat sources with the common laws, two at a time in SIMD lanes: see `scene/sources.ts`. */
import {
  LAUNCH_BELOW, LAUNCH_DEPTH, LAUNCH_DIGITS, LAUNCH_DIRECTIONS, LAUNCH_FLUX, LAUNCH_INDEX, LAUNCH_KEY_A, LAUNCH_KEY_B,
  LAUNCH_LAW, LAUNCH_LAW_KIND, LAUNCH_LINE_LIST, LAUNCH_LINES, LAUNCH_REGION, LAUNCH_REGION_KIND, LAUNCH_SHIFT,
  LAUNCH_SOURCE, LAUNCH_STACK, LAW_SINE, REGION_DISC,
} from '../../src/scene/kernel-layout';
import { DEPTH_OF, DRAWS, EVENTS, FIRST, FLUX, FRESH, KEY_A, KEY_B, L, M, N, SOURCE, STACK, WAVE, X, Y, Z } from './block';
import { mixBits } from './random';

/** One over 2³². */
const UNIT: f64 = 2.3283064365386963e-10;

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

/** Terms of the sine from r¹⁵ down, then of the cosine from r¹⁶ down: read from memory, which is quicker than constants in the code. */
const TERMS: usize = memory.data<f64>([
  -1.0 / 1307674368000.0, 1.0 / 6227020800.0, -1.0 / 39916800.0, 1.0 / 362880.0, -1.0 / 5040.0, 1.0 / 120.0, -1.0 / 6.0,
  1.0 / 20922789888000.0, -1.0 / 87178291200.0, 1.0 / 479001600.0, -1.0 / 3628800.0, 1.0 / 40320.0, -1.0 / 720.0,
  1.0 / 24.0, -0.5, 1.0,
]);

// @ts-ignore: decorator
@inline
function term(at: usize): v128 {
  return v128.load64_splat(TERMS + 8 * at);
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
  let s = term(0);
  s = add(mul(s, r2), term(1));
  s = add(mul(s, r2), term(2));
  s = add(mul(s, r2), term(3));
  s = add(mul(s, r2), term(4));
  s = add(mul(s, r2), term(5));
  s = add(mul(s, r2), term(6));
  s = add(mul(mul(s, r2), r), r);
  let c = term(7);
  c = add(mul(c, r2), term(8));
  c = add(mul(c, r2), term(9));
  c = add(mul(c, r2), term(10));
  c = add(mul(c, r2), term(11));
  c = add(mul(c, r2), term(12));
  c = add(mul(c, r2), term(13));
  c = add(mul(c, r2), term(14));
  c = add(mul(c, r2), term(15));
  // By quarters 0 to 4: s, c, −s, −c, s.
  const half = mul(quarters, splat(0.5));
  const odd = f64x2.ne(half, f64x2.floor(half));
  const upper = f64x2.floor(half);
  const second = f64x2.ne(mul(upper, splat(0.5)), f64x2.floor(mul(upper, splat(0.5))));
  const flip = v128.and(second, splat(-0.0));
  sines = v128.xor(v128.bitselect(c, s, odd), flip);
  cosines = v128.xor(v128.bitselect(f64x2.neg(s), c, odd), flip);
}

// @ts-ignore: decorator
@inline
function finish(source: usize, ray: usize, number: u32, u: f64): void {
  store<u32>(ray, load<u32>(source, LAUNCH_KEY_A), KEY_A);
  store<u32>(ray, mixBits(load<u32>(source, LAUNCH_KEY_B) + number), KEY_B);
  let line = 0;
  const lines = load<i32>(source, LAUNCH_LINES);
  if (lines > 1) {
    const below: usize = load<u32>(source, LAUNCH_BELOW);
    while (line < lines - 1 && u > load<f64>(below + 8 * usize(line))) line++;
  }
  // No draws yet, and the wavelength; fresh, and the source; no events, and how many bodies it is in.
  const wave = load<u32>(usize(load<u32>(source, LAUNCH_LINE_LIST)) + 4 * usize(line));
  store<u64>(ray, u64(wave) << 32, DRAWS);
  store<u64>(ray, (u64(load<u32>(source, LAUNCH_SOURCE)) << 32) | 1, FRESH);
  const depth = load<u32>(source, LAUNCH_DEPTH);
  store<u64>(ray, u64(depth) << 32, EVENTS);
  if (depth > 0) v128.store(2 * ray, v128.load(source, LAUNCH_STACK), STACK);
}

/** Launches `count` rays, an even number, numbered on from `from`, into the places of the block from `ray` on. */
export function launchRays(source: usize, ray: usize, from: u32, count: i32): void {
  const disc = load<i32>(source, LAUNCH_REGION_KIND) == REGION_DISC;
  const sine = load<i32>(source, LAUNCH_LAW_KIND) == LAW_SINE;
  const first = v128.load64_splat(source, LAUNCH_REGION);
  const second = v128.load64_splat(source, LAUNCH_REGION + 8);
  const law = v128.load64_splat(source, LAUNCH_LAW);
  const one = splat(1);
  const half = splat(0.5);
  const unit = splat(UNIT);
  const flux = v128.load64_splat(source, LAUNCH_FLUX);
  const directions: usize = load<u32>(source, LAUNCH_DIRECTIONS);
  let index = load<u32>(source, LAUNCH_INDEX);
  let digits = v128.load(source, LAUNCH_DIGITS);
  let fifth = load<u32>(source, LAUNCH_DIGITS + 16);
  for (let i = 0; i < count; i += 2) {
    // The next two points: four coordinates in the lanes of one vector, the fifth (of the wavelength) by itself.
    const low = f64x2.convert_low_i32x4_u(digits);
    const high = f64x2.convert_low_i32x4_u(i64x2.shuffle(digits, digits, 1, 0));
    const line = fifth;
    let bits = directions + 32 * usize(ctz(++index));
    digits = v128.xor(digits, v128.load(bits));
    fifth ^= load<u32>(bits, 16);
    const nextLow = f64x2.convert_low_i32x4_u(digits);
    const nextHigh = f64x2.convert_low_i32x4_u(i64x2.shuffle(digits, digits, 1, 0));
    const nextLine = fifth;
    bits = directions + 32 * usize(ctz(++index));
    digits = v128.xor(digits, v128.load(bits));
    fifth ^= load<u32>(bits, 16);
    const u0 = mul(add(i64x2.shuffle(low, nextLow, 0, 2), half), unit);
    const u1 = mul(add(i64x2.shuffle(low, nextLow, 1, 3), half), unit);
    const u2 = mul(add(i64x2.shuffle(high, nextHigh, 0, 2), half), unit);
    const u3 = mul(add(i64x2.shuffle(high, nextHigh, 1, 3), half), unit);
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
    turned(u3);
    const l = mul(s, cosines);
    const m = mul(s, sines);
    const to = ray + 8 * usize(i);
    const next = to + 8;
    v128.store(to, flux, FLUX);
    v128.store(to, flux, FIRST);
    v128.store(to, add(v128.load64_splat(source, LAUNCH_SHIFT), add(mul(v128.load64_splat(source, 0), x), mul(v128.load64_splat(source, 8), y))), X);
    v128.store(to, add(v128.load64_splat(source, LAUNCH_SHIFT + 8), add(mul(v128.load64_splat(source, 24), x), mul(v128.load64_splat(source, 32), y))), Y);
    v128.store(to, add(v128.load64_splat(source, LAUNCH_SHIFT + 16), add(mul(v128.load64_splat(source, 48), x), mul(v128.load64_splat(source, 56), y))), Z);
    const gl = add(add(mul(v128.load64_splat(source, 0), l), mul(v128.load64_splat(source, 8), m)), mul(v128.load64_splat(source, 16), n));
    const gm = add(add(mul(v128.load64_splat(source, 24), l), mul(v128.load64_splat(source, 32), m)), mul(v128.load64_splat(source, 40), n));
    const gn = add(add(mul(v128.load64_splat(source, 48), l), mul(v128.load64_splat(source, 56), m)), mul(v128.load64_splat(source, 64), n));
    // A unit vector but for rounding: one step of Newton's method does for the root.
    const scale = f64x2.sub(splat(1.5), mul(half, add(add(mul(gl, gl), mul(gm, gm)), mul(gn, gn))));
    v128.store(to, mul(gl, scale), L);
    v128.store(to, mul(gm, scale), M);
    v128.store(to, mul(gn, scale), N);
    finish(source, to, from + u32(i), (f64(line) + 0.5) * UNIT);
    finish(source, next, from + u32(i) + 1, (f64(nextLine) + 0.5) * UNIT);
  }
  store<u32>(source, index, LAUNCH_INDEX);
  v128.store(source, digits, LAUNCH_DIGITS);
  store<u32>(source, fifth, LAUNCH_DIGITS + 16);
}
