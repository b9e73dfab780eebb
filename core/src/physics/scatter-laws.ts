/// <reference path="./numbers.d.ts" />
/**
 * Laws of scatter at faces and in volumes. Densities are probabilities per steradian of a direction, given that light is scattered; BSDFs
 * are per steradian over ρ = |β − β₀|, the distance of the direction cosines from the specular ones. TypeScript and AssemblyScript both
 * compile this file.
 */

/** Equal radiance: cos θ/π. */
export function evenDensity(ox: f64, oy: f64): f64 {
  return Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy)) / Math.PI;
}

/** Gaussian spread of direction cosines: the density of β per unit of β², times cos θ per steradian, over the part `kept` above the face. */
export function gaussianDensity(sigma: f64, sx: f64, sy: f64, ox: f64, oy: f64, kept: f64): f64 {
  const square = (ox - sx) * (ox - sx) + (oy - sy) * (oy - sy);
  const cosine = Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy));
  return ((Math.exp(-square / (2 * sigma * sigma)) / (2 * Math.PI * sigma * sigma)) * cosine) / kept;
}

/** (m + 1)/(2π)·cosᵐ of the angle to the specular direction, over the part `kept` above the face. */
export function coneDensity(power: f64, sx: f64, sy: f64, ox: f64, oy: f64, kept: f64): f64 {
  const sz = Math.sqrt(Math.max(0, 1 - sx * sx - sy * sy));
  const oz = Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy));
  const cosine = Math.max(0, sx * ox + sy * oy + sz * oz);
  return (((power + 1) / (2 * Math.PI)) * Math.pow(cosine, power)) / kept;
}

/** BSDF·cos θ over the total scatter at this incidence. */
export function lobeDensity(bsdf: f64, ox: f64, oy: f64, total: f64): f64 {
  return (bsdf * Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy))) / total;
}

/** Distance of direction cosines from the specular ones. */
export function distanceOf(sx: f64, sy: f64, ox: f64, oy: f64): f64 {
  return Math.sqrt((ox - sx) * (ox - sx) + (oy - sy) * (oy - sy));
}

/** A/(B + ρᵍ). */
export function abgBsdf(a: f64, b: f64, g: f64, rho: f64): f64 {
  return a / (b + Math.pow(rho, g));
}

/** b₀(1 + (ρ/l)²)^(s/2). */
export function shoulderBsdf(b0: f64, l: f64, s: f64, rho: f64): f64 {
  const part = rho / l;
  return b0 * Math.pow(1 + part * part, s / 2);
}

/** Where a table over the sine of incidence is read that has its entries closest at grazing incidence; `places` is its last one. */
export function grazingPlace(sine: f64, places: f64): f64 {
  return (1 - Math.sqrt(Math.max(0, 1 - sine))) * places;
}

/**
 * Cosine of the angle of scattering by the phase function p(μ) = (1 − g²)/(4π(1 + g² − 2gμ)^1.5) of L. G. Henyey and J. L. Greenstein
 * (Astrophysical Journal 93, 70, 1941) below which a share `u` of the light lies.
 */
export function volumeCosine(g: f64, u: f64): f64 {
  if (Math.abs(g) < 1e-4) return 2 * u - 1 + 1.5 * g * (1 - (2 * u - 1) * (2 * u - 1)); // first order: the quotient would lose its digits
  const ratio = (1 - g * g) / (1 - g + 2 * g * u);
  return (1 + g * g - ratio * ratio) / (2 * g);
}

/** Free path to the next scattering, mm, by a coefficient in 1/mm and a number between 0 and 1. */
export function freePath(scattering: f64, u: f64): f64 {
  return -Math.log(u) / scattering;
}
