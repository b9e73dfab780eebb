import type { Board, BoardTile, Edit, Project } from '@ulvex/core';

/** Id of the board that the Study room shows. */
export const BOARD_ID = 'study';

const LIST = `boards.${BOARD_ID}.tiles`;
const SIZES = { columns: [3, 4, 6, 8, 12], rows: [1, 2, 3, 4] } as const;

/** What is on the board before the user has arranged anything. */
export const DEFAULT_BOARD: Board = {
  id: BOARD_ID,
  name: 'First look',
  tiles: [
    { id: 't1', kind: 'section', columns: 6, rows: 2, settings: {} },
    { id: 't2', kind: 'spots', columns: 6, rows: 2, settings: {} },
    { id: 't3', kind: 'ray_fans', columns: 8, rows: 2, settings: {} },
    { id: 't4', kind: 'first_order', columns: 4, rows: 2, settings: {} },
  ],
};

/** The board of a project, or the default one while it has none. */
export function boardOf(project: Project): Board {
  return project.boards?.find((board) => board.id === BOARD_ID) ?? DEFAULT_BOARD;
}

/** Edits that need the board to be in the project, with those that put it there first where it is not. */
function onBoard(project: Project, ...edits: Edit[]): Edit[] {
  if (project.boards?.some((board) => board.id === BOARD_ID)) return edits;
  const boards = [...(project.boards ?? []), DEFAULT_BOARD];
  return [{ kind: 'set', path: 'boards', value: boards }, ...edits];
}

/** Puts a new tile at the end. */
export function addTile(project: Project, tile: Pick<BoardTile, 'kind' | 'columns' | 'rows'>): Edit[] {
  const { tiles } = boardOf(project);
  let n = 1;
  while (tiles.some((entry) => entry.id === `t${n}`)) n++;
  const item: BoardTile = { id: `t${n}`, settings: {}, ...tile };
  return onBoard(project, { kind: 'insert', list: LIST, after: tiles.at(-1)?.id ?? null, item });
}

export function removeTile(project: Project, id: string): Edit[] {
  return onBoard(project, { kind: 'remove', list: LIST, id });
}

/** Moves a tile to stand before the one that has place `to` without it; no edit when it stands there already. */
export function moveTile(project: Project, id: string, to: number): Edit[] {
  const { tiles } = boardOf(project);
  const from = tiles.findIndex((tile) => tile.id === id);
  const place = Math.max(0, Math.min(tiles.length - 1, to));
  if (from === place) return [];
  const rest = tiles.filter((tile) => tile.id !== id);
  return onBoard(project, { kind: 'move', list: LIST, id, after: rest[place - 1]?.id ?? null });
}

/** The next size in a direction: of the sizes that snap, the nearest above or below; the same at the end. */
export function nextSize(direction: 'columns' | 'rows', size: number, way: 1 | -1): number {
  const sizes: readonly number[] = SIZES[direction];
  const further = sizes.filter((candidate) => (way > 0 ? candidate > size : candidate < size));
  return (way > 0 ? further[0] : further.at(-1)) ?? size;
}

export function setTile(project: Project, id: string, part: Partial<Omit<BoardTile, 'id'>>): Edit[] {
  const tile = boardOf(project).tiles.find((entry) => entry.id === id);
  return tile ? onBoard(project, { kind: 'set', path: `${LIST}.${id}`, value: { ...tile, ...part } }) : [];
}
