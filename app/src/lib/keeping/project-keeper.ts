import type { Tracked } from '@ulvex/core';
import type { Claim } from './claim.ts';
import { leftOf, putIn, type Draft, type Journal } from './journal.ts';
import { Overtaken, type Keep, type ProjectStore } from './project-store.ts';

/** How the project stands in the browser's store. */
export type Keeping =
  | { readonly state: 'kept'; readonly at: number }
  | { readonly state: 'waiting' }
  /** Another tab has the project: what is changed here is kept as a copy. */
  | { readonly state: 'elsewhere'; readonly copied: boolean }
  | { readonly state: 'failed'; readonly reason: string };

/** What a keeper works with; all of it is handed in, so that stores that fail and clocks that jump can be tried. */
export interface KeeperParts {
  readonly store: Pick<ProjectStore, 'keep' | 'recall' | 'rememberOpen'>;
  readonly journal: Pick<Journal, 'write' | 'clear' | 'drop' | 'pages'>;
  readonly newKeep: () => Keep;
  readonly claim: (id: string, steal: boolean) => Promise<Claim | null>;
  /** Milliseconds since 1970. */
  readonly clock: () => number;
  /** Runs something later; returns what takes that back. */
  readonly later: (run: () => void, ms: number) => () => void;
  /** The project with its history as it is now. */
  readonly now: () => Tracked;
  readonly tell: (keeping: Keeping) => void;
}

/** A project as it came out of the store. */
export interface FromStore {
  readonly keep: Keep;
  readonly savedAt: number;
  /** How many entries its history has there. */
  readonly entries: number;
  /** The claim on it; null where another tab has it. */
  readonly claim: Claim | null;
  /** Pages of the journal that were put in since. */
  readonly pages?: readonly string[];
}

/** A change is written after this, together with what changes until then, ms. */
const KEEP_AFTER = 250;
/** When a store that refused is asked again: doubled each time up to the second, ms. */
const RETRY = 2000;
const LONGEST_RETRY = 30_000;

/** A project that is being kept, with what has become of it. */
interface Kept {
  readonly keep: Keep;
  /** Resolves to the claim, or null where another tab has it. */
  claiming: Promise<Claim | null>;
  claim: Claim | null;
  settled: boolean;
  /** Where changes go while another tab has the project. */
  copy: Keep | null;
  /** Counts changes, and how many of them the store has. */
  changes: number;
  written: number;
  /** How many of them the journal has. */
  noted: number;
  /** Entries of the history that the store has. */
  entries: number;
  /** Page of the journal that is its own. */
  readonly page: number;
  /** Pages of the journal that were put in when it was opened. */
  pages: readonly string[];
}

/**
 * Keeps the open project in the store a moment after each change. A tab writes a project only while it holds the
 * claim on it; what is changed without one is kept as a copy, so that no order of tabs, failures and closings loses a
 * change.
 */
export class ProjectKeeper {
  readonly #parts: KeeperParts;
  #kept: Kept;
  #takeBack: (() => void) | null = null;
  #writing: Promise<void> = Promise.resolve();
  #retry = RETRY;
  #page = 0;
  #failed = false;

  constructor(parts: KeeperParts) {
    this.#parts = parts;
    this.#kept = this.#fresh(parts.newKeep(), 0, []);
  }

  get id(): string {
    return this.#kept.keep.id;
  }

