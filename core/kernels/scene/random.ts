/** Random numbers by a ray's key and the number of the draw: `KeyedRandom` of `math/random.ts`. */

import { DRAWS, KEY_A, KEY_B } from './block';

// @ts-ignore: decorator
@inline
export function mixBits(bits: u32): u32 {
  let x = bits ^ (bits >> 16);
  x *= 0x21f0aaad;
  x ^= x >> 15;
  x *= 0x735a2d97;
  return x ^ (x >> 15);
}

/** The next number of a ray, between 0 and 1, neither included. */
export function uniform(ray: usize): f64 {
  const draw = load<u32>(ray, DRAWS) + 1;
  store<u32>(ray, draw, DRAWS);
  const bits = mixBits(mixBits(load<u32>(ray, KEY_A) + draw * 0x9e3779b9) ^ load<u32>(ray, KEY_B));
  return (f64(bits) + 0.5) * 2.3283064365386963e-10;
}
