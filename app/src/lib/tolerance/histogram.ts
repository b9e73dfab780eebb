import { niceStep } from '../format.ts';

/** Values counted in steps of one width. */
export interface Histogram {
  /** Where the first step begins, and how wide each is. */
  readonly from: number;
  readonly width: number;
  readonly counts: readonly number[];
}

/**
 * Counts values in steps whose ends are round numbers.
 *
 * @param steps - about how many are wanted; by default the square root of the number of values, 8 to 40
 */
export function histogramOf(values: readonly number[], steps?: number): Histogram | null {
  const known = values.filter(Number.isFinite);
  if (known.length === 0) return null;
  const least = known.reduce((a, b) => Math.min(a, b));
  const largest = known.reduce((a, b) => Math.max(a, b));
  const wanted = steps ?? Math.min(40, Math.max(8, Math.round(Math.sqrt(known.length))));
  const spread = largest - least || Math.abs(least) * 1e-3 || 1e-6;
  const width = niceStep(spread, wanted);
  const from = Math.floor(least / width) * width;
  const counts = new Array<number>(Math.max(1, Math.floor((largest - from) / width) + 1)).fill(0);
  for (const value of known) counts[Math.min(counts.length - 1, Math.floor((value - from) / width))]++;
  return { from, width, counts };
}

/**
 * The share of values at or below each of them, as corners of a staircase from 0 to 1.
 *
 * @param most - corners; of more values those at equal steps of the share are taken
 */
export function cumulative(values: readonly number[], most = 400): { readonly x: number; readonly share: number }[] {
  const known = Float64Array.from(values.filter(Number.isFinite)).sort();
  const count = Math.min(most, known.length);
  return Array.from({ length: count }, (_, k) => {
    const upTo = Math.round(((k + 1) * known.length) / count);
    return { x: known[upTo - 1], share: upTo / known.length };
  });
}
