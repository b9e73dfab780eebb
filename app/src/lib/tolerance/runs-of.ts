import type { Desk } from '$lib/desk/desk.svelte.ts';
import { LadderRun } from './ladder-run.svelte.ts';
import { LotRun } from './lot-run.svelte.ts';

/** The studies of tolerances on a desk. */
export function studiesOf(desk: Desk): { readonly ladder: LadderRun; readonly lot: LotRun } {
  return {
    ladder: desk.runs.of('ladder', '', () => new LadderRun(desk)),
    lot: desk.runs.of('lot', '', () => new LotRun(desk)),
  };
}
