import type { Tracked } from '@ulvex/core';
import { claimProject, type Claim } from '../keeping/claim.ts';
import { keepProject, newKeep, recallProject, rememberOpen, type Keep } from '../keeping/store.ts';

/** How the project stands in the browser's store. */
export type Keeping =
  | { readonly state: 'kept'; readonly at: number }
  | { readonly state: 'waiting' }
  /** Another tab has the project: what is done here is not kept. */
  | { readonly state: 'elsewhere' }
  | { readonly state: 'failed'; readonly reason: string };

const KEEP_AFTER = 250;

/** Keeps the open project in the browser's store a moment after each change, as long as this tab holds the claim on it. */
export class Keeper {
  readonly #now: () => Tracked;
  #keep: Keep = newKeep();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #writing: Promise<void> = Promise.resolve();
  #claim: Claim | null = null;
  /** Whether anything was changed while another tab had the project. */
  #unkept = false;
  state = $state.raw<Keeping>({ state: 'waiting' });

  /** @param now - the project with its history as it is when it is written */
  constructor(now: () => Tracked) {
    this.#now = now;
  }

  get id(): string {
    return this.#keep.id;
  }

  /** Begins to keep another project; `keep` and when it was saved are given when it comes out of the store. */
  begin(keep?: Keep, savedAt?: number): void {
    this.#keep = keep ?? newKeep();
    this.state = savedAt === undefined ? { state: 'waiting' } : { state: 'kept', at: savedAt };
    void this.#settleClaim(this.#keep, savedAt === undefined);
    rememberOpen(this.#keep.id).catch(() => {}); // the store's refusal shows when the project itself is kept
  }

  /** Claims the project for this tab, then keeps it where that is wanted. */
  async #settleClaim(keep: Keep, changed: boolean, steal = false): Promise<void> {
    this.#claim?.release();
    this.#claim = null;
    this.#unkept = false;
    let claim: Claim | null;
    try {
      claim = await claimProject(keep.id, steal);
    } catch {
      claim = await claimProject(keep.id, false, null); // locks are forbidden: nothing to tell tabs apart with
    }
    if (this.#keep !== keep) {
      claim?.release();
      return;
    }
    this.#claim = claim;
    if (!claim) {
      this.state = { state: 'elsewhere' };
      return;
    }
    void claim.lost.then(() => {
      if (this.#claim !== claim) return;
      this.#claim = null;
      clearTimeout(this.#timer);
      this.#timer = undefined;
      this.state = { state: 'elsewhere' };
    });
    if (changed || this.#unkept) this.changed();
  }

  /**
   * Takes the project over from another tab and returns it as that tab kept it last; null where it cannot be had. What was changed here
   * meanwhile is kept as a project of its own first, so that neither is lost.
   *
   * @param take - puts what was recalled on the desk
   */
  async takeOver(take: (recalled: Tracked) => void): Promise<void> {
    const keep = this.#keep;
    const own = this.#now();
    try {
      if (this.#unkept) {
        await keepProject(newKeep(), {
          ...own,
          project: { ...own.project, name: `${own.project.name} (second tab)` },
        });
      }
      await this.#settleClaim(keep, false, true);
      const recalled = await recallProject(keep.id);
      if (!recalled || this.#keep !== keep) return;
      keep.sequence = recalled.keep.sequence;
      take(recalled.tracked);
      this.state = { state: 'kept', at: recalled.savedAt };
    } catch (error) {
      this.failed(error);
    }
  }

  /** The project has changed: it is written soon, together with what changes until then. */
  changed(): void {
    if (!this.#claim) {
      this.#unkept = true; // kept as soon as the claim is settled, or as a copy on taking over
      return;
    }
    if (this.state.state !== 'failed') this.state = { state: 'waiting' };
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      this.#timer = undefined;
      this.#write();
    }, KEEP_AFTER);
  }

  /** Writes what waits to be kept, at once. */
  async flush(): Promise<void> {
    if (this.#timer !== undefined) {
      clearTimeout(this.#timer);
      this.#timer = undefined;
      this.#write();
    }
    await this.#writing;
  }

  /** Says that the store refused. */
  failed(error: unknown): void {
    this.state = { state: 'failed', reason: storeTrouble(error) };
  }

  #write(): void {
    const [keep, tracked] = [this.#keep, this.#now()];
    this.#writing = this.#writing
      .then(() => keepProject(keep, tracked))
      .then(
        (at) => {
          if (this.#keep === keep && this.#timer === undefined) this.state = { state: 'kept', at };
        },
        (error: unknown) => {
          if (this.#keep === keep) this.failed(error);
        },
      );
  }
}

/** The store's refusal in words. */
export function storeTrouble(error: unknown): string {
  const { name, message } = error as Partial<Error>;
  if (name === 'QuotaExceededError') return 'the browser’s store is full';
  return `the browser does not let Ulvex store anything${message ? ` (${message})` : ''}`;
}
