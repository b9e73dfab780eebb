import type { Tracked } from '@ulvex/core';
import { claimProject, type Claim } from '../keeping/claim.ts';
import { Journal, type Draft } from '../keeping/journal.ts';
import { ProjectKeeper, type FromStore, type Keeping } from '../keeping/project-keeper.ts';
import { freshProjectId, keepForGood, newKeep, projectStore } from '../keeping/store.ts';

export { storeTrouble, type FromStore, type Keeping } from '../keeping/project-keeper.ts';

/** What windows left behind; pages are in `localStorage`, which writes at once. */
export const journal = new Journal(pagesOfBrowser(), freshProjectId().slice(0, 8));

/** Claims a project for this tab; where locks are forbidden there is nothing to tell tabs apart with, and it is granted. */
export function claimFor(id: string, steal = false): Promise<Claim | null> {
  return claimProject(id, steal).catch(() => claimProject(id, false, null));
}

/** Keeps the open project in the browser's store; says how it stands as something that components can follow. */
export class Keeper {
  readonly #keeper: ProjectKeeper;
  state = $state.raw<Keeping>({ state: 'waiting' });

  /** @param now - the project with its history as it is when it is written */
  constructor(now: () => Tracked) {
    this.#keeper = new ProjectKeeper({
      store: projectStore,
      journal,
      newKeep,
      claim: claimFor,
      clock: Date.now,
      later: (run, ms) => {
        const timer = setTimeout(run, ms);
        return () => clearTimeout(timer);
      },
      now,
      tell: (keeping) => (this.state = keeping),
    });
  }

  get id(): string {
    return this.#keeper.id;
  }

  /** Begins to keep another project; `from` is given when it comes out of the store. */
  begin(from?: FromStore): void {
    this.#keeper.begin(from);
  }

  /** See `ProjectKeeper.leave`. */
  leave(): Promise<void> {
    return this.#keeper.leave();
  }

  /** See `ProjectKeeper.stay`. */
  stay(): void {
    this.#keeper.stay();
  }

  /** See `ProjectKeeper.takeOver`. */
  takeOver(take: (recalled: Tracked) => void): Promise<void> {
    return this.#keeper.takeOver(take);
  }

  /** The project has changed: it is written soon, together with what changes until then. */
  changed(): void {
    keepForGood();
    this.#keeper.changed();
  }

  /** Writes what waits to be kept, at once. */
  flush(): Promise<void> {
    return this.#keeper.flush();
  }

  /** See `ProjectKeeper.leaving`. */
  leaving(draft: Draft | null): boolean {
    return this.#keeper.leaving(draft);
  }

  /** Says that the store refused. */
  failed(error: unknown): void {
    this.#keeper.failed(error);
  }
}

/** The browser's `localStorage`, or one that refuses everything where the browser forbids it. */
function pagesOfBrowser(): Storage {
  try {
    return localStorage;
  } catch {
    return {
      length: 0,
      key: () => null,
      getItem: () => null,
      removeItem: () => {},
      clear: () => {},
      setItem: () => {
        throw new Error('forbidden');
      },
    };
  }
}
