import { elementSurfaces, type Lens, type Project, type Tolerance } from '@ulvex/core';
import { curvesOf, influencesOf, toleranceTitle, type Response } from '@ulvex/core/tolerance';
import type { Bar } from '../components/bars.ts';
import { significant } from '../format.ts';

/** Cells of the prescription that a tolerance is about: those of a radius, of a thickness, of the material of an element. */
export function cellsOf(project: Project, lens: Lens, tolerance: Tolerance): readonly string[] {
  const at = (surface: string, word: string) => `lenses.${lens.id}.surfaces.${surface}.${word}`;
  switch (tolerance.kind) {
    case 'wedge':
    case 'figure':
      return tolerance.lens === lens.id ? [at(tolerance.surface, 'radius')] : [];
    case 'homogeneity':
      return tolerance.lens === lens.id ? [at(tolerance.surface, 'material')] : [];
    case 'melt':
      return lens.surfaces
        .filter(({ after }) => after?.material === tolerance.material)
        .map(({ id }) => at(id, 'material'));
    case 'element':
      if (tolerance.lens !== lens.id) return [];
      // A group has no cell of its own.
      return tolerance.to === undefined ? [at(elementSurfaces(project, lens, tolerance.surface)[0], 'material')] : [];
    default: {
      const [list, id, , surface, word] = tolerance.address.split('.');
      if (list !== 'lenses' || id !== lens.id) return [];
      return [at(surface, word === 'thickness' ? 'thickness' : 'radius')];
    }
  }
}

/** Effects that are named in the words of a bar, the strongest first. */
const NAMED = 4;

/**
 * How much a requirement spreads by the tolerances about each cell of the prescription, as a share of the largest; cells without any have no bar.
 *
 * @param requirement - id of a watched requirement
 */
export function spreadBars(
  project: Project,
  lens: Lens,
  response: Response,
  requirement: string,
  unit: string,
): ReadonlyMap<string, Bar> {
  const k = response.compositions.findIndex(({ id }) => id === requirement);
  const influences = influencesOf(response.tolerances, curvesOf(response));
  const cells = new Map<string, { readonly title: string; readonly deviation: number }[]>();
  if (k < 0 || !influences.ok) return new Map();
  response.tolerances.forEach((tolerance, i) => {
    const { deviation } = influences.value[i][k];
    for (const cell of cellsOf(project, lens, tolerance)) {
      const effects = cells.get(cell) ?? [];
      effects.push({ title: toleranceTitle(project, tolerance), deviation });
      cells.set(cell, effects);
    }
  });
  const whole = (cell: string) => Math.hypot(...cells.get(cell)!.map(({ deviation }) => deviation));
  const largest = Math.max(0, ...[...cells.keys()].map(whole));
  const bars = new Map<string, Bar>();
  if (largest === 0) return bars;
  for (const [cell, effects] of cells) {
    const strongest = [...effects].sort((a, b) => b.deviation - a.deviation).slice(0, NAMED);
    const list = strongest.map(({ title, deviation }) => `${title} ${significant(deviation, 2)}`).join(', ');
    bars.set(cell, {
      share: whole(cell) / largest,
      words: `σ ${significant(whole(cell), 3)}${unit && ` ${unit}`}: ${list}`,
    });
  }
  return bars;
}
