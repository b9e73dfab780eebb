const KEY = 'ulvex-workers';
export const MOST_WORKERS = 16;

type Kept = Pick<Storage, 'getItem' | 'setItem'>;

/**
 * How many compute workers to start: what the user has chosen, else one fewer than the machine has processors, from 2 to 8. Two at least:
 * a long job must not keep the live answers waiting.
 */
export function workersWanted(storage: Kept | null = store(), processors = navigator.hardwareConcurrency): number {
  const chosen = Number(storage?.getItem(KEY));
  if (Number.isInteger(chosen) && chosen >= 1) return Math.min(chosen, MOST_WORKERS);
  return Math.max(2, Math.min(8, processors - 1));
}

export function rememberWorkers(count: number, storage: Kept | null = store()): void {
  try {
    storage?.setItem(KEY, String(count));
  } catch {
    // a full store costs the memory of the choice only
  }
}

function store(): Storage | null {
  try {
    return localStorage;
  } catch {
    return null; // forbidden by the browser’s settings
  }
}
