import { failure, success, type Outcome } from '../math/outcome.ts';
import { numberToExtent } from '../math/parameter.ts';
import type { Edit } from '../project/edit.ts';
import type { Override, Project } from '../project/model.ts';
import { findParameter, listParameters, setParameter } from '../project/parameters.ts';
import { addState, type StateGesture } from '../project/state-edits.ts';

/** A state that a made lens becomes. */
export interface MadeState extends StateGesture {
  /** Addresses of what the design has no number for, such as errors of figure: the state lacks it. */
  readonly missing: readonly string[];
}

/**
 * A new state in which every number is as it is in a made lens: trials can be looked at beside the design on boards, and be required of.
 * Fails where the two do not differ, or a value cannot be kept.
 *
 * @param made - the project as it is made and set
 */
export function stateOfMade(project: Project, made: Project, name: string): Outcome<MadeState> {
  const fresh = addState(project, name);
  const overrides: Override[] = [];
  const missing: string[] = [];
  for (const { address, value } of listParameters(made)) {
    if (address.startsWith('states.')) continue;
    const own = findParameter(project, address);
    if (!own.ok) missing.push(address);
    if (!own.ok || own.value.value === value) continue;
    const legal = setParameter(own.value, value);
    if (!legal.ok) return failure(`${address}: ${legal.reason}`, address);
    overrides.push({ id: `o${overrides.length + 1}`, address, value: numberToExtent(value) });
  }
  if (overrides.length === 0) return failure('It differs from the design in no number that a state could have.');
  const edits: Edit[] = [...fresh.edits, { kind: 'set', path: `states.${fresh.state}.overrides`, value: overrides }];
  return success({ edits, label: `State of ${name}`, state: fresh.state, missing });
}
