/** Margin of a printed page and height of its heading, px of the page. */
export const PAGE_MARGIN = 28;
const HEADING = 34;
/** A page of the A series lying: its width over its height. */
const ASPECT = Math.SQRT2;

/** Size of the pages that a board is printed on: as wide as the board, so that its charts are what is seen, and no lower than its highest tile. */
export function pageSize(width: number, tallest: number): { readonly width: number; readonly height: number } {
  const page = width + 2 * PAGE_MARGIN;
  return { width: page, height: Math.ceil(Math.max(page / ASPECT, tallest + HEADING + 2 * PAGE_MARGIN + 8)) };
}
