/** Where light ended, and what should not be. */
import { SCENE_LEDGER } from '../../src/scene/kernel-layout.ts';
import { X, Y, Z } from './block';
import { mishap, scene } from './state';

export const DETECTED = 0;
export const ABSORBED = 1;
export const IN_BODIES = 2;
export const ESCAPED = 3;
export const CUT_OFF = 4;
export const BY_LOT = 5;

// @ts-ignore: decorator
@inline
export function ledger(entry: i32, flux: f64): void {
  const place = scene + SCENE_LEDGER + 8 * usize(entry);
  store<f64>(place, load<f64>(place) + flux);
}

export function warn(kind: i32, a: i32, b: i32, ray: usize): void {
  mishap(kind, a, b, load<f64>(ray, X), load<f64>(ray, Y), load<f64>(ray, Z));
}
