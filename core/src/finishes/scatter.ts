import type { UniformSource } from '../math/random.ts';
import { RadialLobe } from './radial-lobe.ts';

/** How a part of the light that a face sends on is spread. Angles in degrees. */
export type Scatter =
  /** Equal radiance into the hemisphere, whatever the incidence. */
  | { readonly kind: 'lambertian'; readonly share: number }
  /** Direction cosines spread about the specular ones as exp(−|β − β₀|²/2σ²), σ = sin(angle). */
  | { readonly kind: 'gaussian'; readonly share: number; readonly angle: number }
  /** Intensity ∝ cosᵐ of the angle to the specular direction. */
  | { readonly kind: 'cosine_power'; readonly share: number; readonly power: number }
  /** BSDF A/(B + |β − β₀|ᵍ). */
  | { readonly kind: 'abg'; readonly a: number; readonly b: number; readonly g: number }
  /** BSDF b₀(1 + (|β − β₀|/l)²)^(s/2). */
  | { readonly kind: 'shoulder'; readonly b0: number; readonly l: number; readonly s: number }
  /** BSDF as a table over |β − β₀|, straight between its logarithms. */
  | { readonly kind: 'table'; readonly beta: readonly number[]; readonly bsdf: readonly number[] };

/** A scatter model made ready. Directions in the frame of the face: z along the normal on the side that light goes to. */
export interface CompiledScatter {
  /** The share where the spread is even (Lambert's): the compiled tracer draws such directions by itself. */
  readonly even?: number;
  /** Share of the light sent on that is scattered, the rest goes on as if the face were smooth. */
  share(sine: number): number;
  /**
   * Draws the direction of scattered light into `out` (unit, z > 0).
   *
   * @param sx - specular direction, x and y cosines
   */
  draw(sx: number, sy: number, random: UniformSource, out: Float64Array): void;
  /** Probability of a direction per steradian, given that light is scattered; for aiming and for tests. */
  density(sx: number, sy: number, ox: number, oy: number): number;
}

/** Makes a scatter model ready. */
export function compileScatter(scatter: Scatter): CompiledScatter {
  switch (scatter.kind) {
    case 'lambertian':
      return lambertian(scatter.share);
    case 'gaussian':
      return gaussian(scatter.share, Math.sin((scatter.angle * Math.PI) / 180));
    case 'cosine_power':
      return cosinePower(scatter.share, scatter.power);
    case 'abg': {
      const { a, b, g } = scatter;
      return radial(new RadialLobe((rho) => a / (b + rho ** g), b > 0 ? b ** (1 / Math.max(g, 0.1)) : 1e-4));
    }
    case 'shoulder': {
      const { b0, l, s } = scatter;
      return radial(new RadialLobe((rho) => b0 * (1 + (rho / l) ** 2) ** (s / 2), l));
    }
    case 'table':
      return radial(new RadialLobe(tableOf(scatter.beta, scatter.bsdf), scatter.beta[0] || 1e-4));
  }
}

/** log BSDF straight over log β; flat below the first entry, straight on to the end of the table, 0 behind it. */
function tableOf(beta: readonly number[], bsdf: readonly number[]): (rho: number) => number {
  const last = beta.length - 1;
  return (rho) => {
    if (rho <= beta[0]) return bsdf[0];
    if (rho > beta[last]) return 0;
    let i = 1;
    while (beta[i] < rho) i++;
    const part = Math.log(rho / beta[i - 1]) / Math.log(beta[i] / beta[i - 1]);
    return bsdf[i - 1] * (bsdf[i] / bsdf[i - 1]) ** part;
  };
}

function lambertian(share: number): CompiledScatter {
  return {
    even: share,
    share: () => share,
    draw(_sx, _sy, random, out) {
      const sine = Math.sqrt(random.uniform());
      const turn = 2 * Math.PI * random.uniform();
      out[0] = sine * Math.cos(turn);
      out[1] = sine * Math.sin(turn);
      out[2] = Math.sqrt(1 - sine * sine);
    },
    density: (_sx, _sy, ox, oy) => Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy)) / Math.PI,
  };
}

/** How often a direction below the face is drawn anew before the specular one is taken. */
const TRIES = 64;

function gaussian(share: number, sigma: number): CompiledScatter {
  // Of a circle of radius r about a place s from the middle, the part in the unit disc.
  const above = keptShare(1 - Math.exp(-1 / (2 * sigma * sigma)), (u, sine) => {
    const radius = sigma * Math.sqrt(-2 * Math.log(u));
    return arcBelow((radius * radius + sine * sine - 1) / (2 * radius * sine));
  });
  return {
    share: () => share,
    draw(sx, sy, random, out) {
      for (let attempt = 0; attempt < TRIES; attempt++) {
        const radius = sigma * Math.sqrt(-2 * Math.log(random.uniform()));
        const turn = 2 * Math.PI * random.uniform();
        if (lift(sx + radius * Math.cos(turn), sy + radius * Math.sin(turn), out)) return;
      }
      lift(sx, sy, out);
    },
    // Per unit of β² times cos θ per steradian, over the part of it that is not drawn anew.
    density(sx, sy, ox, oy) {
      const square = (ox - sx) ** 2 + (oy - sy) ** 2;
      const cosine = Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy));
      const kept = above(Math.hypot(sx, sy));
      return ((Math.exp(-square / (2 * sigma * sigma)) / (2 * Math.PI * sigma * sigma)) * cosine) / kept;
    },
  };
}

