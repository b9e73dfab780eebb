/** Rays from flat sources with the common laws, two at a time in SIMD lanes: see `scene/sources.ts`. */
import {
  LAUNCH_BELOW, LAUNCH_DEPTH, LAUNCH_DIGITS, LAUNCH_DIRECTIONS, LAUNCH_FLUX, LAUNCH_INDEX, LAUNCH_KEY_A, LAUNCH_KEY_B,
  LAUNCH_LAW, LAUNCH_LAW_KIND, LAUNCH_LINE_LIST, LAUNCH_LINES, LAUNCH_REGION, LAUNCH_REGION_KIND, LAUNCH_SHIFT,
  LAUNCH_SOURCE, LAUNCH_STACK, LAW_SINE, REGION_DISC,
} from '../../src/scene/kernel-layout.ts';
import { DRAWS, EVENTS, FIRST, FLUX, FRESH, KEY_A, L, M, N, STACK, X, Y, Z } from './block';
import { splat, mul, add } from './lanes';

/** One over 2³². */
const UNIT: f64 = 2.3283064365386963e-10;

/** Terms of the sine from r³ up, of the cosine from r² up, and numbers: read from memory, which is quicker than constants in the code. */
const TERMS: usize = memory.data<f64>([
  -1.0 / 6.0, 1.0 / 120.0, -1.0 / 5040.0, 1.0 / 362880.0, -1.0 / 39916800.0, 1.0 / 6227020800.0, -1.0 / 1307674368000.0,
  -0.5, 1.0 / 24.0, -1.0 / 720.0, 1.0 / 40320.0, -1.0 / 3628800.0, 1.0 / 479001600.0, -1.0 / 87178291200.0,
  1.0 / 20922789888000.0, 1.0, 4.0, 0.5, 1.5707963267948966, -0.0, 1.5, 2.3283064365386963e-10,
]);

// @ts-ignore: decorator
@inline
function term(at: usize): v128 {
  return v128.load64_splat(TERMS + 8 * at);
}

/** Two neighbouring terms. */
// @ts-ignore: decorator
@inline
function pair(at: usize, r2: v128): v128 {
  return add(term(at), mul(r2, term(at + 1)));
}

/**
 * Writes cosines and sines of so many turns, times a length, into two columns: the nearest quarter is taken off, then
 * Taylor's series to the last bit (the first term left out is below 5e-17 for an eighth of a turn).
 */
// @ts-ignore: decorator
@inline
function turned(turns: v128, length: v128, at: usize, cosines: usize, sines: usize): void {
  const four = mul(turns, term(16));
  const quarters = f64x2.floor(add(four, term(17)));
  const r = mul(f64x2.sub(four, quarters), term(18));
  const r2 = mul(r, r);
  // In pairs of terms, which wait for each other less than Horner's scheme.
  const r4 = mul(r2, r2);
  const r8 = mul(r4, r4);
  let s = add(pair(0, r2), mul(r4, pair(2, r2)));
  s = add(s, mul(r8, add(pair(4, r2), mul(r4, term(6)))));
  s = add(r, mul(mul(r, r2), s));
  let c = add(pair(7, r2), mul(r4, pair(9, r2)));
  c = add(c, mul(r8, add(pair(11, r2), mul(r4, pair(13, r2)))));
  c = add(term(15), mul(r2, c));
  // By quarters 0 to 4: s, c, −s, −c, s.
  const half = mul(quarters, term(17));
  const odd = f64x2.ne(half, f64x2.floor(half));
  const upper = f64x2.floor(half);
  const quarter = mul(upper, term(17));
  const second = f64x2.ne(quarter, f64x2.floor(quarter));
  const flip = v128.and(second, term(19));
  const long = v128.xor(length, flip);
  v128.store(at + sines, mul(long, v128.bitselect(c, s, odd)));
  v128.store(at + cosines, mul(long, v128.bitselect(v128.xor(s, term(19)), c, odd)));
}

/** `mixBits` of four numbers at once. */
// @ts-ignore: decorator
@inline
function mixFour(bits: v128): v128 {
  let x = v128.xor(bits, i32x4.shr_u(bits, 16));
  x = i32x4.mul(x, i32x4.splat(0x21f0aaad));
  x = v128.xor(x, i32x4.shr_u(x, 15));
  x = i32x4.mul(x, i32x4.splat(0x735a2d97));
  return v128.xor(x, i32x4.shr_u(x, 15));
}

/** Index of the wavelength that a number between 0 and 1 falls to. */
// @ts-ignore: decorator
@inline
function waveAt(source: usize, u: f64): u32 {
  let line = 0;
  const lines = load<i32>(source, LAUNCH_LINES);
  const below: usize = load<u32>(source, LAUNCH_BELOW);
  while (line < lines - 1 && u > load<f64>(below + 8 * usize(line))) line++;
  return load<u32>(usize(load<u32>(source, LAUNCH_LINE_LIST)) + 4 * usize(line));
}

