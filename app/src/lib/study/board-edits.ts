import type { Board, BoardTile, Edit, Project } from '@ulvex/core';
import { BOARD_TEMPLATES, type BoardTemplate } from './templates.ts';

const SIZES = { columns: [3, 4, 6, 8, 12], rows: [1, 2, 3, 4] } as const;

/** A board of a template, its tiles numbered. */
export function boardOfTemplate({ name, tiles }: BoardTemplate, id: string): Board {
  return { id, name, tiles: tiles.map((tile, i) => ({ id: `t${i + 1}`, settings: {}, ...tile })) };
}

const begun = (template: string, id: string) =>
  boardOfTemplate(
    BOARD_TEMPLATES.find((one) => one.id === template)!,
    id,
  );

/** What is on the boards before the user has arranged anything: one for its lenses, one for its scene. */
const LENS_BOARD: Board = begun('first_look', 'study');
const SCENE_BOARD: Board = begun('first_light', 'light');
const FOR_LENS = [LENS_BOARD];
const FOR_SCENE = [SCENE_BOARD];
const FOR_BOTH = [LENS_BOARD, SCENE_BOARD];

/** The boards of a project; while it has none, those that it begins with. */
export function boardsOf({ boards, scenes, lenses }: Project): readonly Board[] {
  if (boards?.length) return boards;
  if (!scenes?.length) return FOR_LENS;
  return lenses.length > 0 ? FOR_BOTH : FOR_SCENE;
}

/** The board with an id, or the first. */
export function boardOf(project: Project, id?: string): Board {
  const boards = boardsOf(project);
  return boards.find((board) => board.id === id) ?? boards[0];
}

/** Edits that need the boards to be in the project, with those that put them there first where they are not. */
function withBoards(project: Project, ...edits: Edit[]): Edit[] {
  if (project.boards?.length) return edits;
  return [{ kind: 'set', path: 'boards', value: boardsOf(project) }, ...edits];
}

/** Puts a new board behind the others: of a template, or a copy of one that is there. Its id comes with the edits. */
export function addBoard(
  project: Project,
  from: BoardTemplate | Board,
): { readonly edits: Edit[]; readonly id: string } {
  const boards = boardsOf(project);
  let n = boards.length + 1;
  while (boards.some(({ id }) => id === `board_${n}`)) n++;
  const id = `board_${n}`;
  const copy: Board = 'question' in from ? boardOfTemplate(from, id) : { ...from, id };
  const taken = new Set(boards.map(({ name }) => name));
  let name = copy.name;
  for (let k = 2; taken.has(name); k++) name = `${copy.name} ${k}`;
  const edits = withBoards(project, {
    kind: 'insert',
    list: 'boards',
    after: boards.at(-1)!.id,
    item: { ...copy, name } as Board,
  });
  return { edits, id };
}

/** Gives a board another name; no edit for an empty one. */
export function renameBoard(project: Project, id: string, name: string): Edit[] {
  const wanted = name.trim();
  if (wanted === '' || boardOf(project, id).name === wanted) return [];
  return withBoards(project, { kind: 'set', path: `boards.${id}.name`, value: wanted });
}

/** Takes a board away; the last one stays. */
export function removeBoard(project: Project, id: string): Edit[] {
  return boardsOf(project).length > 1 ? [{ kind: 'remove', list: 'boards', id }] : [];
}

const listOf = (board: Board) => `boards.${board.id}.tiles`;

/** Puts a new tile at the end of a board. */
export function addTile(
  project: Project,
  board: Board,
  tile: Pick<BoardTile, 'kind' | 'columns' | 'rows'> & Partial<Pick<BoardTile, 'settings'>>,
): Edit[] {
  let n = 1;
  while (board.tiles.some((entry) => entry.id === `t${n}`)) n++;
  const item: BoardTile = { id: `t${n}`, settings: {}, ...tile };
  return withBoards(project, {
    kind: 'insert',
    list: listOf(board),
    after: board.tiles.at(-1)?.id ?? null,
    item,
  });
}

export function removeTile(project: Project, board: Board, id: string): Edit[] {
  return withBoards(project, { kind: 'remove', list: listOf(board), id });
}

/** Moves a tile to stand before the one that has place `to` without it; no edit when it stands there already. */
export function moveTile(project: Project, board: Board, id: string, to: number): Edit[] {
  const { tiles } = board;
  const from = tiles.findIndex((tile) => tile.id === id);
  const place = Math.max(0, Math.min(tiles.length - 1, to));
  if (from === place) return [];
  const rest = tiles.filter((tile) => tile.id !== id);
  return withBoards(project, { kind: 'move', list: listOf(board), id, after: rest[place - 1]?.id ?? null });
}

/** The next size in a direction: of the sizes that snap, the nearest above or below; the same at the end. */
export function nextSize(direction: 'columns' | 'rows', size: number, way: 1 | -1): number {
  const sizes: readonly number[] = SIZES[direction];
  const further = sizes.filter((candidate) => (way > 0 ? candidate > size : candidate < size));
  return (way > 0 ? further[0] : further.at(-1)) ?? size;
}

export function setTile(project: Project, board: Board, id: string, part: Partial<Omit<BoardTile, 'id'>>): Edit[] {
  const tile = board.tiles.find((entry) => entry.id === id);
  return tile ? withBoards(project, { kind: 'set', path: `${listOf(board)}.${id}`, value: { ...tile, ...part } }) : [];
}
