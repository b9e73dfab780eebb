/** Shares of the flux of light polarised across (s) and in (p) the plane of incidence. */
export interface FaceShares {
  rs: number;
  rp: number;
  ts: number;
  tp: number;
}

/**
 * Fresnel's shares at a bare face between two clear media: r_s = (n₁c₁ − n₂c₂)/(n₁c₁ + n₂c₂), r_p = (n₂c₁ − n₁c₂)/(n₂c₁ + n₁c₂);
 * beyond the critical angle all is reflected. Born and Wolf, Principles of Optics, 1.5.
 *
 * @param n1 - index of the medium that light comes from
 * @param n2 - index after the face
 * @param cosine - of the angle of incidence, 0 to 1
 */
export function bareShares(n1: number, n2: number, cosine: number, out: FaceShares): void {
  const sine = (n1 / n2) * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  if (!(sine < 1)) {
    out.rs = out.rp = 1;
    out.ts = out.tp = 0;
    return;
  }
  const behind = Math.sqrt(1 - sine * sine);
  const s = (n1 * cosine - n2 * behind) / (n1 * cosine + n2 * behind);
  const p = (n2 * cosine - n1 * behind) / (n2 * cosine + n1 * behind);
  out.rs = s * s;
  out.rp = p * p;
  out.ts = 1 - out.rs;
  out.tp = 1 - out.rp;
}

/** Reflectances of a bulk metal of index n + ik met from a clear medium; what is not reflected is absorbed. */
export function metalShares(n1: number, n: number, k: number, cosine: number, out: FaceShares): void {
  // n₂c₂ =: u + iv from (n₂c₂)² = n₂² − n₁² sin²θ; r_p through n₂²c₁ against n₁·(n₂c₂).
  const inside = n1 * n1 * Math.max(0, 1 - cosine * cosine);
  const re = n * n - k * k - inside;
  const im = 2 * n * k;
  const size = Math.hypot(re, im);
  const u = Math.sqrt(Math.max(0, (size + re) / 2));
  const v = Math.sqrt(Math.max(0, (size - re) / 2));
  const a = n1 * cosine;
  out.rs = ((a - u) ** 2 + v * v) / ((a + u) ** 2 + v * v);
  const [pr, pi] = [(n * n - k * k) * cosine, 2 * n * k * cosine];
  out.rp = ((pr - n1 * u) ** 2 + (pi - n1 * v) ** 2) / ((pr + n1 * u) ** 2 + (pi + n1 * v) ** 2);
  out.ts = out.tp = 0;
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
