import { getContext, setContext } from 'svelte';

/** Several tiles that share one place: what is shown there is chosen in the title of the tile. */
export interface TileSwitch {
  readonly choices: readonly (readonly [kind: string, title: string])[];
  readonly shown: string;
  choose(kind: string): void;
}

const KEY = Symbol('tile switch');

export function provideTileSwitch(choice: TileSwitch): void {
  setContext(KEY, choice);
}

/** For a tile; undefined if it has its place for itself. */
export function useTileSwitch(): TileSwitch | undefined {
  return getContext<TileSwitch | undefined>(KEY);
}
