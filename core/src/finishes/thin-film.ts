import type { FaceShares } from './fresnel.ts';

/** A homogeneous film. */
export interface Film {
  /** Index and extinction coefficient, n − ik. */
  readonly n: number;
  readonly k: number;
  /** Thickness, nm. */
  readonly nm: number;
}

/** N cos θ of a medium n − ik, for light that has n₀ sin θ₀ along the face; on the branch that decays. */
function slanted(n: number, k: number, along: number): [number, number] {
  const re = n * n - k * k - along * along;
  const im = -2 * n * k;
  const size = Math.hypot(re, im);
  // The larger part by a root, the other by im = 2uv: the difference under a root of its own would lose its digits.
  if (re >= 0) {
    const u = Math.sqrt((size + re) / 2);
    return [u, u > 0 ? im / (2 * u) : 0];
  }
  const v = -Math.sqrt((size - re) / 2);
  return [im / (2 * v), v];
}

/**
 * Shares of the flux that a stack of films between two media reflects and lets through, by characteristic matrices:
 * (B, C) = Π [cos δ, (i/η) sin δ; iη sin δ, cos δ] (1, η_m), R = |(η₀B − C)/(η₀B + C)|², T = 4η₀ Re η_m/|η₀B + C|²,
 * η_s = N cos θ, η_p = N/cos θ, δ = 2πN d cos θ/λ, N = n − ik. H. A. Macleod, Thin-Film Optical Filters, chapter 2.
 *
 * @param nm - wavelength in nm, against the medium that indices count against
 * @param n0 - index of the clear medium that light comes from
 * @param cosine - of the angle of incidence in it, above 0
 * @param films - in the order light meets them
 * @param behind - index n and extinction k of the medium behind
 */
export function filmShares(
  nm: number,
  n0: number,
  cosine: number,
  films: readonly Film[],
  behind: { readonly n: number; readonly k: number },
  out: FaceShares,
): void {
  const along = n0 * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  for (const p of [false, true]) {
    // η = N²/(N cos θ) for p, N cos θ for s.
    const admittance = (n: number, k: number): [number, number] => {
      const [u, v] = slanted(n, k, along);
      if (!p) return [u, v];
      const [re, im] = [n * n - k * k, -2 * n * k];
      const size = u * u + v * v;
      return [(re * u + im * v) / size, (im * u - re * v) / size];
    };
    const first = p ? n0 / cosine : n0 * cosine;
    const [mr, mi] = admittance(behind.n, behind.k);
    let [br, bi, cr, ci] = [1, 0, mr, mi];
    for (let layer = films.length - 1; layer >= 0; layer--) {
      const { n, k, nm: thickness } = films[layer];
      const [u, v] = slanted(n, k, along);
      const [er, ei] = admittance(n, k);
      const scale = (2 * Math.PI * thickness) / nm;
      const [dr, di] = [scale * u, scale * v];
      const [ch, sh] = [Math.cosh(di), Math.sinh(di)];
      const [cosR, cosI] = [Math.cos(dr) * ch, -Math.sin(dr) * sh];
      const [sinR, sinI] = [Math.sin(dr) * ch, Math.cos(dr) * sh];
      const size = er * er + ei * ei;
      // i sin δ/η and iη sin δ
      const [qr, qi] = [(-sinI * er + sinR * ei) / size, (sinR * er + sinI * ei) / size];
      const [wr, wi] = [-(sinI * er + sinR * ei), sinR * er - sinI * ei];
      const next = [
        cosR * br - cosI * bi + qr * cr - qi * ci,
        cosR * bi + cosI * br + qr * ci + qi * cr,
        wr * br - wi * bi + cosR * cr - cosI * ci,
        wr * bi + wi * br + cosR * ci + cosI * cr,
      ];
      [br, bi, cr, ci] = next;
    }
    const [dr, di] = [first * br + cr, first * bi + ci];
    const size = dr * dr + di * di;
    const reflected = ((first * br - cr) ** 2 + (first * bi - ci) ** 2) / size;
    const through = (4 * first * mr) / size;
    if (p) {
      out.rp = reflected;
      out.tp = through;
    } else {
      out.rs = reflected;
      out.ts = through;
    }
  }
}
