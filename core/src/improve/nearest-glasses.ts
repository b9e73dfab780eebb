import { STANDARD } from '../materials/air.ts';
import { abbeNumber, indexIn, partialDispersion, type Material } from '../materials/material.ts';
import { normalLine } from '../materials/model-glass.ts';

const D_LINE = 587.5618;

/**
 * Materials by their distance from one in the map of index, Abbe number and partial dispersion P(g,F): 0.05 in index
 * is as far as 5 in Abbe number and 0.02 in P. A glass whose lines are not known counts as normal.
 */
export function nearestGlasses(from: Material, among: readonly Material[]): Material[] {
  const place = (material: Material) =>
    [indexIn(material, D_LINE, STANDARD) / 0.05, abbeNumber(material.dispersion) / 5, partOf(material) / 0.02] as const;
  const [n, v, p] = place(from);
  const farFrom = ([a, b, c]: ReturnType<typeof place>) => Math.hypot(a - n, b - v, c - p);
  return among
    .map((material) => ({ material, far: farFrom(place(material)) }))
    .sort((a, b) => a.far - b.far)
    .map(({ material }) => material);
}

/** P(g,F), or what a normal glass of this Abbe number has. */
function partOf({ dispersion }: Material): number {
  const part = partialDispersion(dispersion);
  return Number.isFinite(part) ? part : normalLine(abbeNumber(dispersion));
}
