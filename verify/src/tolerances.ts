import type { Tolerance } from './tally.ts';

/** Tolerances of the reference: one entry per category; pairs are [paraxial aim, real aim]. */
export type ToleranceTable = Readonly<
  Record<
    string,
    { abs?: number | readonly [number, number]; rel?: number | readonly [number, number] } | string | undefined
  >
>;

/**
 * The tolerance of a category; overrides of a lens file win.
 *
 * @throws Error when neither table has the category
 */
export function toleranceFor(
  category: string,
  aim: string | undefined,
  table: ToleranceTable,
  overrides: ToleranceTable = {},
): Tolerance {
  const entry = overrides[category] ?? table[category];
  if (entry === undefined || typeof entry === 'string') throw new Error(`no tolerance for ${category}`);
  const pick = (value: number | readonly [number, number] | undefined) =>
    typeof value === 'object' ? value[aim === 'real' ? 1 : 0] : value;
  const abs = pick(entry.abs);
  const rel = pick(entry.rel);
  return { ...(abs !== undefined && { abs }), ...(rel !== undefined && { rel }) };
}
