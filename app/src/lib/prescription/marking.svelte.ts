import type { Lens, TableColumn } from '@ulvex/core';

/** A cell of the prescription: a line (a surface or the medium after it it) and a column; column 0 is the line's name. */
export interface MarkPlace {
  readonly surface: string;
  readonly medium: boolean;
  readonly col: number;
}

const COLUMN_OF: Readonly<Record<string, TableColumn>> = {
  'surface 1': 'radius',
  'surface 2': 'conic',
  'surface 3': 'semi_aperture',
  'surface 4': 'comment',
  'medium 1': 'thickness',
  'medium 3': 'material',
};

/** What a cell of the grid is in a table; null for names of lines. */
export function tableColumn({ medium, col }: MarkPlace): TableColumn | null {
  return COLUMN_OF[`${medium ? 'medium' : 'surface'} ${col}`] ?? null;
}

/** Several lines, or several cells of one column, chosen together: from where it began to where it was carried. */
export class Marking {
  #anchor = $state.raw<MarkPlace | null>(null);
  #head = $state.raw<string | null>(null);

  /** Carries the marking from a cell one line up or down, on lines of the same kind; returns the surface it reaches. */
  extend(lens: Lens, from: MarkPlace, by: -1 | 1): string {
    const anchor = this.#anchor && this.#head === from.surface && same(this.#anchor, from) ? this.#anchor : from;
    const last = lens.surfaces.length - (from.medium ? 2 : 1);
    const at = lens.surfaces.findIndex(({ id }) => id === from.surface);
    const next = lens.surfaces[Math.max(0, Math.min(last, at + by))].id;
    this.#anchor = anchor;
    this.#head = next;
    return next;
  }

  /** Carries the marking to a cell that was pointed at; a cell of another column begins a new one. */
  reach(from: MarkPlace | null, to: MarkPlace): void {
    this.#anchor = this.#anchor && same(this.#anchor, to) ? this.#anchor : from && same(from, to) ? from : to;
    this.#head = to.surface;
  }

  clear(): void {
    this.#anchor = null;
    this.#head = null;
  }

  get place(): MarkPlace | null {
    return this.#anchor;
  }

  /** Ids of the marked surfaces in the order of the lens; empty unless there are two at least. */
  ids(lens: Lens): readonly string[] {
    const [a, b] = [this.#anchor?.surface, this.#head].map((id) => lens.surfaces.findIndex((entry) => entry.id === id));
    if (a < 0 || b < 0 || a === b) return [];
    return lens.surfaces.slice(Math.min(a, b), Math.max(a, b) + 1).map(({ id }) => id);
  }
}

function same(a: MarkPlace, b: MarkPlace): boolean {
  return a.medium === b.medium && a.col === b.col;
}
