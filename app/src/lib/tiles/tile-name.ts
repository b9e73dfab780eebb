import { getContext, setContext } from 'svelte';

/** The name that a tile was given on its board, and how it is given another. */
export interface TileName {
  readonly name: string | undefined;
  /** Whether it is being typed. */
  naming: boolean;
  /** Takes a name; an empty one gives the tile its own title back. */
  rename(name: string): void;
}

const KEY = Symbol('tile name');

/** For the place of a tile on a board: what the tile in it is called. */
export function provideTileName(name: TileName): void {
  setContext(KEY, name);
}

/** For a tile: its name on the board; undefined where it stands on none. */
export function useTileName(): TileName | undefined {
  return getContext<TileName | undefined>(KEY);
}
