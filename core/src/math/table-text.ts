import { illegalEntry, type TableSpec } from './kinds.ts';
import { failure, success, type Outcome } from './outcome.ts';

/** The rows of a table as one line of text, `0:1 30:0.9`, with all digits. */
export function tableText({ columns }: TableSpec, record: Readonly<Record<string, unknown>>): string {
  const lists = columns.map(({ id }) => record[id] as readonly number[]);
  return lists[0].map((_, row) => lists.map((list) => String(list[row])).join(':')).join(' ');
}

/**
 * Reads rows of numbers with colons between them, and spaces, commas or semicolons between rows: `0:1 30:0.9`. Fails with the row that is wrong and
 * with what it must be.
 *
 * @returns the lists by the ids of their columns
 */
export function readTableText(spec: TableSpec, text: string): Outcome<Readonly<Record<string, readonly number[]>>> {
  const { columns } = spec;
  const pattern = columns.map(({ title }) => title.toLowerCase()).join(':');
  const rows = text
    .replaceAll('−', '-')
    .trim()
    .split(/[\s,;]+/)
    .filter((row) => row !== '')
    .map((row) => row.split(':').map((part) => (part === '' ? NaN : Number(part))));
  for (const [i, row] of rows.entries()) {
    if (row.length !== columns.length) return failure(`Row ${i + 1} is not ${pattern}.`);
    for (const [c, column] of columns.entries()) {
      const wrong = illegalEntry(column, row[c]);
      if (wrong) return failure(`Row ${i + 1}: ${column.title} ${wrong}.`);
      if (column.rises && i > 0 && row[c] <= rows[i - 1][c])
        return failure(`Row ${i + 1}: ${column.title} must be above that of the row before.`);
    }
  }
  if (rows.length < spec.least) return failure(`Give at least ${spec.least} rows ${pattern}.`);
  return success(Object.fromEntries(columns.map(({ id }, c) => [id, rows.map((row) => row[c])])));
}
