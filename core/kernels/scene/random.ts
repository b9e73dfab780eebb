/** Random numbers by a ray's key and the number of the draw: `KeyedRandom` of `math/random.ts`. */

import { drawOf } from './bits';
import { DRAWS, KEY_A, KEY_B } from './block';

/** The next number of a ray, between 0 and 1, neither included. */
export function uniform(ray: usize): f64 {
  const draw = load<u32>(ray, DRAWS) + 1;
  store<u32>(ray, draw, DRAWS);
  return drawOf(load<u32>(ray, KEY_A), load<u32>(ray, KEY_B), draw);
}
