import { inState, type Project } from '@ulvex/core';

/** States of projects that were made already: the same object for as long as the design is the same. */
const made = new WeakMap<Project, Map<string, Project>>();

/**
 * The project as a place on a board sees it.
 *
 * @param base - the design
 * @param atHand - the project in the state at hand, which counts if the place names no state
 * @param state - id of a state, `designed`, or null; one that is not there any more is the state at hand
 */
export function seenProject(base: Project, atHand: Project, state: string | null): Project {
  if (state === null) return atHand;
  if (state === 'designed') return base;
  let own = made.get(base);
  if (!own) made.set(base, (own = new Map<string, Project>()));
  let seen = own.get(state);
  if (!seen) {
    const found = inState(base, state);
    own.set(state, (seen = found.ok ? found.value : atHand));
  }
  return seen;
}
