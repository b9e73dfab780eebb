/**
 * Walking a grid of cells by keyboard. A cell is an element with `data-row` and `data-col` inside an element with
 * `data-walk`; rows need not all have every column.
 */
export type Way = 'up' | 'down' | 'left' | 'right';

interface Place {
  readonly row: number;
  readonly col: number;
}

/** The cell to go to from `from`, or null at the edge: the nearest one in that direction, in the same column or row. */
export function nextPlace<P extends Place>(places: readonly P[], from: Place, way: Way): P | null {
  const vertical = way === 'up' || way === 'down';
  const sign = way === 'down' || way === 'right' ? 1 : -1;
  const along = (place: Place) => sign * (vertical ? place.row - from.row : place.col - from.col);
  const beside = places.filter(
    (place) => (vertical ? place.col === from.col : place.row === from.row) && along(place) > 0,
  );
  return beside.sort((a, b) => along(a) - along(b))[0] ?? null;
}

/** Moves the focus from a cell to its neighbour; false at the edge. */
export function walk(cell: HTMLElement, way: Way): boolean {
  const grid = cell.closest('[data-walk]');
  if (!grid) return false;
  const place = (element: HTMLElement) => ({
    element,
    row: Number(element.dataset.row),
    col: Number(element.dataset.col),
  });
  const places = [...grid.querySelectorAll<HTMLElement>('[data-row][data-col]')].map(place);
  const next = nextPlace(places, place(cell), way);
  next?.element.focus();
  return next !== null;
}
