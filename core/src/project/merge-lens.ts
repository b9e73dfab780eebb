import { failure, success, type Outcome } from '../math/outcome.ts';
import { embedMaterial, takeInMaterial } from './embed-material.ts';
import { applyEdits, type Edit } from './edit.ts';
import { freshId } from './fresh-id.ts';
import { freshElementName, isSolid, surfaceTitle, type Gesture } from './lens-edits.ts';
import type { ModelState, Override, ParameterState, Project, Surface } from './model.ts';
import { addState } from './state-edits.ts';
import { splitStateAddress, stateAddress } from './states.ts';

/** A lens taken in from another project. */
export interface MergedLens extends Gesture {
  /** What of the other project does not come along, in words. */
  readonly left: readonly string[];
}

/**
 * Puts the first lens of another project, but for its image surface, behind a surface of a lens, as a group: with its glasses, what its
 * states and links say of its surfaces, and names of its own where they are taken. Its aperture, fields and light stay behind: those of
 * the lens at hand count. Fails where glass lies after the surface, or the other project has no lens.
 */
export function mergeLens(project: Project, lensId: string, behind: string, other: Project): Outcome<MergedLens> {
  const lens = project.lenses.find(({ id }) => id === lensId);
  const place = lens?.surfaces.findIndex(({ id }) => id === behind) ?? -1;
  if (!lens || place < 0) return failure('There is no such surface to insert a lens after.');
  const incoming = other.lenses[0];
  if (!incoming || incoming.surfaces.length < 2) return failure(`“${other.name}” has no lens to insert.`);
  if (isSolid(project, lens.surfaces[place].after))
    return failure(`Glass lies after ${surfaceTitle(lens, place)}: choose a surface with a gap after it.`);
  if (place === lens.surfaces.length - 1)
    return failure('Nothing stands behind the image: choose a surface before it.');
  const { materials, edits } = materialsOf(project, other, incoming.surfaces);
  const ids = freshIds(incoming.surfaces.slice(0, -1), lens.surfaces);
  const names: string[] = [];
  let after = behind;
  for (const surface of incoming.surfaces.slice(0, -1)) {
    const item = renamed(surface, ids, materials);
    const name = item.after?.name;
    const taken = name !== undefined && lens.surfaces.some((one) => one.after?.name === name);
    const own = taken ? freshElementName(lens, names) : name;
    if (own !== undefined) names.push(own);
    const medium = item.after && own !== undefined ? { ...item.after, name: own } : item.after;
    const first = after === behind && item.comment === undefined && { comment: `from ${other.name}` };
    edits.push({
      kind: 'insert',
      list: `lenses.${lensId}.surfaces`,
      after,
      item: { ...item, ...first, after: medium } as Surface,
    });
    after = item.id;
  }
  const moved = (address: string): string | null => {
    const found = /^lenses\.([^.]+)\.surfaces\.([^.]+)\.(.+)$/.exec(address);
    const id = found && found[1] === incoming.id ? ids.get(found[2]) : undefined;
    return found && id !== undefined ? `lenses.${lensId}.surfaces.${id}.${found[3]}` : null;
  };
  const states = stateEdits(applyEdits(project, edits).project, other, moved, materials);
  edits.push(...states.edits);
  const links = numberEdits(project, other, moved, states.ids);
  edits.push(...links.edits);
  return success({
    edits,
    label: `Insert the lens of ${other.name}`,
    focus: ids.get(incoming.surfaces[0].id)!,
    left: [...states.left, ...links.left],
  });
}

/** The materials of surfaces under the ids that they get in a project, and what takes in those that it has not got. */
function materialsOf(project: Project, other: Project, surfaces: readonly Surface[]) {
  const materials = new Map<string, string>();
  const edits: Edit[] = [];
  const used = new Set([...surfaces.flatMap(({ after }) => (after ? [after.material] : [])), ...statedGlasses(other)]);
  let now = project;
  for (const id of used) {
    const material = other.materials.find((one) => one.id === id);
    if (!material) continue;
    const known = project.materials.find((one) => one.id === id);
    const same = known === undefined || JSON.stringify(known) === JSON.stringify(material);
    const taken = same ? { edits: embedMaterial(now, material), material } : takeInMaterial(now, material);
    materials.set(id, taken.material.id);
    edits.push(...taken.edits);
    now = applyEdits(now, taken.edits).project;
  }
  return { materials, edits };
}

