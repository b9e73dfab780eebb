import type { Desk } from '$lib/desk/desk.svelte.ts';
import { LadderRun } from './ladder-run.svelte.ts';
import { JointRun } from './joint-run.svelte.ts';
import { LotRun } from './lot-run.svelte.ts';

/** The studies of tolerances of the open project. */
export function studiesOf(desk: Desk): { readonly ladder: LadderRun; readonly lot: LotRun; readonly joint: JointRun } {
  return {
    ladder: desk.runs.of('ladder', desk.projectId, () => new LadderRun(desk)),
    joint: desk.runs.of('joint', desk.projectId, () => new JointRun(desk)),
    lot: desk.runs.of('lot', desk.projectId, () => new LotRun(desk)),
  };
}
