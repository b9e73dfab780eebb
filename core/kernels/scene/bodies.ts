/** The bodies that a ray is in, as `TracedRay` has them. */
import { DEPTH, MISHAP_OVERLAP } from '../../src/scene/kernel-layout.ts';
import { DEPTH_OF, inside, STACK } from './block';
import { warn } from './ledger';
import { solidCount, waveCount } from './state';

/** A body's number in the list by wavelength; what is around stands behind the last. */
// @ts-ignore: decorator
@inline
export function byWave(list: usize, solid: i32, wave: i32): f64 {
  return load<f64>(list + 8 * usize((solid < 0 ? solidCount : solid) * waveCount + wave));
}

/** The solid behind a face of `inner`; −1 for what is around. */
export function beyond(ray: usize, inner: i32, outer: i32, outward: bool): i32 {
  if (!outward) return inner;
  if (outer >= 0) return outer;
  let place = load<i32>(ray, DEPTH_OF) - 1;
  if (place >= 0 && inside(ray, place) == inner) place--;
  return place >= 0 ? inside(ray, place) : -1;
}

/** Out of one body and into another, as a face between them says. */
export function cross(ray: usize, inner: i32, outer: i32, outward: bool): void {
  if (inner < 0) return;
  const left = outward ? inner : outer;
  const entered = outward ? outer : inner;
  if (left >= 0) leave(ray, left);
  if (entered >= 0) {
    const depth = load<i32>(ray, DEPTH_OF);
    if (depth < DEPTH) {
      store<u16>(2 * (ray + usize(depth)), u16(entered), STACK);
      store<i32>(ray, depth + 1, DEPTH_OF);
    } else warn(MISHAP_OVERLAP, entered, -1, ray);
  }
}

function leave(ray: usize, solid: i32): void {
  const depth = load<i32>(ray, DEPTH_OF);
  for (let k = depth - 1; k >= 0; k--) {
    if (inside(ray, k) != solid) continue;
    if (k < depth - 1) warn(MISHAP_OVERLAP, solid, inside(ray, depth - 1), ray);
    for (let j = k; j < depth - 1; j++) store<u16>(2 * (ray + usize(j)), u16(inside(ray, j + 1)), STACK);
    store<i32>(ray, depth - 1, DEPTH_OF);
    return;
  }
}
