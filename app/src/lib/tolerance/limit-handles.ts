import { changeWatch } from '@ulvex/core/tolerance';
import type { Desk } from '$lib/desk/desk.svelte.ts';

type Side = 'min' | 'max';

/** What the limits drawn in a histogram do when they are moved: they are those of a requirement when made. */
export function limitHandles(desk: Desk, requirement: string | null) {
  const change = (side: Side, value: number) =>
    changeWatch(desk.base, requirement?.split('@')[0] ?? '', { [side]: value });
  return {
    onpreview: (side: Side, value: number) => {
      const gesture = change(side, value);
      if (gesture.ok) desk.previewDesign(gesture.value.edits);
      else desk.endPreview();
    },
    oncommit: (side: Side, value: number) => {
      const gesture = change(side, value);
      if (gesture.ok) desk.commitDesign(gesture.value.edits, gesture.value.label);
      else desk.endPreview();
    },
    onend: () => desk.endPreview(),
  };
}
