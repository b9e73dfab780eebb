/**
 * The rays under way: a block in columns, one ray a lane. A ray is named by the offset of its place in a column, 8 times its number.
 * Rays that wait lie in records (`RAY_…`) one upon the other; TypeScript writes such records too.
 */
import {
  BLOCK_BEST, BLOCK_DRAWS, BLOCK_EVENTS, BLOCK_FIRST, BLOCK_FLUX, BLOCK_FRESH, BLOCK_HIT, BLOCK_KEYS, BLOCK_L, BLOCK_M, BLOCK_N,
  BLOCK_RANK, BLOCK_RAYS, BLOCK_SIZE, BLOCK_STACK, BLOCK_TRIANGLE, BLOCK_X, BLOCK_Y, BLOCK_Z, RAY_DEPTH, RAY_DRAWS, RAY_EVENTS, RAY_FIRST, RAY_FLUX, RAY_FRESH, RAY_KEY_A, RAY_KEY_B, RAY_L, RAY_M, RAY_N,
  RAY_SOURCE, RAY_STACK, RAY_WAVE, RAY_X, RAY_Y, RAY_Z,
} from '../../src/scene/kernel-layout.ts';

/** Rays in a block: few enough for the nearest cache. */
export const BLOCK: i32 = BLOCK_RAYS;
const BASE: usize = memory.data(BLOCK_SIZE, 16);
const COLUMN: usize = BLOCK_RAYS * 8;
export const X: usize = BASE + BLOCK_X;
export const Y: usize = BASE + BLOCK_Y;
export const Z: usize = BASE + BLOCK_Z;
export const L: usize = BASE + BLOCK_L;
export const M: usize = BASE + BLOCK_M;
export const N: usize = BASE + BLOCK_N;
export const FLUX: usize = BASE + BLOCK_FLUX;
export const FIRST: usize = BASE + BLOCK_FIRST;
/** Two words of 32 bits in each of these columns. */
export const KEY_A: usize = BASE + BLOCK_KEYS;
export const KEY_B: usize = KEY_A + 4;
export const DRAWS: usize = BASE + BLOCK_DRAWS;
export const WAVE: usize = DRAWS + 4;
export const FRESH: usize = BASE + BLOCK_FRESH;
export const SOURCE: usize = FRESH + 4;
export const EVENTS: usize = BASE + BLOCK_EVENTS;
export const DEPTH_OF: usize = EVENTS + 4;
/** 16 bytes a ray. */
export const STACK: usize = BASE + BLOCK_STACK;
export const HIT: usize = BASE + BLOCK_HIT;
export const BEST: usize = BASE + BLOCK_BEST;
export const RANK: usize = BASE + BLOCK_RANK;
export const TRIANGLE: usize = BASE + BLOCK_TRIANGLE;

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
  for (let column: usize = 0; column < STACK - X; column += COLUMN)
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
