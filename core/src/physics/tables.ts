/// <reference path="./numbers.d.ts" />
/** How tables are read. TypeScript and AssemblyScript both compile this file. */

/** The value at `part` of the way from `a` to `b`. */
export function between(a: f64, b: f64, part: f64): f64 {
  return a + part * (b - a);
}

/** The cubic through four values at 0, 1, 2 and 3, at `at` (Lagrange). */
export function cubic(a: f64, b: f64, c: f64, d: f64, at: f64): f64 {
  const p = at - 1;
  const q = at - 2;
  const r = at - 3;
  return (d * at * p * q - a * p * q * r) / 6 + (b * at * q * r - c * at * p * r) / 2;
}

/**
 * Where a table of the shares of a coated face is read: 0 to 1 over the cosine of incidence, or, into a medium of lower index, over the
 * cosine of refraction; −1 to −2 where that medium knows no such angle, over φ = acos(c/c_critical)/(π/2). Shares are smooth over each.
 */
export function coatedPlace(n1: f64, n2: f64, cosine: f64): f64 {
  if (!(n1 > n2)) return cosine;
  const square = 1 - (n1 / n2) * (n1 / n2) * (1 - cosine * cosine);
  if (square >= 0) return Math.sqrt(square);
  const critical = Math.sqrt(1 - (n2 / n1) * (n2 / n1));
  return -1 - Math.acos(Math.min(1, cosine / critical)) / (Math.PI / 2);
}
