import { failure, success, type Outcome } from '../math/outcome.ts';
import { applyEdits, type Edit } from './edit.ts';
import { freshElementName, freshSurfaceId, isSolid, removeSurface, surfaceTitle, type Gesture } from './lens-edits.ts';
import type { Lens, Project, Surface } from './model.ts';

const listOf = (lens: Lens) => `lenses.${lens.id}.surfaces`;

/** The given surfaces in the order of the lens, without the image surface. */
function chosen(lens: Lens, ids: readonly string[]): Surface[] {
  return lens.surfaces.slice(0, -1).filter((surface) => ids.includes(surface.id));
}

function named(lens: Lens, surfaces: readonly Surface[]): string {
  const first = surfaceTitle(lens, lens.surfaces.indexOf(surfaces[0]));
  return surfaces.length === 1 ? first : `${first} and ${surfaces.length - 1} more`;
}

/**
 * Moves surfaces, each with the medium after it, one place toward the object (−1) or the image (+1). The image surface stays last.
 * Fails where there is no place to move to.
 */
export function moveSurfaces(lens: Lens, ids: readonly string[], by: -1 | 1): Outcome<Gesture> {
  const moved = chosen(lens, ids);
  if (moved.length === 0) return failure('The image surface stays last.');
  const last = lens.surfaces.length - 2;
  const at = moved.map((surface) => lens.surfaces.indexOf(surface));
  if (by < 0 ? at[0] === 0 : at[at.length - 1] === last)
    return failure(by < 0 ? 'There is nothing in front of it.' : 'Only the image lies after it.');
  const order = [...lens.surfaces];
  const edits: Edit[] = [];
  for (const surface of by < 0 ? moved : [...moved].reverse()) {
    const from = order.indexOf(surface);
    order.splice(from, 1);
    order.splice(from + by, 0, surface);
    edits.push({ kind: 'move', list: listOf(lens), id: surface.id, after: order[from + by - 1]?.id ?? null });
  }
  return success({ edits, label: `Move ${named(lens, moved)}`, focus: moved[0].id });
}

/** Puts copies of surfaces, each with the medium after it, behind the last of them; elements get names of their own. */
export function duplicateSurfaces(lens: Lens, ids: readonly string[]): Outcome<Gesture> {
  const copied = chosen(lens, ids);
  if (copied.length === 0) return failure('The image surface cannot be doubled.');
  const taken: string[] = [];
  const names: string[] = [];
  let after = copied[copied.length - 1].id;
  const edits = copied.map((surface): Edit => {
    const id = freshSurfaceId(lens, taken);
    taken.push(id);
    const { name: _name, ...rest } = surface;
    const medium =
      rest.after!.name === undefined ? rest.after! : { ...rest.after!, name: freshElementName(lens, names) };
    if (medium.name !== undefined) names.push(medium.name);
    const edit: Edit = {
      kind: 'insert',
      list: listOf(lens),
      after,
      item: { ...rest, id, after: medium } as Surface,
    };
    after = id;
    return edit;
  });
  return success({ edits, label: `Double ${named(lens, copied)}`, focus: taken[0] });
}

/** Removes several surfaces as one gesture; what lies after them stays where it is. */
export function removeSurfaces(project: Project, lensId: string, ids: readonly string[]): Outcome<Gesture> {
  let current = project;
  const lensNow = () => current.lenses.find((entry) => entry.id === lensId)!;
  const removed = chosen(lensNow(), ids);
  if (removed.length === 0) return failure('The image surface stays: a lens always has one.');
  const label = `Remove ${named(lensNow(), removed)}`;
  const edits: Edit[] = [];
  let focus = '';
  for (const { id } of removed) {
    const gesture = removeSurface(lensNow(), id);
    if (!gesture.ok) return gesture;
    edits.push(...gesture.value.edits);
    ({ focus } = gesture.value);
    current = applyEdits(current, gesture.value.edits).project;
  }
  return success({ edits, label, focus });
}

/** The surfaces of the element after one, cemented neighbours included, from the first front to the last back. */
export function elementSurfaces(project: Project, lens: Lens, id: string): readonly string[] {
  let first = lens.surfaces.findIndex((surface) => surface.id === id);
  let last = first;
  while (first > 0 && isSolid(project, lens.surfaces[first - 1].after)) first--;
  while (isSolid(project, lens.surfaces[last].after)) last++;
  return lens.surfaces.slice(first, last + 1).map((surface) => surface.id);
}

/**
 * Moves the element after a surface, cemented neighbours and the gap after it included, past its neighbour: a surface that stands
 * alone or another whole element. Fails where there is none.
 */
export function moveElement(project: Project, lensId: string, id: string, by: -1 | 1): Outcome<Gesture> {
  let current = project;
  const lensNow = () => current.lenses.find((entry) => entry.id === lensId)!;
  const lens = lensNow();
  const own = elementSurfaces(project, lens, id);
  const at = lens.surfaces.findIndex((surface) => surface.id === own[by < 0 ? 0 : own.length - 1]);
  // In front of it lies what ends there; behind it, what begins there.
  const neighbour = lens.surfaces[at + by];
  const past = !neighbour ? 1 : elementSurfaces(project, lens, neighbour.id).length;
  const edits: Edit[] = [];
  for (let step = 0; step < past; step++) {
    const moved = moveSurfaces(lensNow(), own, by);
    if (!moved.ok) return moved;
    edits.push(...moved.value.edits);
    current = applyEdits(current, moved.value.edits).project;
  }
  const { name } = lens.surfaces.find((surface) => surface.id === own[0])!.after ?? {};
  return success({ edits, label: `Move ${name ?? 'a surface'}`, focus: id });
}
