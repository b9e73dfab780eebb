import {
  abbeNumber,
  CATALOGUE,
  inRange,
  isGas,
  refractiveIndex,
  searchMaterials,
  type Material,
  type Project,
} from '@ulvex/core';
import { lensOf } from '../desk/lens-choice.ts';

/** Kinds of materials that the shelf sorts by. */
export const SORTS = {
  all: 'all kinds',
  glass: 'glasses',
  plastic: 'plastics',
  crystal: 'crystals, liquids, infrared',
  own: 'of this project only',
} as const;
export type Sort = keyof typeof SORTS;

/** A material with what a list of them shows. */
export interface Stock {
  readonly material: Material;
  readonly sort: Exclude<Sort, 'all'>;
  readonly nd: number;
  readonly vd: number;
  /** Whether every wavelength of the lens lies in its range. */
  readonly covers: boolean;
}

const SHELVED = new Set(CATALOGUE.map(({ id }) => id));

function sortOf({ id, label, family }: Material): Stock['sort'] {
  if (!SHELVED.has(id)) return 'own';
  if (/plastic/.test(family)) return 'plastic';
  return /^\d{6}$/.test(label) ? 'glass' : 'crystal';
}

/** Everything that elements can be made of: the catalogue, and what the project brought along. Gases are no stock. */
export function stockOf(project: Project): Stock[] {
  const waves = lensOf(project)?.wavelengths ?? [];
  const own = project.materials.filter(({ id }) => !SHELVED.has(id));
  return [...own, ...CATALOGUE]
    .filter((material) => !isGas(material))
    .map((material) => ({
      material,
      sort: sortOf(material),
      nd: refractiveIndex(material.dispersion, 587.5618),
      vd: abbeNumber(material.dispersion),
      covers: waves.every(({ nm }) => inRange(material, nm)),
    }));
}

/** What of a stock fits a text and a sort, the best fit first; by code and name where nothing is typed. */
export function found(stock: readonly Stock[], text: string, sort: Sort, covering: boolean): Stock[] {
  const byMaterial = new Map(stock.map((entry) => [entry.material, entry]));
  return searchMaterials(text, [...byMaterial.keys()])
    .map((material) => byMaterial.get(material)!)
    .filter((entry) => (sort === 'all' || entry.sort === sort) && (!covering || entry.covers));
}
