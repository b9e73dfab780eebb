import {
  EMPTY_HISTORY,
  historyForward,
  isHistory,
  readProject,
  type BackedUp,
  type Tracked,
  type UnreadableProject,
} from '@ulvex/core';
import type { KeptStore } from './kept-store.ts';
import { makeSlot, readSlot, type Slot } from './slots.ts';

/** A line of the project list. */
export interface KeptProject {
  readonly id: string;
  readonly name: string;
  readonly savedAt: number;
}

/** What one tab knows of a kept project: enough to write the next slot, and to see whether another tab has written since. */
export interface Keep {
  readonly id: string;
  /** Of the newest version that this tab has written or read; 0 for a project that is not in the store yet. */
  sequence: number;
}

/** A version of a project that is in the store and cannot be read. */
export interface Unreadable {
  readonly text: string;
  readonly savedAt: number;
  readonly reason: string;
}

export interface Recalled {
  readonly tracked: Tracked;
  readonly keep: Keep;
  readonly savedAt: number;
  /** Newer versions that could not be read. */
  readonly unreadable: readonly Unreadable[];
}

/** Another tab has written the project since this one last read or wrote it: nothing was overwritten. */
export class Overtaken extends Error {
  override readonly name = 'Overtaken';
}

/** Everything the store held of a project, for putting it back. */
export interface RemovedProject {
  readonly card: KeptProject;
  readonly slots: readonly (readonly [key: string, value: unknown])[];
}

const slotKeys = (id: string) => [`slot/${id}/0`, `slot/${id}/1`] as const;
const cardKey = (id: string) => `card/${id}`;
const unreadableKey = (id: string) => `unreadable/${id}`;

/** The projects that a browser keeps. Every method rejects when the store refuses; nothing is half done then. */
export class ProjectStore {
  readonly #store: KeptStore;
  readonly #now: () => number;

  constructor(store: KeptStore, now: () => number = Date.now) {
    this.#store = store;
    this.#now = now;
  }

