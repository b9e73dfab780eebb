import { gaussLegendre } from '../math/quadrature.ts';

/** Where in the pupil rays are put, and how many; part of every result that is made of rays. */
export type PupilSampling =
  /** Gauss–Legendre rings in ρ², arms at 2π(j + ½)/arms; G. W. Forbes, J. Opt. Soc. Am. A 5, 1943 (1988). */
  | { readonly kind: 'polar'; readonly rings: number; readonly arms: number }
  /** Cell centres of a square grid of `size` × `size` that fall into the pupil, all of the same weight. */
  | { readonly kind: 'grid'; readonly size: number };

/** Points of the unit disk with weights that sum to 1. */
export interface PupilPoints {
  readonly px: Float64Array;
  readonly py: Float64Array;
  readonly weight: Float64Array;
}

const known = new Map<string, PupilPoints>();

/** Short words for a sampling, such as `12 × 24 polar`. */
export function samplingLabel(sampling: PupilSampling): string {
  return sampling.kind === 'polar'
    ? `${sampling.rings} × ${sampling.arms} polar`
    : `${sampling.size} × ${sampling.size} grid`;
}

/**
 * The points of a sampling of the unit disk, or of the annulus outside `obscuration`.
 *
 * @param obscuration - inner over outer radius, from 0 to below 1
 */
export function pupilPoints(sampling: PupilSampling, obscuration: number): PupilPoints {
  const key = `${samplingLabel(sampling)} ${obscuration}`;
  const found = known.get(key);
  if (found) return found;
  const points =
    sampling.kind === 'polar' ? polar(sampling.rings, sampling.arms, obscuration) : grid(sampling.size, obscuration);
  if (known.size > 50) known.clear();
  known.set(key, points);
  return points;
}

function polar(rings: number, arms: number, obscuration: number): PupilPoints {
  const { nodes, weights } = gaussLegendre(rings);
  const count = rings * arms;
  const points = {
    px: new Float64Array(count),
    py: new Float64Array(count),
    weight: new Float64Array(count),
  };
  const inner = obscuration * obscuration;
  for (let i = 0; i < rings; i++) {
    const rho = Math.sqrt(inner + ((1 - inner) * (1 + nodes[i])) / 2);
    for (let j = 0; j < arms; j++) {
      const angle = (2 * Math.PI * (j + 0.5)) / arms;
      const at = i * arms + j;
      points.px[at] = rho * Math.cos(angle);
      points.py[at] = rho * Math.sin(angle);
      points.weight[at] = weights[i] / 2 / arms;
    }
  }
  return points;
}

function grid(size: number, obscuration: number): PupilPoints {
  const px: number[] = [];
  const py: number[] = [];
  for (let i = 0; i < size; i++) {
    for (let j = 0; j < size; j++) {
      const x = -1 + (2 * (i + 0.5)) / size;
      const y = -1 + (2 * (j + 0.5)) / size;
      const radiusSq = x * x + y * y;
      if (radiusSq <= 1 && radiusSq >= obscuration * obscuration) {
        px.push(x);
        py.push(y);
      }
    }
  }
  return {
    px: Float64Array.from(px),
    py: Float64Array.from(py),
    weight: new Float64Array(px.length).fill(1 / px.length),
  };
}

/** The points of a sampling with px ≥ 0, and how the whole is made of them and their mirror images. */
export interface MirrorHalf {
  readonly whole: PupilPoints;
  readonly half: PupilPoints;
  /** For each point of the whole, the entry of `half` that it is, or whose mirror image it is. */
  readonly source: Int32Array;
  /** 1 where it is a mirror image. */
  readonly mirrored: Uint8Array;
}

const halves = new WeakMap<PupilPoints, MirrorHalf | null>();

/** Splits a sampling that is its own mirror image in px = 0; null where some point has no partner. The same object every time. */
export function mirrorHalf(points: PupilPoints): MirrorHalf | null {
  let split = halves.get(points);
  if (split === undefined) {
    split = splitInHalf(points);
    halves.set(points, split);
    if (split) splits.set(points.px, split);
  }
  return split;
}

const splits = new WeakMap<ArrayLike<number>, MirrorHalf>();

/** The split of the sampling that has this very column px; undefined if it was not split. */
export function splitOf(px: ArrayLike<number>): MirrorHalf | undefined {
  return splits.get(px);
}

function splitInHalf(whole: PupilPoints): MirrorHalf | null {
  const { px, py, weight } = whole;
  const nameOf = (x: number, y: number) => `${Math.round(x * 1e9)} ${Math.round(y * 1e9)}`;
  const chosen: number[] = [];
  const entry = new Map<string, number>();
  for (let i = 0; i < px.length; i++) {
    if (px[i] < -5e-10) continue;
    entry.set(nameOf(px[i], py[i]), chosen.length);
    chosen.push(i);
  }
  const source = new Int32Array(px.length);
  const mirrored = new Uint8Array(px.length);
  for (let i = 0; i < px.length; i++) {
    const across = px[i] < -5e-10;
    const partner = entry.get(nameOf(across ? -px[i] : px[i], py[i]));
    if (partner === undefined) return null;
    source[i] = partner;
    mirrored[i] = across ? 1 : 0;
  }
  const take = (column: Float64Array) => Float64Array.from(chosen, (i) => column[i]);
  return { whole, half: { px: take(px), py: take(py), weight: take(weight) }, source, mirrored };
}
