import { besselJ } from '../../math/bessel.ts';
import { rootBetween } from '../../math/root.ts';

/** First and second zero of J₁: the dark rings of the image of a point, in πr/(λN). */
const [FIRST, SECOND] = [
  [3.5, 4],
  [6.8, 7.2],
].map(([from, to]) => rootBetween((v) => besselJ(1, v), from, to, besselJ(1, from), besselJ(1, to)));

/** Radii of the first two dark rings of a perfect circular pupil, in λN: 1.2197 and 2.2331. */
export const DARK_RINGS = [FIRST / Math.PI, SECOND / Math.PI] as const;

/** Irradiance over its peak at a distance from the middle in λN: (2J₁(v)/v)², v = πr/(λN) (G. B. Airy, 1835; Born and Wolf, 8.5.2). */
export function airyIrradiance(distance: number): number {
  const v = Math.PI * distance;
  return v === 0 ? 1 : ((2 * besselJ(1, v)) / v) ** 2;
}

/** Share of the light inside of a radius in λN: 1 − J₀² − J₁² (Rayleigh; Born and Wolf, 8.5.2). */
export function airyEncircled(radius: number): number {
  const v = Math.PI * radius;
  return 1 - besselJ(0, v) ** 2 - besselJ(1, v) ** 2;
}
