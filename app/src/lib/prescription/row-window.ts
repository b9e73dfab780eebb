import type { SurfaceRow } from './rows.ts';

/** A list of so many rows is drawn whole. */
export const DRAWN_WHOLE = 150;
/** What is drawn above and below what is seen, px: enough for a turn of the wheel and for a walk by keys. */
const MARGIN = 900;

/** The rows of a long list that are drawn, each with the empty height before it, px. */
export interface RowWindow {
  readonly drawn: readonly { readonly row: SurfaceRow; readonly before: number }[];
  /** The empty height after the last of them, px. */
  readonly after: number;
}

/** Height of the lines of a row, px, as its styles have it. */
export function rowHeight({ medium }: SurfaceRow): number {
  return 25 + (medium === null ? 0 : medium.solid ? 31 : 23);
}

/**
 * The part of a list that is drawn: all of a short one; of a long one the rows about what is seen, and the one that
 * has the focus, so that nothing typed is
 * lost when it is scrolled away.
 *
 * @param top - how far the list is scrolled, px
 * @param height - of the part that is seen, px
 * @param kept - id of the surface whose row is drawn in any case
 */
export function rowWindow(rows: readonly SurfaceRow[], top: number, height: number, kept: string | null): RowWindow {
  if (rows.length <= DRAWN_WHOLE) return { drawn: rows.map((row) => ({ row, before: 0 })), after: 0 };
  const drawn: { row: SurfaceRow; before: number }[] = [];
  let [place, before] = [0, 0];
  for (const row of rows) {
    const own = rowHeight(row);
    const near = place + own > top - MARGIN && place < top + height + MARGIN;
    if (near || row.surface.id === kept) {
      drawn.push({ row, before });
      before = 0;
    } else before += own;
    place += own;
  }
  return { drawn, after: before };
}

/** How far a list has to be scrolled for a row to stand in the middle of what is seen, px; null for a row that it does not have. */
export function scrollTo(rows: readonly SurfaceRow[], surface: string, height: number): number | null {
  const index = rows.findIndex((row) => row.surface.id === surface);
  if (index < 0) return null;
  const before = rows.slice(0, index).reduce((sum, row) => sum + rowHeight(row), 0);
  return Math.max(0, before - height / 2);
}
