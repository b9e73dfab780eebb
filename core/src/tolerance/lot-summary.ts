import { capability, yieldInterval, type Capability, type ValueLimits } from '../math/capability.ts';

/** What a trial of a lot has come to. */
export interface LotTrial {
  /** Its number, from 0: with the seed it says which departures it has. */
  readonly trial: number;
  /** By watched measure; null where the trial has no value. */
  readonly values: readonly (number | null)[];
  /** Why, where one has none. */
  readonly reason?: string;
  /** How far each compensator moved, mm. */
  readonly moved: readonly number[];
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
  /** As if the values were normally distributed. */
  readonly normal: Capability;
}

/** Whether a value keeps its limits; none does not. */
export function keeps(value: number | null, { min = -Infinity, max = Infinity }: ValueLimits): boolean {
  return value !== null && value >= min && value <= max;
}

/** Sums up the values of one measure; null where no trial has one. */
export function summaryOf(values: readonly (number | null)[], limits: ValueLimits): LotSummary | null {
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
    normal: capability(mean, deviation, limits),
  };
}
