import { plain } from '../format.ts';

/** Limits in a few signs. */
export function boundText({ min, max }: { readonly min?: number; readonly max?: number }): string {
  const shown = (value: number) => plain(value, 4).replace('-', '−');
  if (min !== undefined && max !== undefined) return `${shown(min)} … ${shown(max)}`;
  return max !== undefined ? `≤ ${shown(max)}` : min !== undefined ? `≥ ${shown(min)}` : '–';
}

/** How bad values are, more for worse: beyond a limit, off the middle of two, or off the mean where there is none. */
export function badness(
  { min, max }: { readonly min?: number; readonly max?: number },
  mean: number,
): (value: number) => number {
  if (min !== undefined && max !== undefined) return (value) => Math.abs(value - (min + max) / 2);
  if (max !== undefined) return (value) => value;
  if (min !== undefined) return (value) => -value;
  return (value) => Math.abs(value - mean);
}
