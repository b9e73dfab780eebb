import { applyEdits, type Edit } from './edit.ts';
import { cellText, setCell, type TableColumn } from './lens-cells.ts';
import { insertSurface, type Gesture } from './lens-edits.ts';
import type { Lens, Project, Surface } from './model.ts';

/** Columns in the order in which a table without a header is read, and in which one is written behind the name. */
const BY_POSITION: readonly TableColumn[] = ['radius', 'thickness', 'material', 'semi_aperture', 'conic'];

/** What headers are understood, in lower case without units and marks. */
const HEADERS: Readonly<Record<string, TableColumn | 'stop'>> = {
  name: 'name',
  surface: 'name',
  radius: 'radius',
  r: 'radius',
  'radius of curvature': 'radius',
  thickness: 'thickness',
  t: 'thickness',
  d: 'thickness',
  distance: 'thickness',
  separation: 'thickness',
  material: 'material',
  glass: 'material',
  medium: 'material',
  index: 'material',
  n: 'material',
  nd: 'material',
  'semi-aperture': 'semi_aperture',
  'semi-ap.': 'semi_aperture',
  semi: 'semi_aperture',
  semiaperture: 'semi_aperture',
  conic: 'conic',
  'conic constant': 'conic',
  k: 'conic',
  comment: 'comment',
  note: 'comment',
  stop: 'stop',
  'aperture stop': 'stop',
};

/** How the stop is marked in its column, and what else is read as a mark. */
const STOP = 'stop';
const MARKS = /^(stop|yes|true|x|\*|1)$/i;
const NO_MARKS = /^(no|false|0|-|–)$/i;

/** A cell of a pasted table that cannot be taken, counted from 1 as in a spreadsheet. */
export interface TableProblem {
  readonly row: number;
  readonly column: number;
  readonly reason: string;
}

export type TableResult =
  | { readonly ok: true; readonly gesture: Gesture; readonly rows: number; readonly added: number }
  | { readonly ok: false; readonly problems: readonly TableProblem[] };

/** Surfaces as text for a spreadsheet: tabs between cells, a header, every digit; the whole prescription unless some are given. */
export function lensTable(project: Project, lens: Lens, surfaces: readonly Surface[] = lens.surfaces): string {
  const header = ['name', 'radius', 'thickness', 'material', 'semi-aperture', 'conic', 'comment', 'stop'];
  const columns = ['name', 'radius', 'thickness', 'material', 'semi_aperture', 'conic', 'comment'] as const;
  const rows = surfaces.map((surface) => [
    ...columns.map((column) => cellText(project, surface, column)),
    surface.id === lens.stop ? STOP : '',
  ]);
  return [header, ...rows].map((row) => `${row.join('\t')}\n`).join('');
}

/**
 * Reads a table copied from a spreadsheet onto the surfaces from `startId` on: by its header when the first row is one, else
 * by position (radius, thickness, material, semi-aperture, conic); a single column without a header belongs to
 * `column`, if given. Rows beyond the last surface before the image add
 * surfaces; empty cells change nothing. Nothing is applied when any cell is wrong: every wrong one is named.
 */
export function pasteTable(
  project: Project,
  lensId: string,
  startId: string,
  text: string,
  column?: TableColumn,
): TableResult {
  const lines = text.replace(/\r/g, '').replace(/\n+$/, '').split('\n');
  const separator = lines.some((line) => line.includes('\t')) ? '\t' : ';';
  const cells = lines.map((line) => line.split(separator).map((cell) => cell.trim()));
  const header = headerOf(cells[0]);
  const single = column && cells.every((row) => row.length === 1);
  const columns = header ?? (single ? [column] : BY_POSITION);
  const rows = header ? cells.slice(1) : cells;
  const firstRow = header ? 2 : 1;
  if (rows.length === 0)
    return { ok: false, problems: [{ row: 1, column: 1, reason: 'The table has a header and no rows.' }] };
  if (rows.length > 1000)
    return { ok: false, problems: [{ row: 1, column: 1, reason: 'The table has more than 1000 rows.' }] };

  const paste = new Paste(project, lensId, startId, columns);
  rows.forEach((row, r) => paste.row(row, firstRow + r));
  const { problems, edits, focus, added } = paste;
  if (problems.length > 0) return { ok: false, problems };
  return {
    ok: true,
    gesture: { edits, label: `Paste ${rows.length} rows`, focus },
    rows: rows.length,
    added,
  };
}

