import { getContext, setContext } from 'svelte';

/** A thin bar beside a number: how long it is, 0 to 1, and what it stands for in words. */
export interface Bar {
  readonly share: number;
  readonly words: string;
}

const KEY = Symbol('bars');

/** Says which bars the cells below have, by the address of what they show. */
export function giveBars(barAt: (address: string) => Bar | undefined): void {
  setContext(KEY, barAt);
}

/** The bar of a cell. */
export function barsHere(): (address: string) => Bar | undefined {
  return getContext(KEY) ?? (() => undefined);
}