function statedGlasses({ states }: Project): string[] {
  return (states ?? []).flatMap(({ overrides }) =>
    overrides.flatMap(({ address, value }) => (address.endsWith('.material') ? [String(value)] : [])),
  );
}

function freshIds(incoming: readonly Surface[], present: readonly Surface[]): ReadonlyMap<string, string> {
  const ids = new Map<string, string>();
  const taken = [...present];
  for (const { id } of incoming) {
    const free = taken.some((one) => one.id === id) ? freshId(`${id}_`, taken) : id;
    ids.set(id, free);
    taken.push({ id: free } as Surface);
  }
  return ids;
}

function renamed(surface: Surface, ids: ReadonlyMap<string, string>, materials: ReadonlyMap<string, string>): Surface {
  const { behind, after } = surface;
  const back = behind?.returnTo === undefined ? undefined : ids.get(behind.returnTo);
  return {
    ...surface,
    id: ids.get(surface.id)!,
    ...(behind && back !== undefined && { behind: { ...behind, returnTo: back } }),
    after: after && { ...after, material: materials.get(after.material) ?? after.material },
  };
}

/** What the states of the other project say of the lens, in states of the same name. */
function stateEdits(
  project: Project,
  other: Project,
  moved: (address: string) => string | null,
  materials: ReadonlyMap<string, string>,
) {
  const edits: Edit[] = [];
  const ids = new Map<string, string>();
  const left: string[] = [];
  let now = project;
  const apply = (edit: Edit) => {
    edits.push(edit);
    now = applyEdits(now, [edit]).project;
  };
  for (const state of other.states ?? []) {
    const brought = broughtOverrides(state, moved, materials);
    if (brought.length < state.overrides.length)
      left.push(`What is not of the surfaces themselves in the state ${state.name}.`);
    if (brought.length === 0) continue;
    let target = now.states?.find(({ name }) => name === state.name);
    if (!target) {
      const added = addState(now, state.name);
      added.edits.forEach(apply);
      target = now.states!.find(({ id }) => id === added.state)!;
    }
    ids.set(state.id, target.id);
    for (const override of brought) {
      const list = now.states!.find(({ id }) => id === target.id)!.overrides;
      const item = { ...override, id: freshId('o', list) } as { id: string };
      apply({ kind: 'insert', list: `states.${target.id}.overrides`, after: list.at(-1)?.id ?? null, item });
    }
  }
  return { edits, ids, left };
}

function broughtOverrides(
  { overrides }: ModelState,
  moved: (address: string) => string | null,
  materials: ReadonlyMap<string, string>,
): Override[] {
  return overrides.flatMap((override) => {
    const address = moved(override.address);
    if (address === null) return [];
    const glass = address.endsWith('.material') && materials.get(String(override.value));
    return [{ ...override, address, ...(glass && { value: glass }) }];
  });
}

/** Free numbers and links of the lens; conditions are of a lens as a whole, which is another one now. */
function numberEdits(
  project: Project,
  other: Project,
  moved: (address: string) => string | null,
  states: ReadonlyMap<string, string>,
) {
  const brought: Record<string, ParameterState> = {};
  const left: string[] = [];
  const place = (address: string): string | null => {
    const split = splitStateAddress(address);
    if (!split) return moved(address);
    const [state, inside] = [states.get(split.state), moved(split.address)];
    return state === undefined || inside === null ? null : stateAddress(state, inside);
  };
  for (const [address, state] of Object.entries(other.parameters ?? {})) {
    const at = place(address);
    if (at === null) continue;
    if (state.kind === 'free') brought[at] = state;
    else if (state.kind === 'derived')
      left.push(`The condition on ${address.split('.').slice(-2).join(' ')}: it was of the lens as a whole.`);
    else {
      let whole = true;
      const formula = state.formula.replace(/lenses\.[a-z0-9_.]+/g, (name) => {
        const there = moved(name);
        if (there === null) whole = false;
        return there ?? name;
      });
      if (whole) brought[at] = { kind: 'linked', formula };
      else
        left.push(`The link of ${address.split('.').slice(-2).join(' ')}: it follows from what does not come along.`);
    }
  }
  const edits: Edit[] =
    Object.keys(brought).length > 0
      ? [{ kind: 'set', path: 'parameters', value: { ...project.parameters, ...brought } }]
      : [];
  return { edits, left };
}