/** Writes the rows of a table to the surfaces, one after the other. Rows and columns of `problems` are those of the table. */
class Paste {
  readonly #lensId: string;
  readonly #columns: readonly (TableColumn | 'stop' | undefined)[];
  readonly problems: TableProblem[] = [];
  readonly edits: Edit[] = [];
  focus: string;
  added = 0;
  #current: Project;
  #at: number;
  #stopRow: number | null = null;

  constructor(
    project: Project,
    lensId: string,
    startId: string,
    columns: readonly (TableColumn | 'stop' | undefined)[],
  ) {
    this.#current = project;
    this.#lensId = lensId;
    this.#columns = columns;
    this.focus = startId;
    this.#at = this.#lens.surfaces.findIndex((surface) => surface.id === startId);
    if (this.#at < 0) throw new Error(`the lens ${lensId} has no surface ${startId}`);
  }

  get #lens(): Lens {
    return this.#current.lenses.find((entry) => entry.id === this.#lensId)!;
  }

  #apply(more: readonly Edit[]): void {
    this.#current = applyEdits(this.#current, more).project;
    this.edits.push(...more);
  }

  row(cells: readonly string[], number: number): void {
    const last = this.#lens.surfaces.length - 1;
    // The image surface takes a row only if the table gives it no medium; else the row is a new surface before it.
    const givesMedium = this.#columns.some(
      (column, c) => (column === 'thickness' || column === 'material') && cells[c],
    );
    if (this.#at > last || (this.#at === last && givesMedium)) {
      const gesture = insertSurface(this.#lens, this.#lens.surfaces[last].id);
      this.#apply(gesture.edits);
      this.focus = gesture.focus;
      this.#at = this.#lens.surfaces.length - 2;
      this.added++;
    }
    cells.forEach((cell, c) => {
      const column = this.#columns[c];
      const reason = column && cell !== '' ? this.#cell(column, cell, number) : null;
      if (reason) this.problems.push({ row: number, column: c + 1, reason });
    });
    this.#at++;
  }

  /** Takes a cell; what is wrong with it, or null. */
  #cell(column: TableColumn | 'stop', cell: string, row: number): string | null {
    const { id } = this.#lens.surfaces[this.#at];
    if (column === 'stop') {
      if (NO_MARKS.test(cell)) return null;
      const reason = stopTrouble(cell, this.#stopRow);
      if (reason) return reason;
      this.#apply([{ kind: 'set', path: `lenses.${this.#lensId}.stop`, value: id }]);
      this.#stopRow = row;
      return null;
    }
    const result = setCell(this.#current, this.#lens, id, column, cell);
    if (!result.ok) return result.reason;
    this.#apply(result.value.edits);
    return null;
  }
}

/** What is wrong with a mark in the column of the stop; null if it is one, and the first. */
function stopTrouble(cell: string, earlier: number | null): string | null {
  if (!MARKS.test(cell))
    return `“${cell}” is no mark of the stop: write “stop” beside one surface, nothing beside the others.`;
  return earlier === null ? null : `There is one stop only; row ${earlier} is marked as well.`;
}

/** The columns that a first row names; null when it is no header. Words that mean nothing leave their column out. */
function headerOf(row: readonly string[]): (TableColumn | 'stop' | undefined)[] | null {
  const columns = row.map(
    (cell) =>
      HEADERS[
        cell
          .toLowerCase()
          .replace(/[([].*$/, '')
          .replace(/,.*$/, '')
          .trim()
      ],
  );
  return columns.some((column) => column !== undefined) ? columns : null;
}

/** Whether a text from the clipboard is a table rather than what goes into one cell. */
export function looksLikeTable(text: string): boolean {
  return /\t/.test(text) || /\S\r?\n\s*\S/.test(text);
}
