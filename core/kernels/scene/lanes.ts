/** Short names for what all loops over two rays at a time do with their lanes. */

// @ts-ignore: decorator
@inline
export function splat(value: f64): v128 {
  return f64x2.splat(value);
}

// @ts-ignore: decorator
@inline
export function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

// @ts-ignore: decorator
@inline
export function add(a: v128, b: v128): v128 {
  return f64x2.add(a, b);
}

/** The sum of both lanes. */
// @ts-ignore: decorator
@inline
export function both(value: v128): f64 {
  return f64x2.extract_lane(value, 0) + f64x2.extract_lane(value, 1);
}
