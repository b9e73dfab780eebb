const KEY = 'ulvex-asked';
const MOST = 30;

/** What was asked before, newest first; nothing where the browser keeps nothing. */
export function askedBefore(storage: Pick<Storage, 'getItem'> = localStorage): readonly string[] {
  try {
    const kept: unknown = JSON.parse(storage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter((entry) => typeof entry === 'string').slice(0, MOST) : [];
  } catch {
    return [];
  }
}

/** Remembers a question as the newest. */
export function rememberAsked(question: string, storage: Pick<Storage, 'getItem' | 'setItem'> = localStorage): void {
  const others = askedBefore(storage).filter((entry) => entry !== question);
  try {
    storage.setItem(KEY, JSON.stringify([question, ...others].slice(0, MOST)));
  } catch {
    // a forbidden store costs the memory of questions only
  }
}
