/** Most characters a table of indices may have: larger ones are none. */
export const MAX_TABLE_TEXT = 5_000_000;
/** Most points of a grid of sags. */
export const MOST_SAGS = 66_000;
