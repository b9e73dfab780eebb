import { volumeCosine } from '../physics/scatter-laws.ts';

/**
 * Henyey and Greenstein's phase function p(μ) = (1 − g²)/(4π(1 + g² − 2gμ)^1.5), per steradian; its mean cosine is g.
 * L. G. Henyey and J. L. Greenstein, Astrophysical Journal 93, 70 (1941).
 *
 * @param g - asymmetry, between −1 and 1
 * @param mu - cosine of the angle between the directions before and after
 */
export function henyeyGreenstein(g: number, mu: number): number {
  return (1 - g * g) / (4 * Math.PI * (1 + g * g - 2 * g * mu) ** 1.5);
}

/** The cosine below which a share `u` of the scattered light lies: the inverse of its distribution. */
export const henyeyGreensteinCosine: (g: number, u: number) => number = volumeCosine;

/** Share of the light that is scattered to within an angle of cosine `mu` and more about the way ahead. */
export function henyeyGreensteinBeyond(g: number, mu: number): number {
  if (Math.abs(g) < 1e-9) return (1 - mu) / 2;
  return ((1 - g * g) / (2 * g)) * (1 / (1 - g) - 1 / Math.sqrt(1 + g * g - 2 * g * mu));
}
