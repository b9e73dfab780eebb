import { BASIC_IDS, basicFinish } from '../finishes/basic.ts';
import type { Finish } from '../finishes/finish.ts';
import type { Layer } from '../finishes/optics/coating.ts';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { isGas, type Material } from '../materials/material.ts';
import type { Edit } from './edit.ts';
import { embedMaterial } from './embed-material.ts';
import { filmMedia } from './film-media.ts';
import { freshId } from './fresh-id.ts';
import type { Gesture } from './lens-edits.ts';
import type { Lens, Project } from './model.ts';

/** The finish with an id: of the project, or one that every project knows; undefined if there is none. */
export function findFinish({ finishes }: Project, id: string): Finish | undefined {
  return finishes?.find((one) => one.id === id) ?? basicFinish(id);
}

/** What brings a finish of the shelf into a project; nothing for one that is there or that every project knows. */
export function takeInFinish(project: Project, finish: Finish | null): readonly Edit[] {
  if (!finish || BASIC_IDS.includes(finish.id) || project.finishes?.some(({ id }) => id === finish.id)) return [];
  if (!project.finishes) return [{ kind: 'set', path: 'finishes', value: [finish] }];
  return [{ kind: 'insert', list: 'finishes', after: project.finishes.at(-1)?.id ?? null, item: finish }];
}

/**
 * Gives surfaces of a lens a finish, or takes it away with null.
 *
 * @param ids - of the surfaces, at least one
 */
export function setSurfaceFinish(project: Project, lens: Lens, ids: readonly string[], finish: Finish | null): Gesture {
  const surfaces = ids.map((id) => `lenses.${lens.id}.surfaces.${id}.finish`);
  return {
    edits: [
      ...takeInFinish(project, finish),
      ...surfaces.map((path): Edit => ({ kind: 'set', path, value: finish?.id })),
    ],
    label: `${finish ? finish.name : 'No coating'} on ${ids.length === 1 ? ids[0] : `${ids.length} surfaces`}`,
    focus: ids[0],
  };
}

/** Ids of the surfaces that part glass from air or another gas, mirrors apart: those that are coated against reflection. */
export function glassAirSurfaces({ materials }: Project, lens: Lens): readonly string[] {
  const gases = new Set(materials.filter(isGas).map(({ id }) => id));
  let before = true; // the object space is air
  return lens.surfaces.flatMap(({ id, after, reflects }) => {
    if (reflects || after === null) return [];
    const behind = gases.has(after.material);
    const parts = behind !== before;
    before = behind;
    return parts ? [id] : [];
  });
}

/** What of a project carries a finish: surfaces of lenses, and parts of scenes with their faces, as ids joined by points. */
export function usesOfFinish({ lenses, scenes }: Project, id: string): readonly string[] {
  const surfaces = lenses.flatMap((lens) =>
    lens.surfaces.filter(({ finish }) => finish === id).map((surface) => `${lens.id}.${surface.id}`),
  );
  const faces = (scenes ?? []).flatMap(({ parts }) =>
    parts.flatMap((part) => [
      ...(part.finish === id ? [part.id] : []),
      ...Object.entries(part.faces ?? {}).flatMap(([name, { finish }]) =>
        finish === id ? [`${part.id}.${name}`] : [],
      ),
    ]),
  );
  return [...surfaces, ...faces];
}

/** Edits on finishes, and what the history calls them. */
export type Change = Pick<Gesture, 'edits' | 'label'>;

/** Adds a finish like another one under an id and a name of its own. */
export function addFinish(
  project: Project,
  like: Omit<Finish, 'id'>,
  word = 'finish',
): { readonly change: Change; readonly finish: Finish } {
  const own = project.finishes ?? [];
  const taken = (id: string) => own.some((one) => one.id === id) || findShelved(id);
  let id = word;
  for (let n = 2; taken(id); n++) id = `${word}_${n}`;
  const names = new Set(own.map(({ name }) => name));
  let { name } = like;
  for (let n = 2; names.has(name); n++) name = `${like.name} ${n}`;
  const finish = { ...like, id, name };
  return { finish, change: { edits: takeInFinish(project, finish), label: `Add ${name}` } };
}

const findShelved = (id: string) => basicFinish(id) !== undefined || SHELF_FINISHES.some((one) => one.id === id);

/** Sets a part of a finish: its name, note, optics or what it scatters; undefined removes it. */
export function setOfFinish(finish: Finish, key: string, value: unknown, what: string): Change {
  return {
    edits: [{ kind: 'set', path: `finishes.${finish.id}.${key}`, value }],
    label: `${what} of ${finish.name}`,
  };
}

/** Deletes a finish. What carries it absorbs all light afterwards, and says so: ask `usesOfFinish` before. */
export function removeFinish({ id, name }: Finish): Change {
  return { edits: [{ kind: 'remove', list: 'finishes', id }], label: `Delete ${name}` };
}

const layersOf = (finish: Finish) => `finishes.${finish.id}.optics.layers`;

/** Adds a film inside of another one, or as the outermost for null. */
export function addLayer(finish: Finish, after: string | null, layer: Omit<Layer, 'id'>): Change {
  const films = finish.optics.kind === 'coating' ? finish.optics.layers : [];
  const item = { ...layer, id: freshId('f', films) };
  return {
    edits: [{ kind: 'insert', list: layersOf(finish), after, item }],
    label: `Add a film to ${finish.name}`,
  };
}

/** Removes a film; null for the only one. */
export function removeLayer(finish: Finish, id: string): Change | null {
  if (finish.optics.kind !== 'coating' || finish.optics.layers.length < 2) return null;
  return {
    edits: [{ kind: 'remove', list: layersOf(finish), id }],
    label: `Remove a film of ${finish.name}`,
  };
}

/** Moves a film one place outward (−1) or inward (+1); null at the end of the stack. */
export function moveLayer(finish: Finish, id: string, step: -1 | 1): Change | null {
  if (finish.optics.kind !== 'coating') return null;
  const films = finish.optics.layers;
  const from = films.findIndex((one) => one.id === id);
  const to = from + step;
  if (from < 0 || to < 0 || to >= films.length) return null;
  const after = step === 1 ? films[to].id : (films[to - 1]?.id ?? null);
  return {
    edits: [{ kind: 'move', list: layersOf(finish), id, after }],
    label: `Move a film of ${finish.name}`,
  };
}

/**
 * Makes a film of a material, or of an index of its own: that of the material at a wavelength, if it had one.
 *
 * @param material - null for an index
 * @param nm - wavelength in nm at which the index is read
 */
export function setLayerMaterial(
  project: Project,
  finish: Finish,
  layer: Layer,
  material: Material | null,
  nm: number,
): Change {
  const { material: before, index: _index, extinction: _extinction, ...rest } = layer;
  const read = before === undefined ? null : filmMedia(project)(before, nm);
  const own = { index: read ? Number(read.n.toPrecision(6)) : (layer.index ?? 1.5) };
  const value = material ? { ...rest, material: material.id } : { ...rest, ...own };
  return {
    edits: [
      ...(material ? embedMaterial(project, material) : []),
      { kind: 'set', path: `${layersOf(finish)}.${layer.id}`, value },
    ],
    label: `Material of a film of ${finish.name}`,
  };
}
