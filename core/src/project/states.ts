import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber, type Extent } from '../math/parameter.ts';
import { applyEdits, valueAt, type Edit } from './edit.ts';
import type { ModelState, Override, ParameterState, ParameterStates, Project } from './model.ts';
import { findParameter, setParameter } from './parameters.ts';

/** What tiles and requirements may name in the place of a state: the model as designed, or that and every state. */
export const STATE_WORDS = ['designed', 'every'] as const;

/** Prefix of what a state says about a number: `states.near.lenses.tide.surfaces.l4_back.thickness`. */
export const stateAddress = (state: string, address: string) => `states.${state}.${address}`;

/** The state and the address that a state's own address names; null for others. */
export function splitStateAddress(address: string): { readonly state: string; readonly address: string } | null {
  const found = /^states\.([^.]+)\.(.+)$/.exec(address);
  return found && { state: found[1], address: found[2] };
}

/** Where a number or a medium that can differ between states lies in the document; null where there is no such thing. */
export function overridablePath(project: Project, address: string): string | null {
  const medium = /^(lenses\.[^.]+\.surfaces\.[^.]+)\.material$/.exec(address);
  if (medium) {
    const path = `${medium[1]}.after.material`;
    return valueAt(project, path) === undefined ? null : path;
  }
  if (address.startsWith('states.')) return null;
  const parameter = findParameter(project, address);
  return parameter.ok ? parameter.value.path : null;
}

/** The edit that gives a number or a medium the value that an override says. */
function overrideEdit(project: Project, { address, value }: Override): Outcome<Edit> {
  const path = overridablePath(project, address);
  if (path === null) return failure(`There is nothing at ${address}.`);
  if (path.endsWith('.material')) {
    if (!project.materials.some(({ id }) => id === value)) return failure(`There is no material “${value}”.`);
    return success({ kind: 'set', path, value });
  }
  if (typeof value === 'string' && value !== 'infinity') return failure(`${address} needs a number.`);
  const parameter = findParameter(project, address);
  return parameter.ok ? setParameter(parameter.value, extentToNumber(value as Extent)) : parameter;
}

/** The state with an id. Fails, naming the known ones, where there is none. */
export function findState(project: Project, id: string): Outcome<ModelState> {
  const state = project.states?.find((one) => one.id === id);
  if (state) return success(state);
  const known = (project.states ?? []).map((one) => one.id);
  return failure(`There is no state “${id}”; there ${known.length > 0 ? `are ${known.join(', ')}` : 'is none'}.`);
}

/**
 * The project as it is in a state: its overrides stand where the values of the design stood, and what the state says about a number of its
 * own (free, linked, derived) counts in place of what the design says. Overrides of what is no longer there say nothing.
 */
export function inState(project: Project, id: string): Outcome<Project> {
  const state = findState(project, id);
  if (!state.ok) return state;
  let seen = project;
  for (const override of state.value.overrides) {
    const edit = overrideEdit(seen, override);
    if (edit.ok) seen = applyEdits(seen, [edit.value]).project;
  }
  return success(project.parameters ? { ...seen, parameters: statesOfNumbers(project.parameters, state.value) } : seen);
}

/** What makes numbers free, linked or derived in a state. */
function statesOfNumbers(parameters: ParameterStates, { id, overrides }: ModelState): ParameterStates {
  const chosen = new Set(overrides.filter(({ follows }) => !follows).map(({ address }) => address));
  const own = new Map<string, ParameterState>();
  for (const [address, state] of Object.entries(parameters)) {
    const split = splitStateAddress(address);
    // What a state sets by hand does not follow in it.
    if (!split && !chosen.has(address)) own.set(address, state);
  }
  for (const [address, state] of Object.entries(parameters)) {
    const split = splitStateAddress(address);
    if (split?.state === id) own.set(split.address, state);
  }
  return Object.fromEntries(own);
}

/**
 * Edits that were made while a state was looked at: what is different in the state is changed there, and stays in the design as it was; all
 * else is changed in the design, and so in every state.
 */
export function redirected(project: Project, id: string | null, edits: readonly Edit[]): readonly Edit[] {
  const state = id === null ? undefined : project.states?.find((one) => one.id === id);
  if (!state || state.overrides.length === 0) return edits;
  const sets = edits.flatMap((edit) => (edit.kind === 'set' ? [edit.path] : []));
  const next = applyEdits(project, edits).project;
  const more: Edit[] = [];
  for (const override of state.overrides) {
    const path = overridablePath(project, override.address);
    if (path === null || !sets.some((set) => set === path || path.startsWith(`${set}.`))) continue;
    if (override.follows || valueAt(next, `states.${id}.overrides.${override.id}`) === undefined) continue;
    const value = valueAt(next, path);
    if (value === undefined || overridablePath(next, override.address) === null) continue;
    if (value !== override.value)
      more.push({ kind: 'set', path: `states.${id}.overrides.${override.id}.value`, value });
    const designed = valueAt(project, path);
    if (designed !== value) more.push({ kind: 'set', path, value: designed });
  }
  return more.length === 0 ? edits : [...edits, ...more];
}

/** Edits that take out what states say about numbers and glasses that are no longer there. */
export function prunedStates(project: Project): Edit[] {
  return (project.states ?? []).flatMap(({ id, overrides }) =>
    overrides
      .filter((override) => !overrideEdit(project, override).ok)
      .map((override): Edit => ({ kind: 'remove', list: `states.${id}.overrides`, id: override.id })),
  );
}
