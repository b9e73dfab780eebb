import { getContext, setContext } from 'svelte';
import type { Desk } from './desk.svelte.ts';

const KEY = Symbol('desk');

export function provideDesk(desk: Desk): void {
  setContext(KEY, desk);
}

/** The desk of the window; for components below the layout of the rooms. */
export function useDesk(): Desk {
  return getContext<Desk>(KEY);
}
