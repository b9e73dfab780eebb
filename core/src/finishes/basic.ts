import type { Finish } from './finish.ts';

/** Finishes that every project knows by these ids without holding them. */
const BASIC: readonly Finish[] = [
  { id: 'bare', name: 'Bare (Fresnel)', optics: { kind: 'bare' } },
  { id: 'mirror', name: 'Perfect mirror', optics: { kind: 'mirror', reflectance: 1 } },
  { id: 'absorber', name: 'Perfect absorber', optics: { kind: 'absorber' } },
  { id: 'ground', name: 'Ground and blackened', optics: { kind: 'paint', reflectance: 0.04 } },
];

const byId = new Map(BASIC.map((finish) => [finish.id, finish]));

/** The finish that every project knows by a word, or undefined. */
export function basicFinish(id: string): Finish | undefined {
  return byId.get(id);
}

/** All of them. */
export const BASIC_FINISHES = BASIC;

/** What a face is where nothing is said: bare where light can go in, else black. */
export function basicFor(solid: boolean, clear: boolean): string {
  return solid && clear ? 'bare' : 'absorber';
}

/** Their ids, which no record of a project may take for something else. */
export const BASIC_IDS: readonly string[] = BASIC.map(({ id }) => id);
