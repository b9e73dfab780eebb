/**
 * The block of rays in the kernels' memory, and what all of them do with its lanes. AssemblyScript, built by `npm run kernels`.
 */

import {
  TRACE_AT, TRACE_L, TRACE_M, TRACE_N, TRACE_NX, TRACE_NY, TRACE_NZ, TRACE_PATH, TRACE_SIZE, TRACE_STATUS, TRACE_T, TRACE_X, TRACE_Y,
  TRACE_Z,
} from '../src/compute/records.generated.ts';

export const BASE: usize = memory.data(TRACE_SIZE + 2 * 16 * 8, 16);

export const X: usize = BASE + TRACE_X;
export const Y: usize = BASE + TRACE_Y;
export const Z: usize = BASE + TRACE_Z;
export const L: usize = BASE + TRACE_L;
export const M: usize = BASE + TRACE_M;
export const N: usize = BASE + TRACE_N;
export const PATH: usize = BASE + TRACE_PATH;
export const NX: usize = BASE + TRACE_NX;
export const NY: usize = BASE + TRACE_NY;
export const NZ: usize = BASE + TRACE_NZ;
export const T: usize = BASE + TRACE_T;
export const STATUS: usize = BASE + TRACE_STATUS;
export const AT: usize = BASE + TRACE_AT;
/** After the columns: coefficients of r², r⁴ …, at most 16. */
export const TERMS: usize = BASE + TRACE_SIZE;
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
