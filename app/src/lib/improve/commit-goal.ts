import type { Edit, Outcome } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';

/** Edits of one gesture with its name. */
export interface Done {
  readonly edits: readonly Edit[];
  readonly label: string;
}

/** Writes a gesture about goals into the design, or says why it is refused. */
export function commitGoal(desk: Desk, done: Outcome<Done>): void {
  if (done.ok) desk.commitDesign(done.value.edits, done.value.label);
  else desk.notice = { tone: 'refused', title: done.reason };
}
