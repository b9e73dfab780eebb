import {
  EMPTY_HISTORY,
  JobFailed,
  MAX_PROJECT_BYTES,
  projectText,
  tooLarge,
  type Project,
  type ReadResult,
} from '@ulvex/core';
import { download } from '../download.ts';
import type { Desk } from './desk.svelte.ts';

/** Ending of project files. */
export const PROJECT_SUFFIX = '.ulvex.json';

/** A file name for a project: its name in letters that every file system takes. */
export function fileName(project: Project): string {
  const plain = project.name
    .normalize('NFKD')
    .replace(/[^\w\s-]/g, '')
    .trim()
    .replace(/\s+/g, '-')
    .toLowerCase();
  return `${plain || 'project'}${PROJECT_SUFFIX}`;
}

/** Writes the open project to a file. */
export function exportProject(desk: Desk): void {
  download(fileName(desk.base), projectText(desk.base), 'application/json');
}

/** Reads a project file. A refusal names file, place and reason, and says that nothing was changed; null then. */
export async function readFile(desk: Desk, file: File, refused: string): Promise<Project | null> {
  const refuse = (lines: readonly string[]) => {
    desk.notice = {
      tone: 'refused',
      title: `${file.name} was not ${refused}; your project is untouched.`,
      lines,
    };
    return null;
  };
  if (file.size > MAX_PROJECT_BYTES) return refuse([tooLarge(file.size)]);
  let read: ReadResult;
  try {
    read = await desk.pool.run('read', await file.text()).result;
  } catch (error) {
    return refuse([
      error instanceof JobFailed ? error.message : `the file cannot be read: ${(error as Error).message}`,
    ]);
  }
  return read.ok ? read.project : refuse(read.problems.map(({ place, reason }) => `${place}: ${reason}`));
}

/** Reads a file as a new project and opens it; false where it cannot be. */
export async function importProject(desk: Desk, file: File): Promise<boolean> {
  const project = await readFile(desk, file, 'opened');
  if (!project) return false;
  desk.open({ project, history: EMPTY_HISTORY });
  desk.notice = { tone: 'done', title: `${file.name} is open as “${project.name}”.` };
  return true;
}
