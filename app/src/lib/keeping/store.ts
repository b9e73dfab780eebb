import { browserStore } from './kept-store.ts';
import { ProjectStore, type Keep } from './project-store.ts';

export type { Keep, KeptProject, Recalled, RemovedProject, Unreadable } from './project-store.ts';

/** The projects that this browser keeps. */
export const projectStore = new ProjectStore(browserStore());

/** An id for a project that is not in the store yet. */
export function freshProjectId(): string {
  // Not randomUUID: browsers keep that to secure addresses, and Ulvex may be served in a plain local network.
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** A keep for a project that is not in the store yet. */
export function newKeep(): Keep {
  return { id: freshProjectId(), sequence: 0 };
}

/** How much of its store the browser has given away, bytes; null where it does not tell. */
export async function storeUse(): Promise<{ readonly used: number; readonly quota: number } | null> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  return usage !== undefined && quota ? { used: usage, quota } : null;
}

let asked = false;

/** Asks the browser, once, not to throw the store away when the disk is full: as soon as there is work to lose. */
export function keepForGood(): void {
  if (asked) return;
  asked = true;
  void navigator.storage?.persist?.().catch(() => {});
}
