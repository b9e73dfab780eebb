import type { Gesture } from '@ulvex/core';
import type { Desk } from '$lib/desk/desk.svelte.ts';
import { nudged } from '$lib/components/number-cell.ts';

/** What every cell of the prescription with a number does: it is shown while it is typed, and kept when it is entered. */
export const numberCell = (desk: Desk) => ({
  nudge: nudged,
  onpreview: (gesture: Gesture) => desk.preview(gesture.edits),
  onend: () => desk.endPreview(),
  oncommit: (gesture: Gesture) => desk.commit(gesture.edits, gesture.label),
});
