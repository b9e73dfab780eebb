import {
  isSpectralTable,
  MOST_SPECTRAL_ROWS,
  sortedRows,
  spectralAt,
  type SpectralRow,
  type SpectralTable,
} from '../light/spectral.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { illegal, type ParameterSpec } from '../math/parameter.ts';
import { valueAt, type Edit } from './edit.ts';
import { freshId } from './fresh-id.ts';
import type { Project } from './model.ts';

/** Where a spectral number is read as one number, nm: green, where the eye sees best. */
const MIDDLE = 555;

/** The table that stands at a path of the document, or null for a number. */
export function spectralTableAt(project: Project, path: string): SpectralTable | null {
  const value = valueAt(project, path);
  return isSpectralTable(value) ? value : null;
}

const set = (path: string, value: unknown): readonly Edit[] => [{ kind: 'set', path, value }];

const tableOf = (rows: readonly SpectralRow[]): SpectralTable => ({ kind: 'table', rows });

/**
 * Puts a table in the place of a number, with that number at both ends of a range.
 *
 * @param path - of the number; what holds it is made if it is not there
 * @param range - nm
 */
export function overWavelength(
  project: Project,
  path: string,
  spec: ParameterSpec,
  [from, to]: readonly [number, number],
): readonly Edit[] {
  const value = (valueAt(project, path) as number | undefined) ?? spec.fallback ?? 0;
  const table = tableOf([
    { id: 'r1', nm: from, value },
    { id: 'r2', nm: to, value },
  ]);
  const end = path.lastIndexOf('.');
  const holder = path.slice(0, end);
  return valueAt(project, holder) === undefined ? set(holder, { [path.slice(end + 1)]: table }) : set(path, table);
}

/** Puts one number in the place of a table: what it says at 555 nm. */
export function oneNumber(path: string, table: SpectralTable): readonly Edit[] {
  return set(path, spectralAt(table, MIDDLE));
}

/** Adds a row to a table: halfway through its widest gap, on its line; of one row, 100 nm above. */
export function addSpectralRow(path: string, table: SpectralTable): readonly Edit[] {
  const rows = sortedRows(table);
  let widest = 0;
  for (let i = 1; i < rows.length - 1; i++)
    if (rows[i + 1].nm - rows[i].nm > rows[widest + 1].nm - rows[widest].nm) widest = i;
  const nm = rows.length < 2 ? rows[0].nm + 100 : (rows[widest].nm + rows[widest + 1].nm) / 2;
  const item: SpectralRow = { id: freshId('r', table.rows), nm, value: spectralAt(table, nm) };
  return [{ kind: 'insert', list: `${path}.rows`, after: rows[widest].id, item }];
}

/** Removes a row; the last one stays as one number. */
export function removeSpectralRow(path: string, table: SpectralTable, id: string): readonly Edit[] {
  if (table.rows.length < 2) return oneNumber(path, table);
  return [{ kind: 'remove', list: `${path}.rows`, id }];
}

/** A number as it stands in a pasted table: with a decimal comma, a true minus sign or a percent sign. */
function numberIn(text: string): number {
  const percent = text.endsWith('%');
  const plain = text.replace('−', '-').replace(/%$/, '').replace(',', '.');
  return plain === '' ? NaN : Number(plain) / (percent ? 100 : 1);
}

/**
 * Puts a table in the place of what is there, from two columns of text: wavelength in nm and value, a row a line, between them a tab,
 * semicolon, comma and blank, or blanks; one line of headings is skipped. `82 %` is 0.82. Fails with the line that is wrong.
 */
export function pasteSpectral(path: string, spec: ParameterSpec, text: string): Outcome<readonly Edit[]> {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const rows: SpectralRow[] = [];
  for (const [k, line] of lines.entries()) {
    const [nm, value, ...more] = line
      .trim()
      .replace(/\s+%/g, '%')
      .split(/\s*[\t;]\s*|,\s+|\s+|(?<=\d),(?=\d+\.)/)
      .map(numberIn);
    if (k === 0 && Number.isNaN(nm)) continue;
    const where = `Line ${k + 1}, “${line.trim().slice(0, 40)}”`;
    if (value === undefined || more.length > 0 || Number.isNaN(nm) || Number.isNaN(value))
      return failure(`${where}, is not a wavelength in nm and a value. Nothing was changed.`);
    if (!(nm > 0 && nm < 1e6)) return failure(`${where}: the wavelength must be above 0 nm. Nothing was changed.`);
    const wrong = illegal(spec, value);
    if (wrong) return failure(`${where}: ${spec.title.toLowerCase()} ${wrong}. Nothing was changed.`);
    rows.push({ id: `r${rows.length + 1}`, nm, value });
  }
  if (rows.length === 0) return failure('The text has no row of a wavelength and a value. Nothing was changed.');
  if (rows.length > MOST_SPECTRAL_ROWS)
    return failure(`The text has ${rows.length} rows; at most ${MOST_SPECTRAL_ROWS} are kept. Nothing was changed.`);
  return success(set(path, tableOf([...rows].sort((a, b) => a.nm - b.nm))));
}
