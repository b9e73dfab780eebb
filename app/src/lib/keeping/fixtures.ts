import type { Claim } from './claim.ts';
import type { Pages } from './journal.ts';
import type { KeptStore } from './kept-store.ts';

/** A store in memory that can refuse: what is written is copied, as a browser does, and a refused transaction has done nothing. */
export class MemoryStore implements KeptStore {
  readonly values = new Map<string, unknown>();
  /** Asked before each operation whether it fails. */
  fails: () => boolean = () => false;
  operations = 0;

  async #operate(): Promise<void> {
    this.operations++;
    await Promise.resolve();
    if (this.fails()) throw Object.assign(new Error('no room'), { name: 'QuotaExceededError' });
  }

  async get(key: string): Promise<unknown> {
    await this.#operate();
    return structuredClone(this.values.get(key) ?? null);
  }

  async set(key: string, value: unknown): Promise<void> {
    await this.#operate();
    this.values.set(key, structuredClone(value));
  }

  async each(see: (key: string, value: unknown) => void): Promise<void> {
    await this.#operate();
    for (const [key, value] of this.values) see(key, structuredClone(value));
  }

  async transact<T>(keys: readonly string[], decide: Parameters<KeptStore['transact']>[1]): Promise<T> {
    await this.#operate();
    const { write, remove = [], result } = decide(keys.map((key) => structuredClone(this.values.get(key) ?? null)));
    for (const [key, value] of write) this.values.set(key, structuredClone(value));
    for (const key of remove) this.values.delete(key);
    return result as T;
  }
}

/** `localStorage` in memory, with a limit of letters. */
export function memoryPages(limit = Infinity): Pages & { readonly all: Map<string, string> } {
  const all = new Map<string, string>();
  return {
    all,
    get length() {
      return all.size;
    },
    key: (i) => [...all.keys()][i] ?? null,
    getItem: (key) => all.get(key) ?? null,
    removeItem: (key) => void all.delete(key),
    setItem: (key, value) => {
      if (value.length > limit) throw Object.assign(new Error('full'), { name: 'QuotaExceededError' });
      all.set(key, value);
    },
  };
}

/** Claims as locks of a browser make them: one holder a project, who can be thrown out. `locks` false for a browser without locks. */
export function claims(locks: boolean) {
  const held = new Map<string, { claim: Claim; lose: () => void }>();
  return async (id: string, steal: boolean): Promise<Claim | null> => {
    await Promise.resolve();
    if (!locks) return { release: () => {}, lost: new Promise(() => {}), exclusive: false };
    const holder = held.get(id);
    if (holder && !steal) return null;
    let lose = () => {};
    const lost = new Promise<void>((resolve) => (lose = resolve));
    const claim: Claim = {
      exclusive: true,
      lost,
      release: () => void (held.get(id)?.claim === claim && held.delete(id)),
    };
    held.set(id, { claim, lose });
    holder?.lose();
    return claim;
  };
}
