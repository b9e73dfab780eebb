import { capability, yieldInterval, type Capability, type ValueLimits } from '../math/capability.ts';

/** What a trial of a lot has come to. */
export interface LotTrial {
  /** Its number, from 0: with the seed it says which departures it has. */
  readonly trial: number;
  /** By watched measure; null where the trial has no value. */
  readonly values: readonly (number | null)[];
  /** By watched measure: the standard error of one that is sampled by rays; left out where none is. */
  readonly errors?: readonly (number | null)[];
  /** Why, where one has none. */
  readonly reason?: string;
  /** How far each compensator moved: a refocus in mm, an adjustment in the unit of what it moves. */
  readonly moved: readonly number[];
}

/** The deviation of sampled values, taken apart. */
export interface Noise {
  /** Standard deviation by the rays: the root of the mean of the squared standard errors. */
  readonly deviation: number;
  /** Standard deviation by the tolerances: what is left of the variance; 0 where nothing is. */
  readonly spread: number;
  /** Between which values that lies, at two standard errors of the variance. */
  readonly spreadRange: readonly [number, number];
}

/** What the trials say of one measure. */
export interface LotSummary {
  /** Trials with a value, and all of them. */
  readonly count: number;
  readonly trials: number;
  readonly mean: number;
  readonly meanError: number;
  /** Sample standard deviation. */
  readonly deviation: number;
  readonly least: number;
  readonly largest: number;
  /** The value below which so many of those with a value lie. */
  readonly percentiles: Readonly<Record<'p10' | 'p50' | 'p90' | 'p98', number>>;
  /** Trials within the limits; one without a value is not. */
  readonly passed: number;
  readonly yield: number;
  /** Between which shares the true yield lies, at 95 %. */
  readonly yieldRange: readonly [number, number];
  /** Of a measure that is sampled by rays: what of the deviation is noise. */
  readonly noise: Noise | null;
  /** As if the values were normally distributed. */
  readonly normal: Capability;
}

/** Whether a value keeps its limits; none does not. */
export function keeps(value: number | null, { min = -Infinity, max = Infinity }: ValueLimits): boolean {
  return value !== null && value >= min && value <= max;
}

/**
 * Takes noise and spread apart: independent, so their variances add. The variance of n values has the standard error V·√(2/(n − 1)) for
 * normal ones.
 */
function noiseOf(deviation: number, count: number, errors: readonly (number | null)[]): Noise | null {
  const known = errors.filter((error) => error !== null);
  if (known.length === 0 || count < 2) return null;
  const noise = known.reduce((sum, error) => sum + error ** 2, 0) / known.length;
  const variance = deviation ** 2;
  const left = variance - noise;
  const error = variance * Math.sqrt(2 / (count - 1));
  const root = (value: number) => Math.sqrt(Math.max(0, value));
  return {
    deviation: Math.sqrt(noise),
    spread: root(left),
    spreadRange: [root(left - 2 * error), root(left + 2 * error)],
  };
}

/**
 * Sums up the values of one measure; null where no trial has one.
 *
 * @param errors - standard errors of values that are sampled by rays, trial by trial
 */
export function summaryOf(
  values: readonly (number | null)[],
  limits: ValueLimits,
  errors: readonly (number | null)[] = [],
): LotSummary | null {
  const known = Float64Array.from(values.filter((value) => value !== null)).sort();
  const count = known.length;
  if (count === 0) return null;
  const mean = known.reduce((sum, value) => sum + value, 0) / count;
  const squares = known.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  const deviation = count > 1 ? Math.sqrt(squares / (count - 1)) : 0;
  const passed = values.filter((value) => keeps(value, limits)).length;
  const percentile = (share: number) => {
    const at = share * (count - 1);
    const below = Math.floor(at);
    return known[below] + (at - below) * (known[Math.min(count - 1, below + 1)] - known[below]);
  };
  return {
    count,
    trials: values.length,
    mean,
    meanError: deviation / Math.sqrt(count),
    deviation,
    least: known[0],
    largest: known[count - 1],
    percentiles: { p10: percentile(0.1), p50: percentile(0.5), p90: percentile(0.9), p98: percentile(0.98) },
    passed,
    yield: passed / values.length,
    yieldRange: yieldInterval(passed, values.length),
    noise: noiseOf(deviation, count, errors),
    normal: capability(mean, deviation, limits),
  };
}
