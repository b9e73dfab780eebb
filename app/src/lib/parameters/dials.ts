import type { Parameter } from '@ulvex/core';

/** How far a dial goes, and by how much it moves, in the unit of its number. */
export interface DialRange {
  readonly from: number;
  readonly to: number;
  readonly step: number;
}

/** Steps from one end of a dial to the other. */
const STEPS = 400;

/** A range about the present value that a designer would try: a fifth to each side, half for distances, within what is legal. */
export function dialRange({ spec, value }: Pick<Parameter, 'spec' | 'value'>): DialRange {
  const share = spec.id === 'thickness' || spec.id === 'distance' ? 0.5 : 0.2;
  const least = spec.kind === 'angle' ? 5 : spec.kind === 'length' ? 1 : 0.1;
  return about(spec, value, value === 0 ? least : share * Math.abs(value));
}

/** A range about a value, in round steps and within what is legal. */
function about(spec: Parameter['spec'], value: number, reach: number): DialRange {
  const step = niceBelow((2 * reach) / STEPS);
  const low = Math.max(value - reach, spec.min ?? -Infinity, (spec.above ?? -Infinity) + step);
  const high = Math.min(value + reach, spec.most ?? Infinity, (spec.below ?? Infinity) - step);
  const round = (end: number) => Number(end.toPrecision(12));
  return { from: round(step * Math.floor(low / step)), to: round(step * Math.ceil(high / step)), step };
}

/** Changes that are tried to see how sensitive a number is, as shares of its size (of 1 for a number near 0). */
const PROBES = [3e-5, 1e-4, 3e-4, 1e-3, 3e-3, 1e-2, 3e-2, 0.1, 0.2] as const;
/** Times the spot as it is, from which on a change is as much as a dial should show. */
const TURNED = 2.5;

/** Values about the present one, smaller and larger, at which the spot tells how sensitive a number is; the present one first. */
export function probeValues({ spec, value }: Pick<Parameter, 'spec' | 'value'>): number[] {
  if (!Number.isFinite(value)) return [];
  const size = Math.abs(value) > 1e-6 ? Math.abs(value) : 1;
  const around = PROBES.flatMap((share) => [value - share * size, value + share * size]);
  const legal = (one: number) =>
    one >= (spec.min ?? -Infinity) &&
    one <= (spec.most ?? Infinity) &&
    one > (spec.above ?? -Infinity) &&
    one < (spec.below ?? Infinity);
  return [value, ...around.filter(legal)];
}

/**
 * A range in which a number changes what is seen by as much as is worth seeing: to where the spot is two and a half times as large. Null if no
 * change does that within what was tried, or if there is no spot.
 *
 * @param values - of `probeValues`
 * @param spots - RMS spot at each of them; NaN for none
 */
export function sensitiveRange(
  { spec }: Pick<Parameter, 'spec'>,
  values: readonly number[],
  spots: readonly number[],
): DialRange | null {
  const [value, now] = [values[0], spots[0]];
  if (!(now > 0)) return null;
  let reach = Infinity;
  values.forEach((one, k) => {
    if (k > 0 && !(spots[k] < TURNED * now)) reach = Math.min(reach, Math.abs(one - value));
  });
  if (!Number.isFinite(reach) || reach === 0) return null;
  return about(spec, value, reach);
}

/** The largest of 1, 2 and 5 times a power of ten that does not pass a number. */
function niceBelow(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  return [5, 2, 1].map((digit) => digit * power).find((value) => value <= most * (1 + 1e-12)) ?? power;
}

/** What is wrong with a range, in a sentence; null where nothing is. */
export function rangeTrouble({ from, to, step }: DialRange): string | null {
  if (![from, to, step].every(Number.isFinite)) return 'A dial goes from a number to a number.';
  if (!(from < to)) return 'The left end must be below the right one.';
  return step > 0 && step <= to - from ? null : 'A step is above 0 and fits into the range.';
}
