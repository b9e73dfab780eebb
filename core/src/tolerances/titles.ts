import { success, type Outcome } from '../math/outcome.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import type { Compensator, FigureError, Tolerance, ToleranceTarget } from '../project/tolerances.ts';

/** Errors of a surface's figure: their fringe Zernike polynomial, what it ranges over, and what they are called. */
export const FIGURES: Readonly<
  Record<FigureError, { readonly term: number; readonly range: number; readonly title: string }>
> = {
  astigmatism: { term: 5, range: 2, title: 'astigmatism' },
  astigmatism_45: { term: 6, range: 2, title: 'astigmatism 45°' },
  coma_x: { term: 7, range: 2, title: 'coma x' },
  coma_y: { term: 8, range: 2, title: 'coma y' },
  spherical: { term: 9, range: 1.5, title: 'zone' },
};

/** Id of the lens that something departs in; null for a glass, and for what is in no lens. */
export function lensOfTarget(target: ToleranceTarget): string | null {
  if ('lens' in target) return target.lens;
  if (target.kind === 'melt') return null;
  const [list, id] = target.address.split('.');
  return list === 'lenses' ? id : null;
}

/** The unit of a departure. Fails where there is no such parameter. */
export function toleranceUnit(project: Project, target: ToleranceTarget): Outcome<string> {
  switch (target.kind) {
    case 'share':
      return success('%');
    case 'fringes':
    case 'figure':
      return success('fringes');
    case 'homogeneity':
      return success('ppm');
    case 'wedge':
      return success('mm');
    case 'melt':
      return success(target.quantity === 'abbe' ? '%' : '');
    case 'element':
      return success(target.motion.startsWith('tilt') ? '°' : 'mm');
    case 'number': {
      const found = findParameter(project, target.address);
      return found.ok ? success(found.value.spec.unit ?? '') : found;
    }
  }
}

/** What a tolerance is called: its name, or what it is about. */
export function toleranceTitle(
  project: Project,
  tolerance: ToleranceTarget & Partial<Omit<Tolerance, keyof ToleranceTarget>>,
): string {
  if (tolerance.name) return tolerance.name;
  switch (tolerance.kind) {
    case 'element': {
      const nameOf = (id: string) => surfaceAt(project, tolerance.lens, id)?.surface.after?.name;
      const first = nameOf(tolerance.surface) ?? tolerance.surface;
      const motion = tolerance.motion.replace('_', ' ');
      if (tolerance.to === undefined) return `${first} ${motion}`;
      return `${groupTitle(project, tolerance.lens, tolerance.surface, tolerance.to)} ${motion}`;
    }
    case 'figure':
      return `${titleAt(project, tolerance.lens, tolerance.surface)} ${FIGURES[tolerance.error].title}`;
    case 'homogeneity': {
      const found = surfaceAt(project, tolerance.lens, tolerance.surface);
      const glass = found?.surface.after?.name ?? `glass after ${titleAt(project, tolerance.lens, tolerance.surface)}`;
      return `${glass} homogeneity, ${FIGURES[tolerance.error].title}`;
    }
    case 'wedge':
      return `${titleAt(project, tolerance.lens, tolerance.surface)} wedge ${tolerance.across}`;
    case 'melt': {
      const material = project.materials.find(({ id }) => id === tolerance.material);
      const glass = material?.label ?? tolerance.material;
      return `${glass} ${tolerance.quantity === 'index' ? 'index' : 'Abbe number'}`;
    }
    default: {
      const found = findParameter(project, tolerance.address);
      if (!found.ok) return tolerance.address;
      const word = found.value.spec.title.toLowerCase();
      const [list, scene, kind, id] = tolerance.address.split('.');
      if (list === 'scenes') return `${thingName(project, scene, kind, id)} ${word}`;
      const [, lens, , surface] = tolerance.address.split('.');
      return `${titleAt(project, lens, surface)} ${word}`;
    }
  }
}

/** What a compensator is called. */
export function compensatorTitle(project: Project, one: Compensator): string {
  if (one.kind === 'adjust') return toleranceTitle(project, { ...one.target, ...(one.name && { name: one.name }) });
  const lens = project.lenses.length > 1 ? project.lenses.find(({ id }) => id === one.lens)?.name : undefined;
  return lens === undefined ? 'Refocus' : `Refocus of ${lens}`;
}

/** The unit in which a compensator moves; empty where what it moves is not there. */
export function compensatorUnit(project: Project, one: Compensator): string {
  if (one.kind === 'refocus') return 'mm';
  const unit = toleranceUnit(project, one.target);
  return unit.ok ? unit.value : '';
}

/** What a group of surfaces is called: by its elements where it is made of whole ones. */
function groupTitle(project: Project, lens: string, from: string, to: string): string {
  const [first, last] = [from, to].map((id) => surfaceAt(project, lens, id));
  if (!first || !last) return `${from} to ${to}`;
  if (from === to) return titleAt(project, lens, from);
  const names = [first.surface, last.lens.surfaces[last.index - 1]].map((one) => one?.after?.name);
  const whole = names[0] !== undefined && names[1] !== undefined && last.surface.after?.name === undefined;
  if (whole) return names[0] === names[1] ? names[0]! : `${names[0]}–${names[1]}`;
  return `${titleAt(project, lens, from)} to ${titleAt(project, lens, to)}`;
}

/** What a part, source or detector of a scene is called; its id without a name. */
function thingName(project: Project, sceneId: string, kind: string, id: string): string {
  const scene = project.scenes?.find((one) => one.id === sceneId);
  const things = kind === 'parts' ? scene?.parts : kind === 'sources' ? scene?.sources : scene?.detectors;
  return things?.find((one) => one.id === id)?.name ?? id.replaceAll('_', ' ');
}

/** A surface with its lens and its place there; null where there is none. */
export function surfaceAt(project: Project, lensId: string, surfaceId: string) {
  const lens = project.lenses.find(({ id }) => id === lensId);
  const index = lens?.surfaces.findIndex(({ id }) => id === surfaceId) ?? -1;
  return lens && index >= 0 ? { lens, index, surface: lens.surfaces[index] } : null;
}

/** What a surface is called; its id where there is none. */
export function titleAt(project: Project, lensId: string, surfaceId: string): string {
  const found = surfaceAt(project, lensId, surfaceId);
  return found ? surfaceTitle(found.lens, found.index) : surfaceId;
}
