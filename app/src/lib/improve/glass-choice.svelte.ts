import type { GlassRules } from '@ulvex/core';
import type { Desk } from '../desk/desk.svelte.ts';

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
