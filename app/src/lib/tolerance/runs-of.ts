import type { Desk } from '$lib/desk/desk.svelte.ts';
import { LadderRun } from './ladder-run.svelte.ts';
import { LotRun } from './lot-run.svelte.ts';

/** The studies of tolerances of the open project. */
export function studiesOf(desk: Desk): { readonly ladder: LadderRun; readonly lot: LotRun } {
  return {
    ladder: desk.runs.of('ladder', desk.projectId, () => new LadderRun(desk)),
    lot: desk.runs.of('lot', desk.projectId, () => new LotRun(desk)),
  };
}
