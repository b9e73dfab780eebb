import type { Desk } from '../desk/desk.svelte.ts';
import { MovesRun } from './moves-run.svelte.ts';
import { PlatesRun } from './plates-run.svelte.ts';
import { PolishRun } from './polish-run.svelte.ts';
import { SearchRun } from './search-run.svelte.ts';

/** One of each for a desk. */
interface Runs {
  readonly polish: PolishRun;
  readonly search: SearchRun;
  readonly moves: MovesRun;
  readonly plates: PlatesRun;
}

/** The runs of Improve on a desk. */
export function runsOf(desk: Desk): Runs {
  return {
    polish: desk.runs.of('polish', '', () => new PolishRun(desk)),
    search: desk.runs.of('search', '', () => new SearchRun(desk)),
    moves: desk.runs.of('moves', '', () => new MovesRun(desk)),
    plates: desk.runs.of('plates', '', () => new PlatesRun(desk)),
  };
}