  /** All kept projects, last saved first. */
  async list(): Promise<KeptProject[]> {
    const cards: KeptProject[] = [];
    await this.#store.each((key, value) => {
      if (key.startsWith('card/') && isCard(value)) cards.push(value);
    });
    return cards.sort((a, b) => b.savedAt - a.savedAt);
  }

  /**
   * Writes a project and its history over the older of its two slots, with its line in the list, and reads it back before it counts as kept. Returns
   * when it was saved.
   *
   * @throws Overtaken when another tab has written since; nothing is written then
   */
  async keep(keep: Keep, tracked: Tracked): Promise<number> {
    const savedAt = this.#now();
    const text = JSON.stringify(tracked);
    const keys = slotKeys(keep.id);
    const written = await this.#store.transact(keys, (stored) => {
      const whole = stored.map(readSlot);
      const newest = Math.max(0, ...whole.map((slot) => slot?.sequence ?? 0));
      if (newest > keep.sequence) throw new Overtaken('another tab has kept this project since');
      const sequence = 1 + Math.max(keep.sequence, ...stored.map(sequenceOf));
      // Over a broken slot first, else over the older one: the newest that is whole stays until this one is.
      const at = whole[0] === null ? 0 : whole[1] === null ? 1 : whole[0].sequence < whole[1].sequence ? 0 : 1;
      const card: KeptProject = { id: keep.id, name: tracked.project.name, savedAt };
      return {
        write: [
          [keys[at], makeSlot(text, sequence, savedAt)],
          [cardKey(keep.id), card],
        ],
        result: { sequence, key: keys[at] },
      };
    });
    keep.sequence = written.sequence;
    const back = readSlot(await this.#store.get(written.key));
    // A newer one is another tab's, which saw this one whole.
    if (!back || (back.sequence <= written.sequence && back.text !== text))
      throw new Error('what was written cannot be read back');
    return savedAt;
  }

  /**
   * Reads a project back: the newest version that reads, migrated and checked like any file. What is newer and does not is set aside in the store and
   * handed over. Null when there is none that reads. A history that does not fit is left behind; the project is what counts.
   */
  async recall(id: string): Promise<Recalled | null> {
    const [versions, unreadable] = await this.#versions(id);
    const [newest] = versions;
    if (unreadable.length > 0) await this.#store.set(unreadableKey(id), unreadable[0]).catch(() => {}); // a full store keeps the slot itself
    if (!newest) return null;
    const { tracked, slot } = newest;
    // Counted from the newest that is whole, read or not: the next one written must win over it.
    const sequence = Math.max(
      slot.sequence,
      ...versions.map((one) => one.slot.sequence),
      ...unreadable.map((one) => one.sequence),
    );
    return {
      tracked,
      keep: { id, sequence },
      savedAt: slot.savedAt,
      unreadable: unreadable.filter((one) => one.sequence > slot.sequence),
    };
  }

  /** Why a project does not read, with what there is of it; empty for one of which nothing is there. */
  async unreadable(id: string): Promise<readonly Unreadable[]> {
    const [, slots] = await this.#versions(id);
    const aside = await this.#store.get(unreadableKey(id));
    return slots.length > 0 ? slots : isUnreadable(aside) ? [aside] : [];
  }

  /** Versions that read, newest first, and those that do not. */
  async #versions(id: string) {
    const stored = await Promise.all(slotKeys(id).map((key) => this.#store.get(key)));
    const versions: { readonly slot: Slot; readonly tracked: Tracked }[] = [];
    const unreadable: (Unreadable & { readonly sequence: number })[] = [];
    for (const value of stored) {
      const slot = readSlot(value);
      const read = slot ? readTracked(slot.text) : 'it is incomplete: the browser closed while it was being written';
      if (slot && typeof read !== 'string') versions.push({ slot, tracked: read });
      else if (value !== null && value !== undefined) {
        const { text, savedAt } = value as { text?: unknown; savedAt?: unknown };
        unreadable.push({
          text: typeof text === 'string' ? text : JSON.stringify(value),
          savedAt: typeof savedAt === 'number' ? savedAt : 0,
          reason: read as string,
          sequence: sequenceOf(value),
        });
      }
    }
    const newestFirst = <T>(list: T[], of: (one: T) => number) => list.sort((a, b) => of(b) - of(a));
    return [
      newestFirst(versions, ({ slot }) => slot.sequence),
      newestFirst(unreadable, ({ sequence }) => sequence),
    ] as const;
  }

  /** Which project was open last. */
  async lastOpen(): Promise<string | null> {
    const last = await this.#store.get('last');
    return typeof last === 'string' ? last : null;
  }

  async rememberOpen(id: string): Promise<void> {
    await this.#store.set('last', id);
  }

  /** Everything in the store, for one file: what reads, and the texts of what does not. */
  async backup(): Promise<{
    readonly projects: readonly BackedUp[];
    readonly unreadable: readonly UnreadableProject[];
  }> {
    const projects: BackedUp[] = [];
    const unreadable: UnreadableProject[] = [];
    for (const { id, name } of await this.list()) {
      const recalled = await this.recall(id);
      if (recalled) projects.push({ id, savedAt: recalled.savedAt, tracked: recalled.tracked });
      for (const { text, reason } of recalled ? recalled.unreadable : await this.unreadable(id))
        unreadable.push({ id, name, reason, text });
    }
    return { projects, unreadable };
  }

  /**
   * Puts the projects of a backup into the store. Nothing that reads is overwritten: one that is there as it was is
   * left alone, and one that has changed since comes in beside it under a name of its own. Returns how many came in.
   */
  async restore(projects: readonly BackedUp[], freshId: () => string): Promise<number> {
    let count = 0;
    for (const { id, savedAt, tracked } of projects) {
      const present = await this.recall(id);
      if (present?.savedAt === savedAt) continue;
      const name = `${tracked.project.name.slice(0, 400)} (backup)`;
      if (present)
        await this.keep({ id: freshId(), sequence: 0 }, { ...tracked, project: { ...tracked.project, name } });
      else {
        // What is there does not read: the restored one comes after it.
        const [versions, unreadable] = await this.#versions(id);
        const sequence = Math.max(
          0,
          ...versions.map(({ slot }) => slot.sequence),
          ...unreadable.map((one) => one.sequence),
        );
        await this.keep({ id, sequence }, tracked);
      }
      count++;
    }
    return count;
  }

  /** Takes a project out of the store and returns what is needed to put it back. */
  async remove(card: KeptProject): Promise<RemovedProject> {
    const keys = slotKeys(card.id);
    return this.#store.transact(keys, (values) => ({
      write: [],
      remove: [cardKey(card.id), ...keys],
      result: { card, slots: keys.map((key, i) => [key, values[i]] as const) },
    }));
  }

  /** Puts a removed project back as it was. */
  async putBack({ card, slots }: RemovedProject): Promise<void> {
    const there = slots.filter(([, value]) => value !== null && value !== undefined);
    await this.#store.transact([], () => ({
      write: [...there, [cardKey(card.id), card]],
      result: undefined,
    }));
  }
}

/** The project and history of a slot's text, or why they do not read. */
function readTracked(text: string): Tracked | string {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return 'it is not JSON';
  }
  const { project, history } = (json ?? {}) as { project?: unknown; history?: unknown };
  const read = readProject(project);
  if (!read.ok) return `${read.problems[0].place}: ${read.problems[0].reason}`;
  const forward = isHistory(history) ? historyForward(history, read.from, read.project) : EMPTY_HISTORY;
  return { project: read.project, history: forward };
}

/** The sequence that anything in the store claims to have, whole or broken; 0 where it claims none. */
function sequenceOf(stored: unknown): number {
  const { sequence } = (stored ?? {}) as { sequence?: unknown };
  return typeof sequence === 'number' && Number.isSafeInteger(sequence) && sequence > 0 ? sequence : 0;
}

function isCard(value: unknown): value is KeptProject {
  const { id, name, savedAt } = (value ?? {}) as Partial<Record<keyof KeptProject, unknown>>;
  return typeof id === 'string' && typeof name === 'string' && typeof savedAt === 'number';
}

function isUnreadable(value: unknown): value is Unreadable {
  const { text, reason } = (value ?? {}) as Partial<Record<keyof Unreadable, unknown>>;
  return typeof text === 'string' && typeof reason === 'string';
}
