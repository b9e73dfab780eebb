import { applyEdits, type Edit } from './edit.ts';
import type { Project } from './model.ts';

/** One gesture of the user: the edits it made and those that take them back. Its position in `entries` is its number. */
export interface HistoryEntry {
  /** Number of the entry this one was made on; −1 for the project as it was when the history began. */
  readonly parent: number;
  /** What the gesture was, in plain words. */
  readonly label: string;
  /** Milliseconds since 1970. */
  readonly time: number;
  readonly edits: readonly Edit[];
  readonly inverse: readonly Edit[];
}

/** A tree of edits beside the project. Undo and redo walk it; nothing in it is ever thrown away by a new edit. */
export interface History {
  readonly entries: readonly HistoryEntry[];
  /** Number of the entry that the project shows; −1 for the beginning. */
  readonly head: number;
  /** Entries that redo goes to, nearest last. */
  readonly redo: readonly number[];
  /** Names that the user gave to states, by number of the entry; −1 for the beginning. */
  readonly names?: Readonly<Record<string, string>>;
}

export const EMPTY_HISTORY: History = { entries: [], head: -1, redo: [] };

/** A project with its history. */
export interface Tracked {
  readonly project: Project;
  readonly history: History;
}

/** Applies a gesture and makes it the newest entry. Without edits nothing changes. */
export function commit(tracked: Tracked, edits: readonly Edit[], label: string, time: number): Tracked {
  if (edits.length === 0) return tracked;
  const { project, inverse } = applyEdits(tracked.project, edits);
  const { entries, head } = tracked.history;
  const entry: HistoryEntry = { parent: head, label, time, edits, inverse };
  return {
    project,
    history: { ...tracked.history, entries: [...entries, entry], head: entries.length, redo: [] },
  };
}

/** Takes the newest gesture back; the same object at the beginning. */
export function undo(tracked: Tracked): Tracked {
  const { entries, head, redo } = tracked.history;
  if (head < 0) return tracked;
  const { project } = applyEdits(tracked.project, entries[head].inverse);
  return { project, history: { ...tracked.history, head: entries[head].parent, redo: [...redo, head] } };
}

/** Does the gesture again that was last taken back; the same object when there is none. */
export function redo(tracked: Tracked): Tracked {
  const { entries, redo: forward } = tracked.history;
  const next = forward.at(-1);
  if (next === undefined) return tracked;
  const { project } = applyEdits(tracked.project, entries[next].edits);
  return { project, history: { ...tracked.history, head: next, redo: forward.slice(0, -1) } };
}

/** Gives a state a name of its own, or takes it away with an empty one. Not a change of the project: undo passes over it. */
export function nameState(tracked: Tracked, entry: number, name: string): Tracked {
  const { [String(entry)]: _old, ...others } = tracked.history.names ?? {};
  const trimmed = name.trim().slice(0, 80);
  const names = trimmed === '' ? others : { ...others, [String(entry)]: trimmed };
  return { ...tracked, history: { ...tracked.history, names } };
}

/** How many gestures undo can take back from here. */
export function undoDepth({ entries, head }: History): number {
  let depth = 0;
  for (let at = head; at >= 0; at = entries[at].parent) depth++;
  return depth;
}

/** Numbers of the entries from an entry back to the beginning, the entry itself first; empty for −1. */
function ancestry(entries: readonly HistoryEntry[], from: number): number[] {
  const line: number[] = [];
  for (let at = from; at >= 0; at = entries[at].parent) line.push(at);
  return line;
}

/**
 * Returns to any entry of the tree, −1 for the beginning: takes back what is not on the way to it and does again what is.
 * Redo leads on from there to where the tree was left, when that lies ahead.
 *
 * @throws RangeError when there is no such entry
 */
export function returnTo(tracked: Tracked, entry: number): Tracked {
  const { entries, head } = tracked.history;
  if (entry < -1 || entry >= entries.length) throw new RangeError(`the history has no entry ${entry}`);
  const wanted = ancestry(entries, entry);
  const shared = new Set(wanted);
  let project = tracked.project;
  let at = head;
  const left: number[] = [];
  for (; at >= 0 && !shared.has(at); at = entries[at].parent) {
    project = applyEdits(project, entries[at].inverse).project;
    left.push(at);
  }
  const forward = wanted.slice(0, at < 0 ? wanted.length : wanted.indexOf(at)).reverse();
  for (const step of forward) project = applyEdits(project, entries[step].edits).project;
  return {
    project,
    history: {
      ...tracked.history,
      head: entry,
      redo: forward.length === 0 ? [...tracked.history.redo, ...left] : [],
    },
  };
}
