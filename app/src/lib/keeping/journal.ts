import { isHistory, readProject, returnTo, type History, type HistoryEntry, type Tracked } from '@ulvex/core';
import type { Recalled } from './project-store.ts';

/** Text that stood in a cell and was not entered yet. */
export interface Draft {
  /** `data-testid` of the cell, and what it is called. */
  readonly cell: string;
  readonly label: string;
  readonly text: string;
  /** The room that it is in, as a path. */
  readonly room: string;
}

/** What a window had done beyond what the store holds when it was left, small enough to be written at once. */
export interface Left {
  readonly id: string;
  /** When it was left, ms since 1970. */
  readonly at: number;
  /** How many entries of the history the store has. */
  readonly from: number;
  /** What came after them, and where the history stands. */
  readonly tail: History;
  /** The whole project, where the store has none of it yet. */
  readonly whole?: Tracked;
  readonly draft?: Draft;
}

/** What the journal needs of `localStorage`. */
export type Pages = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

const PREFIX = 'ulvex/left/';

/**
 * What windows had done beyond what the store holds when they were left, by project and window. Writing is synchronous, because a browser that is
 * leaving a page waits for nothing else.
 */
export class Journal {
  readonly #pages: Pages;
  readonly #window: string;

  /** @param windowId - tells windows on one project apart */
  constructor(pages: Pages, windowId: string) {
    this.#pages = pages;
    this.#window = windowId;
  }

  /**
   * Writes a page. False where there is no room for it.
   *
   * @param page - tells the times apart at which this window had the project on its desk
   */
  write(left: Left, page: number): boolean {
    try {
      this.#pages.setItem(this.#key(left.id, page), JSON.stringify(left));
      return true;
    } catch {
      return false;
    }
  }

  /** This window's page about a project is of no use any more: the store has all of it. */
  clear(id: string, page: number): void {
    this.drop(this.#key(id, page));
  }

  /** Takes pages out by their keys. */
  drop(...keys: readonly string[]): void {
    try {
      for (const key of keys) this.#pages.removeItem(key);
    } catch {
      // what cannot be taken out is put in once more at the next start, which changes nothing
    }
  }

  /** What windows left of a project, or of all, oldest first. What is no page is passed over. */
  pages(id = ''): readonly (readonly [key: string, left: Left])[] {
    const pages: [string, Left][] = [];
    try {
      for (let i = 0; i < this.#pages.length; i++) {
        const key = this.#pages.key(i);
        if (!key?.startsWith(id === '' ? PREFIX : `${PREFIX}${id}/`)) continue;
        const left = readLeft(this.#pages.getItem(key));
        if (left) pages.push([key, left]);
      }
    } catch {
      return [];
    }
    return pages.sort(([, a], [, b]) => a.at - b.at);
  }

  #key(id: string, page: number): string {
    return `${PREFIX}${id}/${this.#window}-${page}`;
  }
}

function readLeft(text: string | null): Left | null {
  try {
    const left = JSON.parse(text ?? 'null') as Partial<Left> | null;
    if (typeof left?.id !== 'string' || typeof left.at !== 'number' || !Number.isInteger(left.from)) return null;
    if (typeof left.tail !== 'object' || !Array.isArray(left.tail.entries) || !Array.isArray(left.tail.redo))
      return null;
    return left as Left;
  } catch {
    return null;
  }
}

/** What a window has beyond what the store holds. */
export function leftOf(
  id: string,
  { project, history }: Tracked,
  from: number,
  inStore: boolean,
  draft: Draft | null,
  at: number,
): Left {
  const start = inStore ? from : 0;
  return {
    id,
    at,
    from: start,
    tail: { ...history, entries: inStore ? history.entries.slice(start) : [] },
    ...(!inStore && { whole: { project, history } }),
    ...(draft && { draft }),
  };
}

/**
 * What the store holds with what a window had done after it. The store may have got some or all of it meanwhile: then
 * that is not done twice. Null where they do not fit, since somebody else has gone on from the same place.
 */
export function withLeft(recalled: Pick<Recalled, 'tracked'> | null, left: Left): Tracked | null {
  if (left.whole !== undefined && !recalled) return checked(left.whole);
  if (!recalled) return null;
  const { tracked } = recalled;
  const kept = tracked.history.entries;
  const from = left.whole ? 0 : left.from;
  const tail = left.whole ? left.whole.history.entries : left.tail.entries;
  const { head, redo, names } = left.tail;
  if (kept.length < from || kept.length > from + tail.length) return null;
  if (!kept.slice(from).every((entry, i) => sameEntry(entry, tail[i]))) return null;
  const entries = [...kept.slice(0, from), ...tail];
  const history = {
    entries,
    head: tracked.history.head,
    redo: tracked.history.redo,
    ...(names && { names }),
  };
  if (!isHistory(history) || !isHistory({ ...history, head, redo })) return null;
  try {
    const walked = returnTo({ project: tracked.project, history }, head);
    return checked({ project: walked.project, history: { ...history, head, redo } });
  } catch {
    return null; // an edit that does not fit the project that is there
  }
}

/** What is to be done about what windows left of a project. */
export interface PutIn {
  /** What the store holds with all that fits it; null where there is nothing. */
  readonly tracked: Tracked | null;
  /** Keys of the pages that are in it. */
  readonly put: readonly string[];
  /** Pages that do not fit, with the whole project as the window had it: a copy of its own keeps it. */
  readonly copies: readonly (readonly [key: string, whole: Tracked])[];
  /** Pages that neither fit nor are whole. */
  readonly misfits: readonly (readonly [key: string, left: Left])[];
}

/** Puts what windows left of a project to what the store holds of it. */
export function putIn(
  recalled: Pick<Recalled, 'tracked'> | null,
  pages: readonly (readonly [key: string, left: Left])[],
): PutIn {
  let tracked = recalled?.tracked ?? null;
  const put: string[] = [];
  const copies: [string, Tracked][] = [];
  const misfits: [string, Left][] = [];
  for (const [key, left] of pages) {
    const next = withLeft(tracked && { tracked }, left);
    const whole = next || !left.whole ? null : checked(left.whole);
    if (next) tracked = next;
    if (next) put.push(key);
    else if (whole) copies.push([key, whole]);
    else misfits.push([key, left]);
  }
  return { tracked, put, copies, misfits };
}

const sameEntry = (a: HistoryEntry, b: HistoryEntry | undefined) =>
  b !== undefined && a.time === b.time && a.label === b.label && a.parent === b.parent;

/** Nothing read is trusted, also not what this program wrote. */
function checked(tracked: Tracked): Tracked | null {
  const { project, history } = tracked;
  const read = readProject(project);
  return read.ok && isHistory(history) ? { project: read.project, history } : null;
}
