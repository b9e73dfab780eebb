import type { Desk } from '../desk/desk.svelte.ts';
import { PolishRun } from './polish-run.svelte.ts';
import { SearchRun } from './search-run.svelte.ts';

const RUNS = new WeakMap<Desk, PolishRun>();

/** The run of a desk: one at a time, which goes on behind other rooms. */
export function runOf(desk: Desk): PolishRun {
  let run = RUNS.get(desk);
  if (!run) RUNS.set(desk, (run = new PolishRun(desk)));
  return run;
}

const SEARCHES = new WeakMap<Desk, SearchRun>();

/** The search of a desk: one at a time, like the run. */
export function searchOf(desk: Desk): SearchRun {
  let run = SEARCHES.get(desk);
  if (!run) SEARCHES.set(desk, (run = new SearchRun(desk)));
  return run;
}
