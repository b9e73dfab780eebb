import { isSolid } from '../project/lens-edits.ts';
import { elementSurfaces } from '../project/lens-rows.ts';
import type { Lens, Project } from '../project/model.ts';
import type { Scene } from '../project/scene.ts';
import type { FigureError, Motion, Tolerance, ToleranceTarget } from '../project/tolerances.ts';

/** How finely a workshop works: one limit, to either side, for each kind of departure. */
export interface Grade {
  readonly id: string;
  readonly title: string;
  /** As a drawing by ISO 10110 would say it: form (3/) and centring (4/). */
  readonly drawing: string;
  /** Sagitta error against a test plate, fringes at 546.07 nm. */
  readonly fringes: number;
  /** Errors of figure, fringes at 546.07 nm from the highest to the lowest point. */
  readonly figure: number;
  /** Thickness of glass, and air gaps, mm. */
  readonly thickness: number;
  readonly gap: number;
  /** Difference of the thickness between opposite ends of an aperture, mm. */
  readonly wedge: number;
  /** Of an element in its cell: mm and degrees. */
  readonly shift: number;
  readonly tilt: number;
  /** Of a melt: index, and Abbe number in percent. */
  readonly index: number;
  readonly abbe: number;
  /** Variation of the index across a piece of glass, ppm from the highest to the lowest: of the order of classes 1 to 3 of ISO 10110-4. */
  readonly homogeneity: number;
}

/**
 * Grades of our own: round numbers of the order that workshops quote for elements of 10 to 50 mm. They are a start for a dialogue with the
 * workshop, not a standard; ISO 10110 lends them the words (parts 5 and 6), not the values.
 */
export const GRADES: readonly Grade[] = [
  {
    id: 'standard',
    title: 'Standard workshop',
    drawing: '3/5(1) · 4/3′',
    fringes: 5,
    figure: 1,
    thickness: 0.1,
    gap: 0.1,
    wedge: 0.02,
    shift: 0.05,
    tilt: 0.05,
    index: 0.001,
    abbe: 0.8,
    homogeneity: 20,
  },
  {
    id: 'precise',
    title: 'Precision workshop',
    drawing: '3/3(0.5) · 4/1.5′',
    fringes: 3,
    figure: 0.5,
    thickness: 0.05,
    gap: 0.03,
    wedge: 0.01,
    shift: 0.02,
    tilt: 0.025,
    index: 0.0005,
    abbe: 0.5,
    homogeneity: 5,
  },
  {
    id: 'finest',
    title: 'High precision',
    drawing: '3/1(0.2) · 4/0.5′',
    fringes: 1,
    figure: 0.2,
    thickness: 0.02,
    gap: 0.01,
    wedge: 0.004,
    shift: 0.01,
    tilt: 0.01,
    index: 0.0002,
    abbe: 0.2,
    homogeneity: 2,
  },
];

const MOTIONS_OF_ELEMENTS: readonly Motion[] = ['shift_x', 'shift_y', 'tilt_x', 'tilt_y'];

/** Whether a surface is a face of glass or a mirror. */
const isPolished = (project: Project, { surfaces }: Lens, index: number): boolean =>
  [surfaces[index], surfaces[index - 1]].some((one) => isSolid(project, one?.after)) ||
  Boolean(surfaces[index].reflects);

/**
 * Tolerances of a whole lens by a grade: the radius of every face of glass or mirror, every thickness and gap up to the last glass, a wedge of
 * every face but the first of an element, every element in its cell, every melt. The last distance is not among them: it is set.
 */
