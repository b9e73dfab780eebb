import { bareFace, metalFace, reflectedP, reflectedS, throughP, throughS } from '../physics/fresnel.ts';

/** Shares of the flux of light polarised across (s) and in (p) the plane of incidence. */
export interface FaceShares {
  rs: number;
  rp: number;
  ts: number;
  tp: number;
}

/** Takes the shares that `physics/fresnel.ts` found last. */
export function takeShares(out: FaceShares): void {
  out.rs = reflectedS;
  out.rp = reflectedP;
  out.ts = throughS;
  out.tp = throughP;
}

/** Shares at a bare face between two clear media: see `bareFace`. */
export function bareShares(n1: number, n2: number, cosine: number, out: FaceShares): void {
  bareFace(n1, n2, cosine);
  takeShares(out);
}

/** Reflectances of a bulk metal of index n + ik met from a clear medium; what is not reflected is absorbed. */
export function metalShares(n1: number, n: number, k: number, cosine: number, out: FaceShares): void {
  metalFace(n1, n, k, cosine);
  takeShares(out);
}

/**
 * Phase of total reflection, radians, for waves across and in the plane of incidence, as magnitudes: tan(δ_s/2) = √(sin²θ − 1/N²)/cos θ,
 * tan(δ_p/2) = N²·tan(δ_s/2) with N = n₁/n₂. NaN below the critical angle. Born and Wolf, 1.5.4.
 */
export function totalReflectionPhase(n1: number, n2: number, angle: number): { s: number; p: number } {
  const ratio = n1 / n2;
  const tangent = Math.sqrt(Math.sin(angle) ** 2 - 1 / (ratio * ratio)) / Math.cos(angle);
  return { s: 2 * Math.atan(tangent), p: 2 * Math.atan(ratio * ratio * tangent) };
}
