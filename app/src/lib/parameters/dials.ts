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
  const reach = value === 0 ? least : share * Math.abs(value);
  const step = niceBelow((2 * reach) / STEPS);
  const low = Math.max(value - reach, spec.min ?? -Infinity, (spec.above ?? -Infinity) + step);
  const high = Math.min(value + reach, spec.most ?? Infinity, (spec.below ?? Infinity) - step);
  return { from: step * Math.floor(low / step), to: step * Math.ceil(high / step), step };
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