function cosinePower(share: number, power: number): CompiledScatter {
  // Of a cone of an angle γ about the specular direction, the part above the face: −cot γ cot θ bounds its azimuth.
  const above = keptShare(1, (u, sine) => {
    const along = u ** (1 / (power + 1));
    return 1 - arcBelow((along * Math.sqrt(1 - sine * sine)) / (Math.sqrt(1 - along * along) * sine));
  });
  return {
    share: () => share,
    draw(sx, sy, random, out) {
      const sz = Math.sqrt(Math.max(0, 1 - sx * sx - sy * sy));
      for (let attempt = 0; attempt < TRIES; attempt++) {
        const cosine = random.uniform() ** (1 / (power + 1));
        const sine = Math.sqrt(1 - cosine * cosine);
        const turn = 2 * Math.PI * random.uniform();
        aboutDirection(sx, sy, sz, cosine, sine * Math.cos(turn), sine * Math.sin(turn), out);
        if (out[2] > 0) return;
      }
      lift(sx, sy, out);
    },
    density(sx, sy, ox, oy) {
      const sz = Math.sqrt(Math.max(0, 1 - sx * sx - sy * sy));
      const oz = Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy));
      const cosine = Math.max(0, sx * ox + sy * oy + sz * oz);
      return (((power + 1) / (2 * Math.PI)) * cosine ** power) / above(Math.hypot(sx, sy));
    },
  };
}

/** Share of a circle whose azimuth has a cosine above a bound. */
function arcBelow(bound: number): number {
  return Math.acos(Math.min(1, Math.max(-1, bound))) / Math.PI;
}

const KEPT_PLACES = 128;
const KEPT_DRAWS = 1024;

/**
 * Share of the draws that come out above the face, over the sine of the specular direction: of a lobe whose rings are drawn by one
 * number u. Tabulated when first asked for, closely where lobes begin to dip below the face.
 *
 * @param atNormal - the share for sine 0
 * @param ring - share of the ring that lies above
 */
function keptShare(atNormal: number, ring: (u: number, sine: number) => number): (sine: number) => number {
  let table: Float64Array | null = null;
  return (wanted) => {
    if (wanted === 0) return atNormal;
    table ??= Float64Array.from({ length: KEPT_PLACES + 1 }, (_, i) => {
      const sine = 1 - (1 - i / KEPT_PLACES) ** 2;
      return ringMean(ring, Math.max(1e-12, sine));
    });
    const at = (1 - Math.sqrt(Math.max(0, 1 - wanted))) * KEPT_PLACES;
    const i = Math.min(KEPT_PLACES - 1, Math.floor(at));
    return table[i] + (at - i) * (table[i + 1] - table[i]);
  };
}

function ringMean(ring: (u: number, sine: number) => number, sine: number): number {
  let sum = 0;
  for (let k = 0; k < KEPT_DRAWS; k++) sum += ring((k + 0.5) / KEPT_DRAWS, sine);
  return sum / KEPT_DRAWS;
}

function radial(lobe: RadialLobe): CompiledScatter {
  return {
    share: (sine) => Math.min(1, lobe.total(sine)),
    draw(sx, sy, random, out) {
      for (let attempt = 0; attempt < TRIES; attempt++) {
        const radius = lobe.radius(random.uniform());
        const turn = 2 * Math.PI * random.uniform();
        if (lift(sx + radius * Math.cos(turn), sy + radius * Math.sin(turn), out)) return;
      }
      lift(sx, sy, out);
    },
    density(sx, sy, ox, oy) {
      const cosine = Math.sqrt(Math.max(0, 1 - ox * ox - oy * oy));
      return (lobe.bsdf(Math.hypot(ox - sx, oy - sy)) * cosine) / lobe.total(Math.hypot(sx, sy));
    },
  };
}

/** The unit vector above the face with two direction cosines; false where there is none. */
function lift(x: number, y: number, out: Float64Array): boolean {
  const square = x * x + y * y;
  if (!(square < 1)) return false;
  out[0] = x;
  out[1] = y;
  out[2] = Math.sqrt(1 - square);
  return true;
}

/**
 * The direction with parts (u, v, along) about a unit vector taken as the third axis; the two others by T. Duff and others,
 * Building an Orthonormal Basis, Revisited (2017).
 */
export function aboutDirection(
  x: number,
  y: number,
  z: number,
  along: number,
  u: number,
  v: number,
  out: Float64Array,
): void {
  const sign = z < 0 ? -1 : 1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  out[0] = u * (1 + sign * x * x * a) + v * b + along * x;
  out[1] = u * sign * b + v * (sign + y * y * a) + along * y;
  out[2] = -u * sign * x - v * y + along * z;
}
