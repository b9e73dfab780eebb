/** Random bits by key and number of the draw, the same as in `math/random.ts`: whole numbers wrap here, there they are multiplied by call. */

// @ts-ignore: decorator
@inline
export function mixBits(bits: u32): u32 {
  let x = bits ^ (bits >> 16);
  x *= 0x21f0aaad;
  x ^= x >> 15;
  x *= 0x735a2d97;
  return x ^ (x >> 15);
}

/** The number of a draw by a key of two words, between 0 and 1, neither included. */
// @ts-ignore: decorator
@inline
export function drawOf(a: u32, b: u32, draw: u32): f64 {
  return (f64(mixBits(mixBits(a + draw * 0x9e3779b9) ^ b)) + 0.5) * 2.3283064365386963e-10;
}
