import { failure, success, type Outcome } from '../math/outcome.ts';
import { numberToExtent, type Extent } from '../math/parameter.ts';
import { applyEdits, valueAt, type Edit } from './edit.ts';
import type { ModelState, Project } from './model.ts';
import { freshId } from './fresh-id.ts';
import { findParameter, setParameter } from './parameters.ts';
import { findState, overridablePath, splitStateAddress, STATE_WORDS } from './states.ts';

/** Something done to the states of a project, in one step of the history. */
export interface StateGesture {
  readonly edits: readonly Edit[];
  readonly label: string;
  /** Id of the state that it is about. */
  readonly state: string;
}

/** A new state behind the others, in which nothing differs yet, or all that differs in another one. */
export function addState(project: Project, name: string, like?: string): StateGesture {
  const word = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '');
  const taken = [...(project.states ?? []), ...STATE_WORDS.map((id) => ({ id }))];
  const id =
    word === '' ? freshId('state_', taken) : taken.some((one) => one.id === word) ? freshId(`${word}_`, taken) : word;
  const overrides = project.states?.find((one) => one.id === like)?.overrides ?? [];
  const item: ModelState = { id, name, overrides };
  const edit: Edit = project.states
    ? { kind: 'insert', list: 'states', after: project.states.at(-1)?.id ?? null, item }
    : { kind: 'set', path: 'states', value: [item] };
  return { edits: [edit], label: `Add state ${name}`, state: id };
}

/** Takes a state away, with what numbers are in it and with the places that name it: those look at the design then. */
export function removeState(project: Project, id: string): Outcome<StateGesture> {
  const state = findState(project, id);
  if (!state.ok) return state;
  const edits: Edit[] = [
    project.states!.length > 1
      ? { kind: 'remove', list: 'states', id }
      : { kind: 'set', path: 'states', value: undefined },
    ...withoutStatesOf(project, (address) => splitStateAddress(address)?.state === id),
  ];
  for (const requirement of project.requirements)
    if (requirement.state === id)
      edits.push({ kind: 'set', path: `requirements.${requirement.id}.state`, value: undefined });
  for (const board of project.boards ?? [])
    for (const tile of board.tiles)
      if (tile.state === id)
        edits.push({ kind: 'set', path: `boards.${board.id}.tiles.${tile.id}.state`, value: undefined });
  return success({ edits, label: `Remove state ${state.value.name}`, state: id });
}

/** Lets a number or a medium differ in a state; it has its value of the design there at first. Done already, nothing is changed. */
export function differIn(project: Project, id: string, address: string): Outcome<StateGesture> {
  const state = findState(project, id);
  if (!state.ok) return state;
  const path = overridablePath(project, address);
  if (path === null) return failure(`There is no number or glass ${address}.`);
  const known = state.value.overrides.find((one) => one.address === address);
  const label = `Let ${address.split('.').slice(-2).join(' ')} differ in ${state.value.name}`;
  const list = `states.${id}.overrides`;
  if (known && !known.follows) return success({ edits: [], label, state: id });
  const value = known?.value ?? (valueAt(project, path) as Extent | string | undefined) ?? fallbackOf(project, address);
  const edits: Edit[] = known ? [{ kind: 'remove', list, id: known.id }] : [];
  // What holds it is in the design, too: an edit made in the state finds it there.
  const parameter = findParameter(project, address);
  if (parameter.ok && parameter.value.absent) {
    const { absent, spec, value: designed } = parameter.value;
    edits.push({ kind: 'set', path: absent, value: { [spec.id]: designed } });
  }
  const after = state.value.overrides.filter((one) => one !== known).at(-1)?.id ?? null;
  edits.push({
    kind: 'insert',
    list,
    after,
    item: { id: known?.id ?? freshId('o', state.value.overrides), address, value } as { id: string },
  });
  return success({ edits, label, state: id });
}

function fallbackOf(project: Project, address: string): Extent {
  const parameter = findParameter(project, address);
  return parameter.ok ? numberToExtent(parameter.value.value) : 0;
}

/** Makes a number or a medium in a state what it is in the design. */
export function sameIn(project: Project, id: string, address: string): Outcome<StateGesture> {
  const state = findState(project, id);
  if (!state.ok) return state;
  const override = state.value.overrides.find((one) => one.address === address);
  const label = `${address.split('.').slice(-2).join(' ')} in ${state.value.name} as designed`;
  if (!override) return success({ edits: [], label, state: id });
  return success({
    edits: [
      { kind: 'remove', list: `states.${id}.overrides`, id: override.id },
      ...withoutStatesOf(project, (one) => one === `states.${id}.${address}`),
    ],
    label,
    state: id,
  });
}

/**
 * Gives a number or a medium another value in a state, letting it differ there first. Fails where the value is not legal.
 *
 * @param value - in the parameter's unit, Infinity for a flat; id of a material for a medium
 */
export function setInState(
  project: Project,
  id: string,
  address: string,
  value: number | string,
): Outcome<StateGesture> {
  const differs = differIn(project, id, address);
  if (!differs.ok) return differs;
  const { project: next } = applyEdits(project, differs.value.edits);
  const override = findState(next, id);
  if (!override.ok) return override;
  const entry = override.value.overrides.find((one) => one.address === address)!;
  if (typeof value === 'string') {
    if (!project.materials.some((one) => one.id === value)) return failure(`There is no material “${value}”.`);
  } else {
    const parameter = findParameter(project, address);
    if (!parameter.ok) return parameter;
    const legal = setParameter(parameter.value, value);
    if (!legal.ok) return legal;
  }
  const written = typeof value === 'string' ? value : numberToExtent(value);
  const edit: Edit = { kind: 'set', path: `states.${id}.overrides.${entry.id}.value`, value: written };
  const label = `${address.split('.').slice(-2).join(' ')} in ${override.value.name}`;
  return success({ edits: [...differs.value.edits, edit], label, state: id });
}

/** Takes entries out of what numbers are; none where none is meant. */
function withoutStatesOf(project: Project, gone: (address: string) => boolean): Edit[] {
  const entries = Object.entries(project.parameters ?? {});
  const kept = entries.filter(([address]) => !gone(address));
  if (kept.length === entries.length) return [];
  return [{ kind: 'set', path: 'parameters', value: kept.length > 0 ? Object.fromEntries(kept) : undefined }];
}
