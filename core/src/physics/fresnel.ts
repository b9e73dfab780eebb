/// <reference path="./numbers.d.ts" />
/**
 * What a smooth face does with the flux and the field of light. TypeScript and AssemblyScript both compile this file, so results stand in
 * variables of it.
 *
 * Fields vary as exp(−iωt), a medium has the index N = n + ik, and the amplitudes are ratios of the electric field with the signs
 * r_p(0) = −r_s(0) (conventions.md; M. Born and E. Wolf, Principles of Optics, 1.5).
 */

/** Amplitudes of the last call: reflected and transmitted, across (s) and in (p) the plane of incidence, real and imaginary parts. */
export let reflectedSRe: f64 = 0;
export let reflectedSIm: f64 = 0;
export let reflectedPRe: f64 = 0;
export let reflectedPIm: f64 = 0;
export let transmittedSRe: f64 = 0;
export let transmittedSIm: f64 = 0;
export let transmittedPRe: f64 = 0;
export let transmittedPIm: f64 = 0;

/** Shares of the flux of the last call: reflected and let through, across (s) and in (p) the plane of incidence. */
export let reflectedS: f64 = 0;
export let reflectedP: f64 = 0;
export let throughS: f64 = 0;
export let throughP: f64 = 0;

/**
 * Amplitudes and shares at a bare face between two clear media: r_s = (n₁c₁ − n₂c₂)/(n₁c₁ + n₂c₂), r_p = (n₂c₁ − n₁c₂)/(n₂c₁ + n₁c₂),
 * t_s = 2n₁c₁/(n₁c₁ + n₂c₂), t_p = 2n₁c₁/(n₂c₁ + n₁c₂). Beyond the critical angle c₂ is imaginary, +iκ: the field decays, all flux is
 * reflected.
 *
 * @param n1 - index of the medium that light comes from
 * @param n2 - index after the face
 * @param cosine - of the angle of incidence, 0 to 1
 */
export function bareFace(n1: f64, n2: f64, cosine: f64): void {
  const sine = (n1 / n2) * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const a = n1 * cosine;
  const b = n2 * cosine;
  if (!(sine < 1)) {
    const decay = Math.sqrt(Math.max(0, sine * sine - 1));
    totalReflection(a, n2 * decay, b, n1 * decay);
    return;
  }
  const behind = Math.sqrt(1 - sine * sine);
  const s = n2 * behind;
  const p = n1 * behind;
  reflectedSRe = (a - s) / (a + s);
  reflectedPRe = (b - p) / (b + p);
  transmittedSRe = (2 * a) / (a + s);
  transmittedPRe = (2 * a) / (b + p);
  reflectedSIm = 0;
  reflectedPIm = 0;
  transmittedSIm = 0;
  transmittedPIm = 0;
  reflectedS = reflectedSRe * reflectedSRe;
  reflectedP = reflectedPRe * reflectedPRe;
  throughS = 1 - reflectedS;
  throughP = 1 - reflectedP;
}

/** r_s = (a − is)/(a + is), r_p = (b − ip)/(b + ip), t_s = 2a/(a + is), t_p = 2a/(b + ip); at a = b = 0 the limit −1. */
function totalReflection(a: f64, s: f64, b: f64, p: f64): void {
  const sizeS = a * a + s * s;
  const sizeP = b * b + p * p;
  reflectedSRe = sizeS > 0 ? (a * a - s * s) / sizeS : -1;
  reflectedSIm = sizeS > 0 ? (-2 * a * s) / sizeS : 0;
  reflectedPRe = sizeP > 0 ? (b * b - p * p) / sizeP : -1;
  reflectedPIm = sizeP > 0 ? (-2 * b * p) / sizeP : 0;
  transmittedSRe = sizeS > 0 ? (2 * a * a) / sizeS : 0;
  transmittedSIm = sizeS > 0 ? (-2 * a * s) / sizeS : 0;
  transmittedPRe = sizeP > 0 ? (2 * a * b) / sizeP : 0;
  transmittedPIm = sizeP > 0 ? (-2 * a * p) / sizeP : 0;
  reflectedS = 1;
  reflectedP = 1;
  throughS = 0;
  throughP = 0;
}

/**
 * Amplitudes and shares at a bulk metal of index n + ik, met from a clear medium; what is not reflected is absorbed.
 *
 * @param n1 - index of the medium that light comes from
 * @param cosine - of the angle of incidence, 0 to 1
 */
export function metalFace(n1: f64, n: f64, k: f64, cosine: f64): void {
  // N₂c₂ = u + iv from (N₂c₂)² = N₂² − n₁² sin²θ; r_p by N₂²c₁ against n₁·(N₂c₂).
  const re = n * n - k * k - n1 * n1 * Math.max(0, 1 - cosine * cosine);
  const im = 2 * n * k;
  const size = Math.sqrt(re * re + im * im);
  const u = Math.sqrt(Math.max(0, (size + re) / 2));
  const v = Math.sqrt(Math.max(0, (size - re) / 2));
  const a = n1 * cosine;
  const across = (a + u) * (a + u) + v * v;
  reflectedSRe = ((a - u) * (a + u) - v * v) / across;
  reflectedSIm = (-2 * a * v) / across;
  const pr = (n * n - k * k) * cosine;
  const pi = im * cosine;
  const qr = n1 * u;
  const qi = n1 * v;
  const within = (pr + qr) * (pr + qr) + (pi + qi) * (pi + qi);
  reflectedPRe = ((pr - qr) * (pr + qr) + (pi - qi) * (pi + qi)) / within;
  reflectedPIm = (2 * (pi * qr - pr * qi)) / within;
  transmittedSRe = 0;
  transmittedSIm = 0;
  transmittedPRe = 0;
  transmittedPIm = 0;
  reflectedS = ((a - u) * (a - u) + v * v) / across;
  reflectedP = ((pr - qr) * (pr - qr) + (pi - qi) * (pi - qi)) / within;
  throughS = 0;
  throughP = 0;
}

/** Shares of the last call for unpolarised light. */
export function reflectedShare(): f64 {
  return (reflectedS + reflectedP) / 2;
}

export function throughShare(): f64 {
  return (throughS + throughP) / 2;
}

/** Fixed shares of both polarisations. Where the medium behind knows no such angle, light that would go through is reflected. */
export function fixedFace(reflectance: f64, transmittance: f64, n1: f64, n2: f64, cosine: f64): void {
  const blocked = transmittance > 0 && n1 * n1 * (1 - cosine * cosine) >= n2 * n2;
  reflectedS = blocked ? reflectance + transmittance : reflectance;
  reflectedP = reflectedS;
  throughS = blocked ? 0 : transmittance;
  throughP = throughS;
}
