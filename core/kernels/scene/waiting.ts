/** Rays that wait in records, one upon the other. */
import {
  CHILD, RAY_DRAWS, RAY_FLUX, RAY_KEY_A, RAY_L, RAY_M, RAY_N, RAY_SIZE,
} from '../../src/scene/kernel-layout.ts';
import { toL, toM, toN } from '../../src/physics/directions.ts';
import { mixBits } from './bits';
import { DEPTH_OF, KEY_A, L, M, N, pack, STACK } from './block';
import { cross } from './bodies';

/** First free place above the rays that wait. */
let top: usize = 0;

export function setTop(place: usize): void {
  top = place;
}

export function getTop(): usize {
  return top;
}

/** Takes the direction found last. It is a unit vector but for rounding: one step of Newton's method does for the root. */
// @ts-ignore: decorator
@inline
export function aim(ray: usize): void {
  const scale = 1.5 - 0.5 * (toL * toL + toM * toM + toN * toN);
  store<f64>(ray, toL * scale, L);
  store<f64>(ray, toM * scale, M);
  store<f64>(ray, toN * scale, N);
}

/** A child of the ray waits its turn on the way found last; `apart` sets its key apart from that of another of the same part. */
export function push(ray: usize, flux: f64, part: i32, inner: i32, outer: i32, outward: bool, events: i32, apart: u32): void {
  const child = top;
  top += RAY_SIZE;
  if (part >= 2) {
    // The bodies that it is in then, written where the parent's are, which are put back.
    const depth = load<i32>(ray, DEPTH_OF);
    const low = load<u64>(2 * ray, STACK);
    const high = load<u64>(2 * ray, STACK + 8);
    cross(ray, inner, outer, outward);
    pack(ray, child);
    store<i32>(ray, depth, DEPTH_OF);
    store<u64>(2 * ray, low, STACK);
    store<u64>(2 * ray, high, STACK + 8);
  } else pack(ray, child);
  const scale = 1.5 - 0.5 * (toL * toL + toM * toM + toN * toN);
  store<f64>(child, toL * scale, RAY_L);
  store<f64>(child, toM * scale, RAY_M);
  store<f64>(child, toN * scale, RAY_N);
  store<f64>(child, flux, RAY_FLUX);
  // A child draws numbers of its own.
  store<u32>(child, mixBits(load<u32>(ray, KEY_A) + u32(4 * events + part) * u32(CHILD) + apart), RAY_KEY_A);
  store<u32>(child, 0, RAY_DRAWS);
}
