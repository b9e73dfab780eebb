import type { DesignStand, LotTrial } from '@ulvex/core/tolerance';
import type { RoomStudy } from './study-of.ts';

/** A lot as it survives a reload of the page, in the store of its tab. */
export interface KeptLot {
  /** Id of the project in the browser's store. */
  readonly project: string;
  readonly study: RoomStudy;
  readonly seed: number;
  readonly of: number;
  /** Whether it was at work. */
  readonly running: boolean;
  readonly design: DesignStand;
  readonly trials: readonly LotTrial[];
}

const KEY = 'ulvex-lot';
/** A tab's store holds about five million letters; a project with meshes is not worth them. */
const MOST_LETTERS = 3_000_000;

/** Keeps a lot for the tab, in place of the one before; one that is too large is not kept. */
export function keepLot(lot: KeptLot): void {
  try {
    const text = JSON.stringify(lot);
    if (text.length <= MOST_LETTERS) sessionStorage.setItem(KEY, text);
    else sessionStorage.removeItem(KEY);
  } catch {
    // A store that is full or switched off: the lot ends with the page.
  }
}

/** The lot that the tab keeps of a project; null for none, and for one that cannot be what was kept. */
export function keptLot(project: string): KeptLot | null {
  try {
    const found = JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as unknown;
    return isLot(found) && found.project === project ? found : null;
  } catch {
    return null;
  }
}

/** Whether something read has the shape of a lot: of whole trials in their order, a value or none for each measure. */
export function isLot(value: unknown): value is KeptLot {
  if (typeof value !== 'object' || value === null) return false;
  const { project, study, seed, of, running, design, trials } = value as Record<keyof KeptLot, unknown>;
  const watched = (study as RoomStudy | null)?.watched;
  const count = Array.isArray(watched) ? watched.length : -1;
  return (
    typeof project === 'string' &&
    count >= 0 &&
    Number.isInteger(seed) &&
    Number.isInteger(of) &&
    typeof running === 'boolean' &&
    Array.isArray((design as DesignStand | null)?.values) &&
    Array.isArray((design as DesignStand | null)?.units) &&
    Array.isArray(trials) &&
    trials.every((trial, i) => isTrial(trial, i, count))
  );
}

function isTrial(value: unknown, number: number, count: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  const { trial, values, moved } = value as Record<keyof LotTrial, unknown>;
  const isValue = (one: unknown) => one === null || Number.isFinite(one);
  return (
    trial === number &&
    Array.isArray(values) &&
    values.length === count &&
    values.every(isValue) &&
    Array.isArray(moved) &&
    moved.every(isValue)
  );
}
