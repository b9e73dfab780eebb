/**
 * What is kept of one project. Two slots are written in turn, so that a crash in the middle of one leaves the other;
 * a checksum tells a whole one from a torn one.
 */
export interface Slot {
  /** Grows by one with each write of the project; the slot with the larger one is newer. */
  readonly sequence: number;
  readonly savedAt: number;
  /** JSON of what is kept. */
  readonly text: string;
  readonly checksum: number;
}

/** FNV-1a over UTF-16 code units, 32 bits: it finds torn writes, it is no protection against forgery. */
export function checksum(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}

export function makeSlot(text: string, sequence: number, savedAt: number): Slot {
  return { sequence, savedAt, text, checksum: checksum(text) };
}

/** The slot if it is whole, else null; anything may have been in the store. */
export function readSlot(stored: unknown): Slot | null {
  if (typeof stored !== 'object' || stored === null) return null;
  const { sequence, savedAt, text, checksum: sum } = stored as Partial<Record<keyof Slot, unknown>>;
  if (typeof sequence !== 'number' || typeof savedAt !== 'number' || typeof text !== 'string') return null;
  return checksum(text) === sum ? { sequence, savedAt, text, checksum: sum } : null;
}