export function gradeTolerances(project: Project, lens: Lens, grade: Grade): Tolerance[] {
  const found: Tolerance[] = [];
  const add = (name: string, limit: number, target: ToleranceTarget) =>
    found.push({ id: `${lens.id}_${name}`, ...target, lower: -limit, upper: limit });
  const materialOf = (id: string | undefined) => project.materials.find((one) => one.id === id);
  const isGlass = (index: number) => isSolid(project, lens.surfaces[index]?.after);
  const bounds = (index: number) => isPolished(project, lens, index);
  const last = lens.surfaces.findLastIndex((_, index) => bounds(index));
  const at = (id: string) => `lenses.${lens.id}.surfaces.${id}`;
  const fronts = new Set<string>();
  lens.surfaces.forEach((surface, index) => {
    if (index > last) return;
    if (bounds(index) && 'radius' in surface.shape)
      add(`${surface.id}_form`, grade.fringes, { kind: 'fringes', address: `${at(surface.id)}.radius` });
    if (index < last && surface.after)
      add(`${surface.id}_thickness`, isGlass(index) ? grade.thickness : grade.gap, {
        kind: 'number',
        address: `${at(surface.id)}.thickness`,
      });
    if (!isGlass(index)) return;
    const [front, ...others] = elementSurfaces(project, lens, surface.id);
    if (fronts.has(front)) return;
    fronts.add(front);
    for (const other of others)
      for (const across of ['x', 'y'] as const)
        add(`${other}_wedge_${across}`, grade.wedge, { kind: 'wedge', lens: lens.id, surface: other, across });
    for (const motion of MOTIONS_OF_ELEMENTS)
      add(`${front}_${motion}`, motion.startsWith('tilt') ? grade.tilt : grade.shift, {
        kind: 'element',
        lens: lens.id,
        surface: front,
        motion,
      });
  });
  const glasses = lens.surfaces.flatMap((_, index) => (isGlass(index) ? [lens.surfaces[index].after!.material] : []));
  for (const material of new Set(glasses)) {
    add(`${material}_index`, grade.index, { kind: 'melt', material, quantity: 'index' });
    if (materialOf(material)?.dispersion.kind !== 'constant')
      add(`${material}_abbe`, grade.abbe, { kind: 'melt', material, quantity: 'abbe' });
  }
  return found;
}

/** Errors of figure that polished faces are given: irregularity of any orientation. */
const IRREGULAR: readonly FigureError[] = ['astigmatism', 'astigmatism_45'];

/** Errors of figure by a grade, of every face of glass or mirror that is flat, a sphere or a conic. */
export function figureTolerances(project: Project, lens: Lens, grade: Grade): Tolerance[] {
  return lens.surfaces.flatMap(({ id, shape }, index) => {
    if (!isPolished(project, lens, index) || !['plane', 'sphere', 'conic'].includes(shape.kind)) return [];
    return IRREGULAR.map((error): Tolerance => ({
      id: `${lens.id}_${id}_${error}`,
      kind: 'figure',
      lens: lens.id,
      surface: id,
      error,
      lower: -grade.figure,
      upper: grade.figure,
    }));
  });
}

/** Variation of the index across every piece of glass by a grade: of any orientation, where it counts next to figure. */
export function homogeneityTolerances(project: Project, lens: Lens, grade: Grade): Tolerance[] {
  return lens.surfaces.flatMap(({ id, after }) =>
    !isSolid(project, after)
      ? []
      : IRREGULAR.map((error): Tolerance => ({
          id: `${lens.id}_${id}_homogeneity_${error}`,
          kind: 'homogeneity',
          lens: lens.id,
          surface: id,
          error,
          lower: -grade.homogeneity,
          upper: grade.homogeneity,
        })),
  );
}

/** A group of surfaces in its cell: shifts and tilts about the vertex of its first one. */
export function groupTolerances(lens: Lens, from: string, to: string, grade: Grade): Tolerance[] {
  return MOTIONS_OF_ELEMENTS.map((motion): Tolerance => {
    const limit = motion.startsWith('tilt') ? grade.tilt : grade.shift;
    return {
      id: `${lens.id}_${from}_${to}_${motion}`,
      kind: 'element',
      lens: lens.id,
      surface: from,
      to,
      motion,
      lower: -limit,
      upper: limit,
    };
  });
}

/** How exactly things of a scene are placed, mm and degrees, and how much the flux of sources differs, %. */
const PLACED = { place: 0.1, turn: 0.5, flux: 5 };

/**
 * Tolerances of the places of a scene: every source and every part with a frame of its own across and along the axis and by two tilts, and the flux
 * of every source. Parts that carry nothing but their own place are placed as a whole.
 */
export function placeTolerances(scene: Scene): Tolerance[] {
  const both = (limit: number) => ({ lower: -limit, upper: limit });
  const placed = (kind: 'parts' | 'sources', id: string, keys: readonly string[]) =>
    keys.map((key): Tolerance => ({
      id: `${scene.id}_${id}_${key}`,
      kind: 'number',
      address: `scenes.${scene.id}.${kind}.${id}.frame.${key}`,
      ...both(key.startsWith('t') ? PLACED.turn : PLACED.place),
    }));
  return [
    ...scene.sources.flatMap(({ id }) => [
      ...placed('sources', id, ['dx', 'dy', 'dz']),
      {
        id: `${scene.id}_${id}_flux`,
        kind: 'share' as const,
        address: `scenes.${scene.id}.sources.${id}.flux`,
        ...both(PLACED.flux),
      },
    ]),
    ...scene.parts
      .filter(({ body, excluded }) => !excluded && body.kind !== 'group')
      .flatMap(({ id }) => placed('parts', id, ['dx', 'dy', 'dz', 'tx', 'ty'])),
  ];
}
