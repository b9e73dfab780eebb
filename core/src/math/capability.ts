import { normalBelow } from './normal-distribution.ts';

/** The limits of a value; either may be missing. */
export interface ValueLimits {
  readonly min?: number;
  readonly max?: number;
}

/** What a production with a normal distribution makes of limits. */
export interface Capability {
  /** (max − min)/6σ; null where a limit is missing. */
  readonly cp: number | null;
  /** The distance of the mean from the nearest limit over 3σ; negative where the mean itself is beyond it; null without limits. */
  readonly cpk: number | null;
  /** The share within the limits. */
  readonly yield: number;
  /** The share beyond them, with all its digits. */
  readonly out: number;
}

/**
 * Capability and yield of a normal distribution between limits.
 *
 * @param sigma - its standard deviation, at least 0
 */
export function capability(mean: number, sigma: number, { min, max }: ValueLimits): Capability {
  const rooms = [...(min === undefined ? [] : [mean - min]), ...(max === undefined ? [] : [max - mean])];
  const ratio = (room: number, of: number) => (sigma > 0 ? room / of : room === 0 ? 0 : Math.sign(room) * Infinity);
  const out = rooms.reduce((sum, room) => sum + (sigma > 0 ? normalBelow(-room / sigma) : room < 0 ? 1 : 0), 0);
  return {
    cp: min === undefined || max === undefined ? null : ratio(max - min, 6 * sigma),
    cpk: rooms.length === 0 ? null : ratio(Math.min(...rooms), 3 * sigma),
    yield: 1 - out,
    out,
  };
}

/** What independent small errors make of a value that is linear in them. */
export interface LinearSpread {
  /** The root of the sum of squares. */
  readonly sigma: number;
  /** Where all errors add up. */
  readonly worst: number;
}

/**
 * The spread of a sum of independent errors.
 *
 * @param slopes - by how much the value changes with each error
 * @param sigmas - their standard deviations
 * @param largest - the largest departure of each; the standard deviations if not given
 */
export function linearSpread(
  slopes: readonly number[],
  sigmas: readonly number[],
  largest: readonly number[] = sigmas,
): LinearSpread {
  return {
    sigma: Math.hypot(...slopes.map((slope, i) => slope * sigmas[i])),
    worst: slopes.reduce((sum, slope, i) => sum + Math.abs(slope * largest[i]), 0),
  };
}

/**
 * Between which shares the true yield lies when so many of a number of trials have passed: the score interval of E. B. Wilson,
 * J. Am. Stat. Assoc. 22, 209 (1927).
 *
 * @param z - how many standard deviations wide to each side; 1.96 for 95 %
 */
export function yieldInterval(passed: number, trials: number, z = 1.959963984540054): readonly [number, number] {
  if (trials === 0) return [0, 1];
  const share = passed / trials;
  const scale = 1 + (z * z) / trials;
  const middle = (share + (z * z) / (2 * trials)) / scale;
  const half = (z / scale) * Math.sqrt((share * (1 - share)) / trials + (z * z) / (4 * trials * trials));
  return [Math.max(0, middle - half), Math.min(1, middle + half)];
}
