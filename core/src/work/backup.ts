import { failure, success, type Outcome } from '../math/outcome.ts';
import { EMPTY_HISTORY, type History, type Tracked } from '../project/history.ts';
import { historyForward } from '../project/migrate.ts';
import { textProblem } from '../project/outline.ts';
import { readProject } from '../project/read.ts';

/** Values of a whole store with its histories. */
const MOST_VALUES = 20_000_000;

export const BACKUP_FORMAT = 'ulvex-store';

/** One project of a backup, with its history. */
export interface BackedUp {
  readonly id: string;
  readonly savedAt: number;
  readonly tracked: Tracked;
}

/** A project of a store that does not read: its text as it is, so that it is not lost. */
export interface UnreadableProject {
  readonly id: string;
  readonly name: string;
  readonly reason: string;
  readonly text: string;
}

/** Everything a store holds, as the text of one file; what of it does not read is in it as text. */
export function backupText(projects: readonly BackedUp[], unreadable: readonly UnreadableProject[] = []): string {
  return `${JSON.stringify({ format: BACKUP_FORMAT, version: 1, projects, ...(unreadable.length > 0 && { unreadable }) })}\n`;
}

/**
 * Reads a backup back; every project is checked like a file. Those that do not read, now or when it was made, are named in `broken` and leave the
 * others alone.
 * Fails where the file is no backup at all.
 */
export function readBackup(
  text: string,
): Outcome<{ readonly projects: readonly BackedUp[]; readonly broken: readonly string[] }> {
  const unfit = textProblem(text, MOST_VALUES);
  if (unfit) return failure(`The file ${unfit}: no backup of Ulvex.`);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return failure('The file is not JSON, so it is not a backup of Ulvex.');
  }
  const { format, version, projects, unreadable } = (json ?? {}) as Record<string, unknown>;
  if (format !== BACKUP_FORMAT || !Array.isArray(projects))
    return failure('The file is not a backup of an Ulvex store.');
  if (version !== 1) return failure('The backup is of a newer Ulvex; open it with that one.');
  const broken: string[] = [];
  for (const entry of Array.isArray(unreadable) ? (unreadable as Partial<UnreadableProject>[]) : [])
    broken.push(
      `${String(entry?.name).slice(0, 200)}: it did not read when the backup was made; its text is in the file`,
    );
  const read = projects.flatMap((entry: unknown, index): BackedUp[] => {
    const { id, savedAt, tracked } = (entry ?? {}) as Record<string, unknown>;
    const { project, history } = (tracked ?? {}) as Record<string, unknown>;
    const checked = readProject(project, 1);
    if (typeof id !== 'string' || !/^[0-9a-f]{8,64}$/.test(id) || typeof savedAt !== 'number' || !checked.ok) {
      const reason = checked.ok ? 'it has no id' : `${checked.problems[0].place}: ${checked.problems[0].reason}`;
      broken.push(`project ${index + 1}: ${reason}`);
      return [];
    }
    const forward = isHistory(history) ? historyForward(history, checked.from, checked.project) : EMPTY_HISTORY;
    return [{ id, savedAt, tracked: { project: checked.project, history: forward } }];
  });
  return success({ projects: read, broken });
}

/** Whether a value from outside can be used as a history. */
export function isHistory(value: unknown): value is History {
  const { entries, head, redo } = (value ?? {}) as Partial<Record<keyof History, unknown>>;
  if (!Array.isArray(entries) || !Array.isArray(redo) || typeof head !== 'number') return false;
  const inside = (number: unknown) =>
    Number.isInteger(number) && (number as number) >= -1 && (number as number) < entries.length;
  return (
    inside(head) &&
    redo.every(inside) &&
    entries.every(
      (entry: unknown, at) =>
        typeof entry === 'object' &&
        entry !== null &&
        Array.isArray((entry as { edits?: unknown }).edits) &&
        Array.isArray((entry as { inverse?: unknown }).inverse) &&
        inside((entry as { parent?: unknown }).parent) &&
        (entry as { parent: number }).parent < at,
    )
  );
}
