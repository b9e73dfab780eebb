import { BASIC_IDS, basicFinish } from '../finishes/basic.ts';
import type { Finish } from '../finishes/finish.ts';
import { isGas } from '../materials/material.ts';
import type { Edit } from './edit.ts';
import type { Gesture } from './lens-edits.ts';
import type { Lens, Project } from './model.ts';

/** The finish with an id: of the project, or one that every project knows; undefined for a stranger. */
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
