import type { Desk } from '../desk/desk.svelte.ts';
import { PolishRun } from './polish-run.svelte.ts';

const RUNS = new WeakMap<Desk, PolishRun>();

/** The run of a desk: one at a time, which goes on behind other rooms. */
export function runOf(desk: Desk): PolishRun {
  let run = RUNS.get(desk);
  if (!run) RUNS.set(desk, (run = new PolishRun(desk)));
  return run;
}
