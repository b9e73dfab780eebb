import { CATALOGUE } from '../materials/catalogue.ts';
import type { Material } from '../materials/material.ts';
import type { Edit } from './edit.ts';
import type { Project } from './model.ts';

/** The record of a material, where the project does not carry it yet. */
export function embedMaterial(project: Project, material: Material): Edit[] {
  if (project.materials.some((entry) => entry.id === material.id)) return [];
  return [{ kind: 'insert', list: 'materials', after: project.materials.at(-1)?.id ?? null, item: material }];
}

/** Takes a material of the user's own into the project, under an id that nothing else has. */
export function takeInMaterial(
  project: Project,
  material: Material,
): { readonly edits: readonly Edit[]; readonly material: Material } {
  const taken = new Set([...CATALOGUE, ...project.materials].map(({ id }) => id));
  let { id } = material;
  for (let n = 2; taken.has(id); n++) id = `${material.id}_${n}`;
  const own = { ...material, id };
  return { edits: embedMaterial(project, own), material: own };
}
