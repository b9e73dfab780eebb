import { getContext, setContext } from 'svelte';

/** What a tile says of itself around its picture in a file. */
export interface TilePicture {
  readonly title: string;
  readonly about: string;
  /** Name of the state that is shown; null if there is only one. */
  readonly state: string | null;
}

const KEY = Symbol('tile picture');

export function provideTilePicture(picture: TilePicture): void {
  setContext(KEY, picture);
}

/** For what exports a tile; undefined outside of one. */
export function useTilePicture(): TilePicture | undefined {
  return getContext<TilePicture | undefined>(KEY);
}
