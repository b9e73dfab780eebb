import { getContext, setContext } from 'svelte';

/** The state that a place on a board shows. */
export interface TileState {
  /** Id of a state, or `designed`; null for the state at hand. */
  readonly state: string | null;
  /** What is chosen for the place: the same, or `every`, where it shows this state beside others. */
  readonly chosen: string | null;
  choose(state: string | null): void;
}

const KEY = Symbol('tile state');

/** For the place of a tile on a board. */
export function provideTileState(state: TileState): void {
  setContext(KEY, state);
}

/** For a tile, and for the questions that are asked in it; undefined where it stands on no board. */
export function useTileState(): TileState | undefined {
  return getContext<TileState | undefined>(KEY);
}

/** What tells the state of the place that a component stands in; null where that is the state at hand. */
export function stateOfPlace(): () => string | null {
  const place = useTileState();
  return () => place?.state ?? null;
}
