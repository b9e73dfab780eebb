import { inState, splitStateAddress, type BrokenRelation, type Project } from '@ulvex/core';

/** Versions of a project as states see them, each made once, so that what did not change stays the same object. */
export class Views {
  readonly #known = new WeakMap<Project, Map<string, Project>>();

  /** A project as it is in a state; itself for none. */
  of(project: Project, state: string | null): Project {
    if (state === null) return project;
    let views = this.#known.get(project);
    if (!views) this.#known.set(project, (views = new Map()));
    let view = views.get(state);
    if (!view) {
      const seen = inState(project, state);
      views.set(state, (view = seen.ok ? seen.value : project));
    }
    return view;
  }
}

/** What does not hold, as it is to be told while a state is looked at: its own numbers by the addresses that they have on screen. */
export function brokenIn(broken: readonly BrokenRelation[], state: string): readonly BrokenRelation[] {
  return broken.map((one) => {
    const split = splitStateAddress(one.address);
    return split?.state === state ? { ...one, address: split.address } : one;
  });
}
