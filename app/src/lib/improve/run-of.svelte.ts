import type { GlassRules } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';
import { MovesRun } from './moves-run.svelte.ts';
import { PlatesRun } from './plates-run.svelte.ts';
import { PolishRun } from './polish-run.svelte.ts';
import { SearchRun } from './search-run.svelte.ts';

/** Which glasses may be taken, for all that exchanges any. */
const NO_RULES: GlassRules = {};

export class GlassChoice {
  readonly #desk: Desk;

  constructor(desk: Desk) {
    this.#desk = desk;
  }

  /** They are kept with the project. */
  get rules(): GlassRules {
    return this.#desk.base.glassRules ?? NO_RULES;
  }

  set rules(next: GlassRules) {
    const said = Object.values(next).some(
      (value) => value !== undefined && value !== false && !(Array.isArray(value) && value.length === 0),
    );
    this.#desk.commitDesign([{ kind: 'set', path: 'glassRules', value: said ? next : undefined }], 'Glass rules');
  }

  /** In which panel the rules are shown: they are the same in all. */
  shown = $state<'forms' | 'search' | null>(null);
}

/** What goes on behind other rooms: one of each at a time for a desk. */
interface Runs {
  readonly polish: PolishRun;
  readonly search: SearchRun;
  readonly moves: MovesRun;
  readonly plates: PlatesRun;
  readonly glass: GlassChoice;
}

const RUNS = new WeakMap<Desk, Runs>();

/** The runs of a desk. */
export function runsOf(desk: Desk): Runs {
  let runs = RUNS.get(desk);
  if (!runs) {
    runs = {
      polish: new PolishRun(desk),
      search: new SearchRun(desk),
      moves: new MovesRun(desk),
      plates: new PlatesRun(desk),
      glass: new GlassChoice(desk),
    };
    RUNS.set(desk, runs);
  }
  return runs;
}
