import localforage from 'localforage';

/** What a transaction decides to do, once it has read. */
export interface Decision<T> {
  readonly write: readonly (readonly [key: string, value: unknown])[];
  readonly remove?: readonly string[];
  readonly result: T;
}

/** A store of values by key, as a browser has one. Everything may be refused at any time. */
export interface KeptStore {
  get(key: string): Promise<unknown>;
  set(key: string, value: unknown): Promise<void>;
  /** Calls `see` with every key and value. */
  each(see: (key: string, value: unknown) => void): Promise<void>;
  /**
   * Reads some keys, decides and writes, all of it or nothing, with nobody else between: not even another tab. Rejects when the store refuses or
   * `decide` throws.
   *
   * @param decide - what to do about the values, null for those that are not there
   */
  transact<T>(keys: readonly string[], decide: (values: readonly unknown[]) => Decision<T>): Promise<T>;
}

const NAME = 'ulvex';
const STORE = 'projects';

/** The browser's own store. localForage has no transactions: these go to the same database beside it. */
export function browserStore(): KeptStore {
  const store = localforage.createInstance({
    name: NAME,
    storeName: STORE,
    driver: localforage.INDEXEDDB, // localStorage, the fallback, holds too little to be trusted with work
  });
  let open: Promise<IDBDatabase> | null = null;
  const database = async (): Promise<IDBDatabase> => {
    await store.ready(); // which makes the database where there is none
    open ??= openDatabase(() => (open = null));
    open.catch(() => (open = null));
    return open;
  };
  return {
    get: (key) => store.getItem(key),
    set: async (key, value) => void (await store.setItem(key, value)),
    each: (see) => store.iterate((value, key) => see(key, value)),
    transact: async (keys, decide) => inTransaction(await database(), keys, decide),
  };
}

function openDatabase(closed: () => void): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const request = indexedDB.open(NAME);
    request.onerror = () => reject(request.error ?? new Error('the store does not open'));
    request.onsuccess = () => {
      const { result } = request;
      result.onclose = closed;
      result.onversionchange = () => {
        result.close();
        closed();
      };
      resolve(result);
    };
  });
}

function inTransaction<T>(
  database: IDBDatabase,
  keys: readonly string[],
  decide: (values: readonly unknown[]) => Decision<T>,
): Promise<T> {
  return new Promise((resolve, reject) => {
    // Strict: what is said to be kept is on the disk, not in a buffer that a dying machine takes along.
    const transaction = database.transaction(STORE, 'readwrite', { durability: 'strict' });
    const projects = transaction.objectStore(STORE);
    const values: unknown[] = keys.map(() => null);
    let result: T;
    let thrown: unknown;
    let missing = keys.length;
    const finish = () => {
      try {
        const decision = decide(values);
        result = decision.result;
        for (const [key, value] of decision.write) projects.put(value, key);
        for (const key of decision.remove ?? []) projects.delete(key);
      } catch (error) {
        thrown = error;
        transaction.abort();
      }
    };
    transaction.oncomplete = () => resolve(result);
    transaction.onabort = () => reject((thrown ?? transaction.error ?? new Error('the store aborted')) as Error);
    if (missing === 0) finish();
    keys.forEach((key, i) => {
      projects.get(key).onsuccess = ({ target }) => {
        values[i] = (target as IDBRequest<unknown>).result ?? null;
        if (--missing === 0) finish();
      };
    });
  });
}
