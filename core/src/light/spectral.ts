/** One row of a spectral table. */
export interface SpectralRow {
  readonly id: string;
  /** Wavelength, nm. */
  readonly nm: number;
  readonly value: number;
}

/** Values over the wavelength, straight between its rows; the first and the last one hold beyond the ends. */
export interface SpectralTable {
  readonly kind: 'table';
  /** In any order. */
  readonly rows: readonly SpectralRow[];
}

/** A number that is the same at all wavelengths, or a table over them. */
export type Spectral = number | SpectralTable;

/** Most rows of a table. */
export const MOST_SPECTRAL_ROWS = 500;

/** Whether it is a table that can be read: anything else counts as one number. */
export function isSpectralTable(value: unknown): value is SpectralTable {
  return typeof value === 'object' && value !== null && Array.isArray((value as { rows?: unknown }).rows);
}

const SORTED = new WeakMap<SpectralTable, readonly SpectralRow[]>();

/** The rows by rising wavelength. */
export function sortedRows(table: SpectralTable): readonly SpectralRow[] {
  let sorted = SORTED.get(table);
  if (!sorted) SORTED.set(table, (sorted = [...table.rows].sort((a, b) => a.nm - b.nm)));
  return sorted;
}

/**
 * The value at a wavelength: straight between the rows around it, that of the nearest row beyond the ends. Of two rows at one wavelength the
 * first holds below and at it, the second above.
 *
 * @param nm - wavelength in nm
 */
export function spectralAt(value: Spectral, nm: number): number {
  if (!isSpectralTable(value)) return value;
  const rows = sortedRows(value);
  if (nm <= rows[0].nm) return rows[0].value;
  const above = rows.findIndex((row) => row.nm >= nm);
  if (above < 0) return rows[rows.length - 1].value;
  const [from, to] = [rows[above - 1], rows[above]];
  return from.value + ((to.value - from.value) * (nm - from.nm)) / (to.nm - from.nm);
}

/** The wavelengths between which a table has rows, nm; null for one number, which holds everywhere. */
export function spectralRange(value: Spectral): readonly [from: number, to: number] | null {
  if (!isSpectralTable(value)) return null;
  const rows = sortedRows(value);
  return [rows[0].nm, rows[rows.length - 1].nm];
}

/** What counts at those of some wavelengths, nm, that a table does not reach, as the end of a sentence about it; null if there are none. */
export function beyondTable(value: Spectral, waves: readonly number[]): string | null {
  const range = spectralRange(value);
  const outside = range ? waves.filter((nm) => nm < range[0] || nm > range[1]) : [];
  if (!range || outside.length === 0) return null;
  const listed = outside.map((nm) => Number(nm.toPrecision(7))).join(', ');
  return `is given from ${range[0]} to ${range[1]} nm: at ${listed} nm the value at the nearest end counts.`;
}
