/**
 * The rays under way: a block in columns, one ray a lane. A ray is named by the offset of its place in a column, 8 times its number.
 * Rays that wait lie in records (`RAY_…`) one upon the other; TypeScript writes such records too.
 */
import {
  RAY_DEPTH, RAY_DRAWS, RAY_EVENTS, RAY_FIRST, RAY_FLUX, RAY_FRESH, RAY_KEY_A, RAY_KEY_B, RAY_L, RAY_M, RAY_N,
  RAY_SOURCE, RAY_STACK, RAY_WAVE, RAY_X, RAY_Y, RAY_Z,
} from '../../src/scene/kernel-layout';

/** Rays in a block: few enough for the nearest cache. */
export const BLOCK: i32 = 128;
const COLUMN: usize = usize(BLOCK) * 8;
export const X: usize = memory.data(18 * 128 * 8, 16);
export const Y: usize = X + COLUMN;
export const Z: usize = X + 2 * COLUMN;
export const L: usize = X + 3 * COLUMN;
export const M: usize = X + 4 * COLUMN;
export const N: usize = X + 5 * COLUMN;
export const FLUX: usize = X + 6 * COLUMN;
/** Flux of its launch. */
export const FIRST: usize = X + 7 * COLUMN;
/** Two words of 32 bits in each of these columns. */
export const KEY_A: usize = X + 8 * COLUMN;
export const KEY_B: usize = KEY_A + 4;
export const DRAWS: usize = X + 9 * COLUMN;
export const WAVE: usize = DRAWS + 4;
/** Marks: see RAY_FRESH. */
export const FRESH: usize = X + 10 * COLUMN;
export const SOURCE: usize = FRESH + 4;
export const EVENTS: usize = X + 11 * COLUMN;
/** How many bodies it is in. */
export const DEPTH_OF: usize = EVENTS + 4;
/** Which ones, the innermost last: 16 bytes a ray. */
export const STACK: usize = X + 12 * COLUMN;
/** What it meets next: index of the face, −1 for none, how far off, and its rank where faces touch. */
export const HIT: usize = X + 14 * COLUMN;
export const BEST: usize = X + 15 * COLUMN;
export const RANK: usize = X + 16 * COLUMN;
/** The triangle of a mesh that it meets. */
export const TRIANGLE: usize = X + 17 * COLUMN;

/** Writes a ray of the block into a record. */
export function pack(ray: usize, record: usize): void {
  store<f64>(record, load<f64>(ray, X), RAY_X);
  store<f64>(record, load<f64>(ray, Y), RAY_Y);
  store<f64>(record, load<f64>(ray, Z), RAY_Z);
  store<f64>(record, load<f64>(ray, L), RAY_L);
  store<f64>(record, load<f64>(ray, M), RAY_M);
  store<f64>(record, load<f64>(ray, N), RAY_N);
  store<f64>(record, load<f64>(ray, FLUX), RAY_FLUX);
  store<f64>(record, load<f64>(ray, FIRST), RAY_FIRST);
  store<u32>(record, load<u32>(ray, KEY_A), RAY_KEY_A);
  store<u32>(record, load<u32>(ray, KEY_B), RAY_KEY_B);
  store<u32>(record, load<u32>(ray, DRAWS), RAY_DRAWS);
  store<i32>(record, load<i32>(ray, WAVE), RAY_WAVE);
  store<i32>(record, load<i32>(ray, FRESH), RAY_FRESH);
  store<i32>(record, load<i32>(ray, SOURCE), RAY_SOURCE);
  store<i32>(record, load<i32>(ray, EVENTS), RAY_EVENTS);
  store<i32>(record, load<i32>(ray, DEPTH_OF), RAY_DEPTH);
  store<u64>(record, load<u64>(2 * ray, STACK), RAY_STACK);
  store<u64>(record, load<u64>(2 * ray, STACK + 8), RAY_STACK + 8);
}

/** Puts the ray of a record into the block. */
export function unpack(ray: usize, record: usize): void {
  store<f64>(ray, load<f64>(record, RAY_X), X);
  store<f64>(ray, load<f64>(record, RAY_Y), Y);
  store<f64>(ray, load<f64>(record, RAY_Z), Z);
  store<f64>(ray, load<f64>(record, RAY_L), L);
  store<f64>(ray, load<f64>(record, RAY_M), M);
  store<f64>(ray, load<f64>(record, RAY_N), N);
  store<f64>(ray, load<f64>(record, RAY_FLUX), FLUX);
  store<f64>(ray, load<f64>(record, RAY_FIRST), FIRST);
  store<u32>(ray, load<u32>(record, RAY_KEY_A), KEY_A);
  store<u32>(ray, load<u32>(record, RAY_KEY_B), KEY_B);
  store<u32>(ray, load<u32>(record, RAY_DRAWS), DRAWS);
  store<i32>(ray, load<i32>(record, RAY_WAVE), WAVE);
  store<i32>(ray, load<i32>(record, RAY_FRESH), FRESH);
  store<i32>(ray, load<i32>(record, RAY_SOURCE), SOURCE);
  store<i32>(ray, load<i32>(record, RAY_EVENTS), EVENTS);
  store<i32>(ray, load<i32>(record, RAY_DEPTH), DEPTH_OF);
  store<u64>(2 * ray, load<u64>(record, RAY_STACK), STACK);
  store<u64>(2 * ray, load<u64>(record, RAY_STACK + 8), STACK + 8);
}

/** Moves a ray of the block to another place in it, as far as what it is goes; what it meets stays behind. */
export function moveTo(to: usize, from: usize): void {
  for (let column: usize = 0; column < 12 * COLUMN; column += COLUMN)
    store<u64>(to + column, load<u64>(from + column, X), X);
  store<u64>(2 * to, load<u64>(2 * from, STACK), STACK);
  store<u64>(2 * to, load<u64>(2 * from, STACK + 8), STACK + 8);
}

/** Whether a ray is in a body. */
// @ts-ignore: decorator
@inline
export function within(ray: usize, solid: i32): bool {
  for (let k: i32 = load<i32>(ray, DEPTH_OF) - 1; k >= 0; k--) if (inside(ray, k) == solid) return true;
  return false;
}

/** The body at a depth of a ray's stack. */
// @ts-ignore: decorator
@inline
export function inside(ray: usize, depth: i32): i32 {
  return load<u16>(2 * (ray + usize(depth)), STACK);
}

/** The innermost body; −1 outside of all. */
// @ts-ignore: decorator
@inline
export function innermost(ray: usize): i32 {
  const depth = load<i32>(ray, DEPTH_OF);
  return depth > 0 ? inside(ray, depth - 1) : -1;
}
