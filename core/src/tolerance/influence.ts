import { fitLeastSquares } from '../math/linear-fit.ts';
import { normalBelow, normalDensity } from '../math/normal-distribution.ts';
import { success, type Outcome } from '../math/outcome.ts';
import { responseMoments } from '../math/quadratic-response.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { drawnTolerances, membersByGroup, type DrawnTolerance } from '../tolerances/drawn.ts';

/** What one tolerance does to one measure over the range in which it was tried. */
export interface Curve {
  /** Departures that were tried, rising, and the value at each; null where a trial has none. */
  readonly at: readonly number[];
  readonly values: readonly (number | null)[];
  /** The largest standard error of the values, for what is sampled by rays. */
  readonly error?: number;
  /** value + slope·x + curvature·x² through them by least squares; null where too few trials have a value. */
  readonly fit: QuadraticFit | null;
}

/** A tolerance taken over its range. */
export interface Sampled {
  /** Id of the tolerance. */
  readonly tolerance: string;
  /** By watched measure. */
  readonly curves: readonly Curve[];
  /** The first trial without a value: its departure, and why it has none. */
  readonly failure?: { readonly at: number; readonly reason: string };
}

/** What a tolerance with its limits and its distribution makes of a measure. */
export interface Influence extends Curve {
  /** Values at the lower and the upper limit: as they were tried, or else by the fit. */
  readonly ends: readonly [number | null, number | null];
  /** Whether a limit lies outside the range in which it was tried. */
  readonly extrapolated: boolean;
  /** Change of the mean, and standard deviation, by the fit over the distribution. */
  readonly shift: number;
  readonly deviation: number;
  /** Its share of the sum of squares of all deviations of this measure. */
  readonly share: number;
}

export interface QuadraticFit {
  readonly value: number;
  readonly slope: number;
  readonly curvature: number;
  /** The largest difference of the curve from the fit, as a share of the range of the curve. */
  readonly residual: number;
}

/**
 * What follows from curves for limits and distributions as they are now: nothing is traced anew.
 *
 * @param sampled - one for each of the tolerances, in their order
 * @returns by tolerance, then by watched measure. Fails for limits and distributions that cannot be.
 */
export function influencesOf(
  tolerances: readonly Tolerance[],
  sampled: readonly Sampled[],
): Outcome<readonly (readonly Influence[])[]> {
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  const rows = drawn.value.map((one, i) => sampled[i].curves.map((curve) => influenceOf(one, curve)));
  const sums = sampled[0]?.curves.map((_, k) => rows.reduce((sum, row) => sum + row[k].deviation ** 2, 0)) ?? [];
  return success(
    rows.map((row) => row.map((one, k) => ({ ...one, share: sums[k] > 0 ? one.deviation ** 2 / sums[k] : 0 }))),
  );
}

function influenceOf({ tolerance, distribution }: DrawnTolerance, curve: Curve): Omit<Influence, 'share'> {
  const { at, values, fit } = curve;
  const moments =
    fit && responseMoments({ value: 0, slopes: [fit.slope], curvatures: [[fit.curvature]] }, [distribution.moments]);
  const valueAt = (x: number) => {
    const tried = at.indexOf(x);
    if (tried >= 0) return values[tried];
    return fit && fit.value + fit.slope * x + fit.curvature * x ** 2;
  };
  const { lower, upper } = tolerance;
  return {
    ...curve,
    ends: [valueAt(lower), valueAt(upper)],
    extrapolated: lower < at[0] || upper > at[at.length - 1],
    shift: moments?.mean ?? 0,
    deviation: Math.sqrt(Math.max(0, moments?.variance ?? 0)),
  };
}

/** A parabola by least squares through what has a value; a straight line through two points. Null for fewer. */
export function quadraticThrough(at: readonly number[], values: readonly (number | null)[]): QuadraticFit | null {
  const points = at.flatMap((x, k) => (values[k] === null ? [] : [[x, values[k]] as const]));
  const reach = Math.max(...points.map(([x]) => Math.abs(x)));
  if (points.length < 2 || !(reach > 0)) return null;
  const terms = Math.min(3, points.length);
  const row = (x: number) => [1, x / reach, (x / reach) ** 2].slice(0, terms);
  const found = fitLeastSquares(
    points.map(([x]) => row(x)),
    points.map(([, y]) => y),
  );
  if (!found) return null;
  const [value, slope, curvature = 0] = found;
  const heights = points.map(([, y]) => y);
  const range = Math.max(...heights) - Math.min(...heights);
  const misses = points.map(([x, y]) => Math.abs(y - row(x).reduce((sum, term, k) => sum + term * found[k], 0)));
  return {
    value,
    slope: slope / reach,
    curvature: curvature / reach ** 2,
    residual: range > 0 ? Math.max(...misses) / range : 0,
  };
}

/** What all tolerances together do to a measure. */
export interface Together {
  /** Change of the mean. */
  readonly shift: number;
  readonly deviation: number;
}

/** Places at which what a group has in common is looked at, in standard deviations, and those of each member's own part. */
const [COMMON, OWN] = [normalGrid(96), normalGrid(32)];

/** Evenly spaced places from −6 to 6 with the share of a standard normal distribution about each. */
function normalGrid(count: number): readonly { readonly z: number; readonly weight: number }[] {
  const places = Array.from({ length: count }, (_, k) => -6 + (12 * (k + 0.5)) / count);
  const all = places.reduce((sum, z) => sum + normalDensity(z), 0);
  return places.map((z) => ({ z, weight: normalDensity(z) / all }));
}

/**
 * Effects of all tolerances added, without cross terms: variances of independent ones add; of a group, with E[f|g] the mean effect of a member
 * where the group has g in common, the variance of Σ E[f|g] counts in place of the sum of those variances.
 *
 * @param influences - of one measure, in the order of the tolerances
 */
export function together(tolerances: readonly Tolerance[], influences: readonly Influence[]): Together {
  const shift = influences.reduce((sum, one) => sum + one.shift, 0);
  let variance = influences.reduce((sum, one) => sum + one.deviation ** 2, 0);
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return { shift, deviation: Math.sqrt(variance) };
  for (const members of membersByGroup(drawn.value).values()) {
    if (members.length < 2) continue;
    const effects = members.map(({ at, correlation }) => meanEffects(drawn.value[at], influences[at].fit, correlation));
    const sums = COMMON.map((_, k) => effects.reduce((sum, one) => sum + one[k], 0));
    variance += effects.reduce((left, one) => left - varianceOf(one), varianceOf(sums));
  }
  return { shift, deviation: Math.sqrt(Math.max(0, variance)) };
}

/** The mean effect of a member of a group wherever the group has something in common. */
function meanEffects({ distribution }: DrawnTolerance, fit: QuadraticFit | null, correlation: number): number[] {
  if (!fit) return COMMON.map(() => 0);
  const effect = (z: number) => {
    const x = distribution.quantile(normalBelow(z));
    return x * (fit.slope + fit.curvature * x);
  };
  const own = Math.sqrt(Math.max(0, 1 - correlation ** 2));
  return COMMON.map(({ z }) =>
    own === 0
      ? effect(correlation * z)
      : OWN.reduce((sum, { z: e, weight }) => sum + weight * effect(correlation * z + own * e), 0),
  );
}

function varianceOf(values: readonly number[]): number {
  const mean = values.reduce((sum, value, k) => sum + COMMON[k].weight * value, 0);
  return values.reduce((sum, value, k) => sum + COMMON[k].weight * (value - mean) ** 2, 0);
}