/** Launches `count` rays, an even number, numbered on from `from`, into the places of the block from `ray` on. */
export function launchRays(source: usize, ray: usize, from: u32, count: i32): void {
  const disc = load<i32>(source, LAUNCH_REGION_KIND) == REGION_DISC;
  const sine = load<i32>(source, LAUNCH_LAW_KIND) == LAW_SINE;
  const first = v128.load64_splat(source, LAUNCH_REGION);
  const second = v128.load64_splat(source, LAUNCH_REGION + 8);
  const law = v128.load64_splat(source, LAUNCH_LAW);
  const one = term(15);
  const half = term(17);
  const unit = term(21);
  const flux = v128.load64_splat(source, LAUNCH_FLUX);
  const directions: usize = load<u32>(source, LAUNCH_DIRECTIONS);
  let index = load<u32>(source, LAUNCH_INDEX);
  let digits = v128.load(source, LAUNCH_DIGITS);
  let fifth = load<u32>(source, LAUNCH_DIGITS + 16);
  // What two neighbours have in common, as it stands in the columns of two words a ray: keys, draws and wavelength,
  // marks and source, events and depth.
  const keys = i32x4.splat(load<u32>(source, LAUNCH_KEY_A));
  const evens = i64x2.splat(0xffffffff);
  let numbers = i32x4.add(
    i32x4.splat(load<u32>(source, LAUNCH_KEY_B) + from),
    i32x4.replace_lane(i32x4.splat(0), 3, 1),
  );
  const two = i32x4.splat(2);
  const white = load<i32>(source, LAUNCH_LINES) > 1;
  const drawn = i64x2.splat(u64(waveAt(source, 0)) << 32);
  const marks = i64x2.splat((u64(load<u32>(source, LAUNCH_SOURCE)) << 32) | 1);
  const depth = load<u32>(source, LAUNCH_DEPTH);
  const events = i64x2.splat(u64(depth) << 32);
  const stack = v128.load(source, LAUNCH_STACK);
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
    const at = ray + 8 * usize(i);
    v128.store(at, mul(add(i64x2.shuffle(low, nextLow, 0, 2), half), unit), X);
    v128.store(at, mul(add(i64x2.shuffle(low, nextLow, 1, 3), half), unit), Y);
    v128.store(at, mul(add(i64x2.shuffle(high, nextHigh, 0, 2), half), unit), Z);
    v128.store(at, mul(add(i64x2.shuffle(high, nextHigh, 1, 3), half), unit), L);
    v128.store(at, flux, FLUX);
    v128.store(at, flux, FIRST);
    v128.store(at, v128.bitselect(keys, mixFour(numbers), evens), KEY_A);
    numbers = i32x4.add(numbers, two);
    if (white) {
      store<u64>(at, u64(waveAt(source, (f64(line) + 0.5) * UNIT)) << 32, DRAWS);
      store<u64>(at, u64(waveAt(source, (f64(nextLine) + 0.5) * UNIT)) << 32, DRAWS + 8);
    } else v128.store(at, drawn, DRAWS);
    v128.store(at, marks, FRESH);
    v128.store(at, events, EVENTS);
    if (depth > 0) {
      v128.store(2 * at, stack, STACK);
      v128.store(2 * at, stack, STACK + 16);
    }
  }
  store<u32>(source, index, LAUNCH_INDEX);
  v128.store(source, digits, LAUNCH_DIGITS);
  store<u32>(source, fifth, LAUNCH_DIGITS + 16);
  const end = ray + 8 * usize(count);
  // The points lie where places and directions come to lie: short loops let the machine work on many rays at once.
  for (let at = ray; at < end; at += 16) {
    const u0 = v128.load(at, X);
    const u1 = v128.load(at, Y);
    if (disc) {
      const distance = f64x2.sqrt(add(first, mul(u0, second)));
      turned(u1, distance, at, X, Y);
    } else {
      v128.store(at, mul(f64x2.sub(u0, half), first), X);
      v128.store(at, mul(f64x2.sub(u1, half), second), Y);
    }
  }
  for (let at = ray; at < end; at += 16) {
    const u2 = v128.load(at, Z);
    let s: v128;
    let n: v128;
    if (sine) {
      s = mul(law, f64x2.sqrt(u2));
      n = f64x2.sqrt(f64x2.sub(one, mul(s, s)));
    } else {
      n = f64x2.sub(one, mul(u2, law));
      s = f64x2.sqrt(f64x2.pmax(f64x2.sub(one, mul(n, n)), f64x2.splat(0)));
    }
    turned(v128.load(at, L), s, at, L, M);
    v128.store(at, n, N);
  }
  for (let at = ray; at < end; at += 16) {
    const x = v128.load(at, X);
    const y = v128.load(at, Y);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    v128.store(at, add(v128.load64_splat(source, LAUNCH_SHIFT), add(mul(turn(source, 0), x), mul(turn(source, 1), y))), X);
    v128.store(at, add(v128.load64_splat(source, LAUNCH_SHIFT + 8), add(mul(turn(source, 3), x), mul(turn(source, 4), y))), Y);
    v128.store(at, add(v128.load64_splat(source, LAUNCH_SHIFT + 16), add(mul(turn(source, 6), x), mul(turn(source, 7), y))), Z);
    const gl = add(add(mul(turn(source, 0), l), mul(turn(source, 1), m)), mul(turn(source, 2), n));
    const gm = add(add(mul(turn(source, 3), l), mul(turn(source, 4), m)), mul(turn(source, 5), n));
    const gn = add(add(mul(turn(source, 6), l), mul(turn(source, 7), m)), mul(turn(source, 8), n));
    // A unit vector but for rounding: one step of Newton's method does for the root.
    const scale = f64x2.sub(term(20), mul(half, add(add(mul(gl, gl), mul(gm, gm)), mul(gn, gn))));
    v128.store(at, mul(gl, scale), L);
    v128.store(at, mul(gm, scale), M);
    v128.store(at, mul(gn, scale), N);
  }
}

/** A number of the source's rotation. */
// @ts-ignore: decorator
@inline
function turn(source: usize, number: usize): v128 {
  return v128.load64_splat(source + 8 * number);
}
