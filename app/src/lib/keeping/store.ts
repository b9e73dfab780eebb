import {
  EMPTY_HISTORY,
  historyForward,
  isHistory,
  readProject,
  type BackedUp,
  type Tracked,
} from '@ulvex/core';
import localforage from 'localforage';
import { makeSlot, newestSlot } from './slots.ts';

/** A line of the project list. */
export interface KeptProject {
  readonly id: string;
  readonly name: string;
  readonly savedAt: number;
}

/** What one tab knows of a kept project: enough to write the next slot. */
export interface Keep {
  readonly id: string;
  sequence: number;
}

const store = localforage.createInstance({
  name: 'ulvex',
  storeName: 'projects',
  driver: localforage.INDEXEDDB, // localStorage, the fallback, holds too little to be trusted with work
});

const slotKey = (id: string, sequence: number) => `slot/${id}/${sequence % 2}`;
const cardKey = (id: string) => `card/${id}`;

/** All kept projects, last saved first. Rejects when the browser refuses its store. */
export async function listProjects(): Promise<KeptProject[]> {
  const cards: KeptProject[] = [];
  await store.iterate((value, key) => {
    if (key.startsWith('card/')) cards.push(value as KeptProject);
  });
  return cards.sort((a, b) => b.savedAt - a.savedAt);
}

/** A keep for a project that is not in the store yet. */
export function newKeep(): Keep {
  // Not randomUUID: browsers keep that to secure addresses, and Ulvex may be served in a plain local network.
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return { id: Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join(''), sequence: 0 };
}

/** Writes a project and its history into the next slot, then its line in the list. Rejects when the store refuses. */
export async function keepProject(keep: Keep, tracked: Tracked): Promise<number> {
  const savedAt = Date.now();
  const sequence = keep.sequence + 1;
  await store.setItem(slotKey(keep.id, sequence), makeSlot(JSON.stringify(tracked), sequence, savedAt));
  keep.sequence = sequence;
  const card: KeptProject = { id: keep.id, name: tracked.project.name, savedAt };
  await store.setItem(cardKey(keep.id), card);
  return savedAt;
}

/**
 * Reads a project back: the newest whole slot, migrated and checked like any file. Null when there is none or it is
 * broken. A history that does not fit is left behind; the project is what counts.
 */
export async function recallProject(
  id: string,
): Promise<{ tracked: Tracked; keep: Keep; savedAt: number } | null> {
  const slot = newestSlot(await Promise.all([store.getItem(slotKey(id, 0)), store.getItem(slotKey(id, 1))]));
  if (!slot) return null;
  const { project, history } = JSON.parse(slot.text) as { project?: unknown; history?: unknown };
  const read = readProject(project);
  if (!read.ok) return null;
  const forward = isHistory(history) ? historyForward(history, read.from, read.project) : EMPTY_HISTORY;
  const tracked = { project: read.project, history: forward };
  return { tracked, keep: { id, sequence: slot.sequence }, savedAt: slot.savedAt };
}

/** Which project was open last. */
export async function lastOpen(): Promise<string | null> {
  return store.getItem<string>('last');
}

export async function rememberOpen(id: string): Promise<void> {
  await store.setItem('last', id);
}

/** Everything in the store that reads, for one file. */
export async function backupAll(): Promise<readonly BackedUp[]> {
  const all: BackedUp[] = [];
  for (const { id } of await listProjects()) {
    const recalled = await recallProject(id);
    if (recalled) all.push({ id, savedAt: recalled.savedAt, tracked: recalled.tracked });
  }
  return all;
}

/**
 * Puts the projects of a backup into the store. Nothing is overwritten: one that is there as it was is left alone, and one that has
 * changed since comes in beside it under a name of its own. Returns how many came in.
 */
export async function restoreAll(projects: readonly BackedUp[]): Promise<number> {
  let count = 0;
  for (const { id, savedAt, tracked } of projects) {
    const present = await recallProject(id);
    if (present?.savedAt === savedAt) continue;
    const name = `${tracked.project.name} (backup)`;
    if (present) await keepProject(newKeep(), { ...tracked, project: { ...tracked.project, name } });
    else await keepProject({ id, sequence: 0 }, tracked);
    count++;
  }
  return count;
}

/** How much of its store the browser has given away, bytes; null where it does not tell. */
export async function storeUse(): Promise<{ readonly used: number; readonly quota: number } | null> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  return usage !== undefined && quota ? { used: usage, quota } : null;
}

/** Everything the store held of a project, for putting it back. */
export interface RemovedProject {
  readonly card: KeptProject;
  readonly slots: readonly (readonly [key: string, value: unknown])[];
}

/** Takes a project out of the store and returns what is needed to put it back. */
export async function removeProject(card: KeptProject): Promise<RemovedProject> {
  const keys = [slotKey(card.id, 0), slotKey(card.id, 1)];
  const slots = await Promise.all(keys.map(async (key) => [key, await store.getItem(key)] as const));
  await store.removeItem(cardKey(card.id));
  await Promise.all(keys.map((key) => store.removeItem(key)));
  return { card, slots };
}

/** Puts a removed project back as it was. */
export async function restoreProject({ card, slots }: RemovedProject): Promise<void> {
  for (const [key, value] of slots) if (value !== null) await store.setItem(key, value);
  await store.setItem(cardKey(card.id), card);
}
