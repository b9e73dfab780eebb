import { GLASSES } from './glasses.ts';
import { abbeNumber, AIR, VACUUM, type Material } from './material.ts';
import { refractiveIndex } from './dispersion.ts';
import { SUBSTANCES } from './substances.ts';

/** The materials that come with Ulvex: air and vacuum, then glasses by code, then plastics, crystals and liquids. */
export const CATALOGUE: readonly Material[] = [AIR, VACUUM, ...GLASSES, ...SUBSTANCES];

/** The catalogue record with an id, or undefined. */
export function catalogueMaterial(id: string): Material | undefined {
  return CATALOGUE.find((material) => material.id === id);
}

/**
 * The materials a typed text may mean, best first: by exact id or label, then by what the label, the family or the id starts with
 * or contains. Case and spaces at the ends do not count.
 */
export function searchMaterials(text: string, among: readonly Material[] = CATALOGUE): Material[] {
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return [...among];
  const rank = (material: Material): number => {
    const words = [material.label, material.id, material.family, material.id.replaceAll('_', ' ')].map((word) =>
      word.toLowerCase(),
    );
    if (words.includes(wanted)) return 0;
    if (words.some((word) => word.startsWith(wanted))) return 1;
    return words.some((word) => word.includes(wanted)) ? 2 : 3;
  };
  return among
    .map((material) => ({ material, rank: rank(material) }))
    .filter((entry) => entry.rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .map((entry) => entry.material);
}

/** How far a material lies from another, by index and dispersion. */
export interface Neighbour {
  readonly material: Material;
  readonly nd: number;
  readonly vd: number;
  /** √((Δnd/0.001)² + (ΔVd/0.5)²): 1 is about what a new melting of the same glass may differ by. */
  readonly distance: number;
}

/**
 * The measured materials nearest to a point of the n–V map, nearest first.
 *
 * @param most - how many of them
 */
export function nearestMaterials(
  nd: number,
  vd: number,
  most = 5,
  among: readonly Material[] = CATALOGUE,
): Neighbour[] {
  return among
    .map((material) => {
      const [n, v] = [refractiveIndex(material.dispersion, 587.5618), abbeNumber(material.dispersion)];
      return { material, nd: n, vd: v, distance: Math.hypot((n - nd) / 0.001, (v - vd) / 0.5) };
    })
    .filter(({ material, distance }) => material.trust === undefined && Number.isFinite(distance))
    .sort((a, b) => a.distance - b.distance)
    .slice(0, most);
}
