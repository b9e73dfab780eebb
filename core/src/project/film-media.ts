import type { FilmMedia } from '../finishes/optics/optics.ts';
import { STANDARD } from '../materials/air.ts';
import { indexIn, inRange, internalTransmittance } from '../materials/material.ts';
import type { Project } from './model.ts';

/**
 * What films of coatings can be made of: the materials that a project carries, in its surroundings. Their extinction follows from
 * their internal transmittance, k = αλ/4π.
 */
export function filmMedia({ materials, surroundings }: Pick<Project, 'materials' | 'surroundings'>): FilmMedia {
  const at = { ...STANDARD, ...surroundings };
  const byId = new Map(materials.map((material) => [material.id, material]));
  return (id, nm) => {
    const material = byId.get(id);
    if (!material || !inRange(material, nm)) return null;
    const n = indexIn(material, nm, at);
    const clear = internalTransmittance(material, nm, 1);
    const alpha = clear === null ? 0 : -Math.log(clear);
    return n > 0 ? { n, k: (alpha * nm * 1e-6) / (4 * Math.PI) } : null;
  };
}
