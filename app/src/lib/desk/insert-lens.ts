import { mergeLens, type Project } from '@ulvex/core';
import type { Desk } from './desk.svelte.ts';
import { readFile } from './files.ts';

/** Takes the lens of a file into the lens at hand, see `insertLens`; false where it cannot be. */
export async function insertLensOfFile(desk: Desk, file: File): Promise<boolean> {
  const project = await readFile(desk, file, 'inserted');
  return project !== null && insertLens(desk, project);
}

/** Where a lens would be put: behind the surface that was chosen last, or before the image. */
export function insertPlace(desk: Desk): string | null {
  const surfaces = desk.lens?.surfaces.slice(0, -1) ?? [];
  return surfaces.find(({ id }) => id === desk.selected)?.id ?? surfaces.at(-1)?.id ?? null;
}

/** Takes the lens of another project into the one at hand, as one step of the history; false, and a notice says why, where it cannot be. */
export function insertLens(desk: Desk, other: Project): boolean {
  const behind = insertPlace(desk);
  const lens = desk.lensIn(desk.base);
  const made = lens && behind !== null ? mergeLens(desk.base, lens.id, behind, other) : null;
  if (!made?.ok) {
    desk.notice = { tone: 'refused', title: made?.reason ?? 'There is no lens to insert it into.' };
    return false;
  }
  const { edits, label, focus, left } = made.value;
  desk.commitDesign(edits, label);
  desk.selected = focus;
  const lines = left.length > 0 ? ['It was inserted without:', ...left] : [];
  desk.notice = {
    tone: 'done',
    title: `${label}.`,
    lines,
    action: { label: 'Undo', run: () => desk.undo() },
  };
  return true;
}