  #fresh(keep: Keep, entries: number, pages: readonly string[]): Kept {
    return {
      keep,
      claiming: Promise.resolve(null),
      claim: null,
      settled: false,
      copy: null,
      changes: 0,
      written: 0,
      noted: 0,
      entries,
      page: this.#page++,
      pages,
    };
  }

  /**
   * Begins to keep another project. What of the one before was not written yet must have been handed to `leave`.
   *
   * @param from - where it comes out of the store
   */
  begin(from?: FromStore): void {
    this.#stopWaiting();
    const kept = this.#fresh(from?.keep ?? this.#parts.newKeep(), from?.entries ?? 0, from?.pages ?? []);
    this.#kept = kept;
    this.#failed = false;
    if (!from || kept.pages.length > 0) kept.changes = 1;
    this.#parts.tell(kept.changes > 0 ? { state: 'waiting' } : { state: 'kept', at: from!.savedAt });
    void this.#claim(kept, from ? Promise.resolve(from.claim) : this.#parts.claim(kept.keep.id, false));
    this.#parts.store.rememberOpen(kept.keep.id).catch(() => {}); // the store's refusal shows when the project itself is kept
  }

  /**
   * What waits to be kept of the project that is on the desk now is written, and its claim let go, whatever is put on
   * the desk next. Resolves when that is done or has failed.
   */
  leave(): Promise<void> {
    this.#stopWaiting();
    const kept = this.#kept;
    const tracked = this.#parts.now();
    const { changes } = kept;
    const done = this.#writing.then(async () => {
      await kept.claiming;
      if (kept.written < changes) await this.#put(kept, tracked, changes);
    });
    // What the store refuses now waits in the journal: nobody asks the store again for a project that is not on the desk.
    this.#writing = done.catch(() => void this.#journal(kept, tracked, changes, null));
    return this.#writing.then(() => {
      kept.claim?.release();
      kept.claim = null;
    });
  }

  /** The project that was left stays on the desk after all: it is claimed again. */
  stay(): void {
    const kept = this.#kept;
    void this.#claim(kept, this.#parts.claim(kept.keep.id, false));
  }

  #claim(kept: Kept, asked: Promise<Claim | null>): Promise<void> {
    kept.claim?.release();
    kept.claim = null;
    kept.settled = false;
    kept.claiming = asked.then((claim) => {
      kept.claim = claim;
      kept.settled = true;
      if (claim) void claim.lost.then(() => this.#lost(kept, claim));
      return claim;
    });
    return kept.claiming.then((claim) => {
      if (this.#kept !== kept) return;
      if (!claim) this.#parts.tell({ state: 'elsewhere', copied: kept.copy !== null });
      if (kept.written < kept.changes) this.#soon();
    });
  }

  /** Another tab has taken over. */
  #lost(kept: Kept, claim: Claim | null): void {
    if (kept.claim !== claim) return;
    kept.claim = null;
    if (this.#kept !== kept) return;
    this.#parts.tell({ state: 'elsewhere', copied: kept.copy !== null });
    if (kept.written < kept.changes) this.#soon();
  }

  /** The project has changed: it is written soon, together with what changes until then. */
  changed(): void {
    const kept = this.#kept;
    kept.changes++;
    if (!kept.settled) return; // written as soon as the claim is settled
    if (kept.claim && !this.#failed) this.#parts.tell({ state: 'waiting' });
    this.#soon();
  }

  #soon(after = KEEP_AFTER): void {
    this.#stopWaiting();
    this.#takeBack = this.#parts.later(() => {
      this.#takeBack = null;
      this.#write();
    }, after);
  }

  #stopWaiting(): void {
    this.#takeBack?.();
    this.#takeBack = null;
  }

  /** Writes what waits to be kept, at once. */
  async flush(): Promise<void> {
    const kept = this.#kept;
    await kept.claiming.catch(() => {});
    if (this.#kept === kept && kept.written < kept.changes) {
      this.#stopWaiting();
      this.#write();
    }
    await this.#writing;
  }

  #write(): void {
    const kept = this.#kept;
    const tracked = this.#parts.now();
    const { changes } = kept;
    this.#writing = this.#writing
      .then(() => (kept.written < changes ? this.#put(kept, tracked, changes) : undefined))
      .catch((error: unknown) => this.#trouble(kept, error));
  }

  /** Writes a version: into the project itself with the claim, else into a copy. */
  async #put(kept: Kept, tracked: Tracked, changes: number): Promise<void> {
    if (kept.claim) {
      try {
        const at = await this.#parts.store.keep(kept.keep, tracked);
        this.#hasWritten(kept, tracked, changes);
        if (kept.copy === null) this.#parts.journal.drop(...kept.pages);
        if (this.#kept === kept && kept.claim && kept.written === kept.changes) this.#parts.tell({ state: 'kept', at });
        return;
      } catch (error) {
        if (!(error instanceof Overtaken)) throw error;
        // Where tabs have no locks to tell each other: what is there stays, what is here becomes a copy.
        const { claim } = kept;
        kept.claim = null;
        claim?.release();
      }
    }
    kept.copy ??= this.#parts.newKeep();
    await this.#parts.store.keep(kept.copy, asCopy(tracked));
    this.#hasWritten(kept, tracked, changes);
    this.#parts.journal.drop(...kept.pages);
    if (this.#kept === kept) this.#parts.tell({ state: 'elsewhere', copied: true });
  }

  #hasWritten(kept: Kept, tracked: Tracked, changes: number): void {
    kept.written = Math.max(kept.written, changes);
    kept.entries = tracked.history.entries.length;
    if (kept.written === kept.changes)
      for (const keep of [kept.keep, kept.copy]) if (keep) this.#parts.journal.clear(keep.id, kept.page);
    if (this.#kept !== kept) return;
    this.#failed = false;
    this.#retry = RETRY;
  }

  /** The store refused: it is said, and tried again until there is room. */
  #trouble(kept: Kept, error: unknown): void {
    if (this.#kept !== kept) return; // `leave` has its own version
    this.failed(error);
    if (this.#takeBack === null) this.#soon(this.#retry);
    this.#retry = Math.min(LONGEST_RETRY, 2 * this.#retry);
  }

  /** Says that the store refused. */
  failed(error: unknown): void {
    this.#failed = true;
    this.#parts.tell({ state: 'failed', reason: storeTrouble(error) });
  }

  /**
   * The window is being left, perhaps for good: what the store does not have yet is written down at once, with the
   * text of an open cell. Returns whether all is safe now.
   */
  leaving(draft: Draft | null): boolean {
    const kept = this.#kept;
    if (kept.written === kept.changes && !draft) return true;
    return this.#journal(kept, this.#parts.now(), kept.changes, draft);
  }

  #journal(kept: Kept, tracked: Tracked, changes: number, draft: Draft | null): boolean {
    if (changes < kept.noted) return true; // a later version is there
    kept.noted = changes;
    if (kept.settled && !kept.claim) kept.copy ??= this.#parts.newKeep();
    const keep = kept.copy ?? kept.keep;
    const named = kept.copy ? asCopy(tracked) : tracked;
    // Only who keeps others away knows that the store still ends where it was read.
    const inStore = keep.sequence > 0 && (kept.copy !== null || kept.claim?.exclusive === true);
    return this.#parts.journal.write(
      leftOf(keep.id, named, kept.entries, inStore, draft, this.#parts.clock()),
      kept.page,
    );
  }

  /**
   * Takes the project over from another tab and hands over what that tab kept last. What was changed here meanwhile is kept as a copy first, so that
   * neither is lost.
   *
   * @param take - puts what was recalled on the desk
   */
  async takeOver(take: (recalled: Tracked) => void): Promise<void> {
    const kept = this.#kept;
    try {
      await this.flush();
      if (kept.written < kept.changes) return; // the store refuses the copy: nothing is given up for it
      await this.#claim(kept, this.#parts.claim(kept.keep.id, true));
      const recalled = await this.#parts.store.recall(kept.keep.id);
      if (!recalled || this.#kept !== kept) return;
      // The other tab may be gone, and have left something.
      const { tracked, put, copies } = putIn(recalled, this.#parts.journal.pages(kept.keep.id));
      for (const [key, whole] of copies) {
        await this.#parts.store.keep(this.#parts.newKeep(), asCopy(whole));
        this.#parts.journal.drop(key);
      }
      // What is changed while the other tab's version is read, and while that is kept, is a copy, too.
      const copy = kept.copy ?? this.#parts.newKeep();
      while (kept.written < kept.changes) {
        const { changes } = kept;
        await this.#parts.store.keep(copy, asCopy(this.#parts.now()));
        kept.written = changes;
      }
      kept.keep.sequence = recalled.keep.sequence;
      kept.entries = recalled.tracked.history.entries.length;
      kept.copy = null;
      kept.pages = put;
      take(tracked!);
      this.#parts.tell({ state: 'kept', at: recalled.savedAt });
      if (put.length > 0) this.changed();
    } catch (error) {
      // What the other tab kept last is not known: without it nothing may be written over it.
      kept.claim?.release();
      kept.claim = null;
      this.#trouble(kept, error);
    }
  }
}

/** A project as the copy that is made because another tab had it: under a name that says so. */
export function asCopy({ project, history }: Tracked): Tracked {
  const { name } = project;
  const own = / \(second tab\)$/.test(name) ? name : `${name.slice(0, 480)} (second tab)`;
  return { project: { ...project, name: own }, history };
}

/** The store's refusal in words. */
export function storeTrouble(error: unknown): string {
  const { name, message } = error as Partial<Error>;
  if (name === 'QuotaExceededError') return 'the browser’s store is full';
  return `the browser does not let Ulvex store anything${message ? ` (${message})` : ''}`;
}
