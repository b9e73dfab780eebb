/**
 * The block of rays in the kernels' memory, and what all of them do with its lanes. AssemblyScript, built by `npm run kernels`.
 */

/** Rays in a block; `compute/kernel.ts` lays its views over the same places. */
export const BLOCK: usize = 256;
export const COLUMN: usize = BLOCK * 8;

export const BASE: usize = memory.data(11 * 256 * 8 + 3 * 256 + 2 * 16 * 8, 16);

// Columns follow each other from the start of the block: positions, directions, path, normals, distance; then small ones.
export const X: usize = BASE + 0 * COLUMN;
export const Y: usize = BASE + 1 * COLUMN;
export const Z: usize = BASE + 2 * COLUMN;
export const L: usize = BASE + 3 * COLUMN;
export const M: usize = BASE + 4 * COLUMN;
export const N: usize = BASE + 5 * COLUMN;
export const PATH: usize = BASE + 6 * COLUMN;
export const NX: usize = BASE + 7 * COLUMN;
export const NY: usize = BASE + 8 * COLUMN;
export const NZ: usize = BASE + 9 * COLUMN;
export const T: usize = BASE + 10 * COLUMN;
export const STATUS: usize = BASE + 11 * COLUMN;
export const AT: usize = STATUS + BLOCK;
/** Coefficients of r², r⁴ …, at most 16. */
export const TERMS: usize = AT + 2 * BLOCK;
/** The same, times 1, 2 …: what the slope of the polynomial in r² is made of. */
export const SLOPES: usize = TERMS + 16 * 8;

export const MISSED: u8 = 1;
export const TOTAL_REFLECTION: u8 = 2;
export const CLIPPED: u8 = 3;
export const NO_INDEX: u8 = 5;

export const FARTHEST: f64 = 1e13;
export const SETTLED: f64 = 1e-9;
export const MAX_STEPS: i32 = 40;
/** See `shapes/conic.ts`. */
export const ON_SURFACE: f64 = 1e-5;

// @ts-ignore: decorator
@inline
export function splat(value: f64): v128 {
  return f64x2.splat(value);
}

/** Lanes of a vector as all ones where a ray still goes on. */
// @ts-ignore: decorator
@inline
export function aliveLanes(ray: usize): v128 {
  const pair = load<u16>(ray, STATUS);
  if (pair == 0) return i64x2.splat(-1);
  return i64x2.replace_lane(
    i64x2.splat((pair & 0xff) == 0 ? -1 : 0),
    1,
    pair >> 8 == 0 ? -1 : 0,
  );
}

/** Keeps the new value in the lanes of `mask`, the old one in the others. */
// @ts-ignore: decorator
@inline
export function keep(next: v128, old: v128, mask: v128): v128 {
  return v128.bitselect(next, old, mask);
}
