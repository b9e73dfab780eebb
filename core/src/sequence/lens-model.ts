import type { CompiledArea } from '../apertures/area.ts';
import { clearArea, compileArea } from '../apertures/registry.ts';
import { compileGradient } from '../materials/gradient.ts';
import type { GradientMedium } from './gradient-step.ts';
import { compose, inverse, keepsX0, type Rigid } from '../math/rigid.ts';
import { STANDARD, type Surroundings } from '../materials/air.ts';
import { indexIn, inRange, type Material } from '../materials/material.ts';
import { withoutExcluded } from '../project/excluded.ts';
import type { Lens, Project, Surface, Wavelength } from '../project/model.ts';
import { placeSurfaces } from './placement.ts';
import type { CompiledPhase } from '../phases/phase.ts';
import { compilePhase } from '../phases/registry.ts';
import { compileShape } from '../shapes/registry.ts';
import type { CompiledShape } from '../shapes/shape.ts';

/** Something about the model that the user should know, attached to the object it belongs to. */
export interface Finding {
  /** `error`: results are missing because of it. `warning`: results stand, but look here. */
  readonly severity: 'error' | 'warning';
  /** Id of a surface, wavelength or field; absent when it concerns the lens as a whole. */
  readonly where?: string;
  readonly text: string;
}

/** A surface made ready for tracing. */
export interface TraceSurface {
  readonly id: string;
  readonly shape: CompiledShape;
  readonly reflects: boolean;
  /** What diffracts on it; null where nothing does. */
  readonly phase: CompiledPhase | null;
  /** How the index changes in the medium after it; null where it does not. */
  readonly gradient: GradientMedium | null;
  /** Distance along the axis to the next vertex, mm; 0 behind the image surface. */
  readonly gap: number;
  /** From its own coordinates to those of the first vertex. */
  readonly pose: Rigid;
  /** The axis that comes to it: the pose it would have without its own frame. */
  readonly axis: Rigid;
  /** From the coordinates of the surface before to its own; null where that is the step of the gap before. */
  readonly entry: Rigid | null;
  /** Radius of a set circular aperture about the axis, mm: kernels clip by it. Infinity where there is none. */
  readonly clear: number;
  /** What lets light through where that is more than a circle about the axis. */
  readonly mask: CompiledArea | null;
  /** Largest distance from the axis that a set aperture lets through, mm; null where none is set. */
  readonly open: number | null;
}

/** A lens of a project made ready for tracing. Made by `compileLens`; never fails, but says in `findings` what is missing. */
export interface LensModel {
  readonly lens: Lens;
  /** The lens as the document has it, where `lens` holds an aperture or fields that were found for it by real rays. */
  readonly asked?: Lens;
  /** In the order light meets them; the last is the image surface. */
  readonly surfaces: readonly TraceSurface[];
  /** `media[j]` lies before surface j, `media[j + 1]` behind it; undefined where the project has no such material. */
  readonly media: readonly (Material | undefined)[];
  readonly wavelengths: readonly Wavelength[];
  /** Index into `wavelengths`; −1 when there is none. */
  readonly primary: number;
  /** Index into `surfaces`; −1 when there is no stop. */
  readonly stop: number;
  /** `indices[w][j]` is the refractive index before surface j at wavelength w; NaN where it is not defined. */
  readonly indices: readonly Float64Array[];
  readonly findings: readonly Finding[];
  /** Where it stands: temperature and pressure. */
  readonly surroundings: Surroundings;
  /** Whether the lens is its own mirror image in the plane x = 0. */
  readonly mirrorX: boolean;
}

/** Compiles a lens with the materials of its project; elements that are left out are not in it. */
export function compileLens(project: Project, whole: Lens): LensModel {
  const lens = withoutExcluded(project, whole);
  const findings: Finding[] = [];
  const surfaces = compileSurfaces(lens.surfaces, findings);
  const media = compileMedia(project, lens.surfaces, findings);
  const at = { ...STANDARD, ...project.surroundings };
  const indices = lens.wavelengths.map((wavelength) => indicesAt(media, wavelength, lens, at, findings));
  const primary = lens.wavelengths.findIndex((wavelength) => wavelength.id === lens.primary);
  const stop = lens.surfaces.findIndex((surface) => surface.id === lens.stop);
  if (lens.wavelengths.length === 0) findings.push({ severity: 'error', text: 'No wavelength is given.' });
  else if (primary < 0) findings.push({ severity: 'error', text: 'No primary wavelength is chosen.' });
  if (stop < 0) findings.push({ severity: 'error', text: 'No surface is the stop.' });
  else if (stop === surfaces.length - 1) {
    findings.push({ severity: 'error', where: lens.stop!, text: 'The image surface cannot be the stop.' });
  }
  if (lens.fields.points.length === 0) findings.push({ severity: 'error', text: 'No field point is given.' });
  if (lens.fields.kind === 'object_height' && lens.object.distance === 'infinity') {
    findings.push({
      severity: 'error',
      text: 'Fields by object height need an object at a finite distance.',
    });
  }
  if (weightless(lens.wavelengths)) findings.push({ severity: 'error', text: 'Every wavelength has weight 0.' });
  if (weightless(lens.fields.points)) findings.push({ severity: 'error', text: 'Every field point has weight 0.' });
  return {
    lens,
    surfaces,
    media,
    wavelengths: lens.wavelengths,
    primary,
    stop,
    indices,
    findings,
    surroundings: at,
    mirrorX: surfaces.every(
      ({ entry, mask, shape, phase }) =>
        (!entry || keepsX0(entry)) && (mask?.mirrorX ?? true) && (shape.mirrorX ?? true) && (phase?.mirrorX ?? true),
    ),
  };
}

/**
 * The same lens in other wavelengths, each of weight 1, behind its primary one, which keeps its place as the first: pupils and aims stay those
 * of the primary wavelength. An index is NaN where a medium has none.
 */
export function atWavelengths(model: LensModel, nms: readonly number[]): LensModel {
  const primary = model.wavelengths[model.primary];
  const wavelengths = [primary, ...nms.map((nm, k) => ({ id: `nm_${k}`, nm, weight: 1 }))];
  const findings: Finding[] = [];
  const indices = wavelengths.map((one) => indicesAt(model.media, one, model.lens, model.surroundings, findings));
  return { ...model, wavelengths, primary: 0, indices };
}

function weightless(list: readonly { readonly weight: number }[]): boolean {
  return list.length > 0 && list.every((entry) => entry.weight === 0);
}

function compileSurfaces(surfaces: readonly Surface[], findings: Finding[]): TraceSurface[] {
  const { placed, wrong } = placeSurfaces(surfaces);
  const gradients = compileGradients(surfaces, placed);
  for (const { id, text } of wrong) findings.push({ severity: 'warning', where: id, text });
  return surfaces.map((surface, j) => {
    const shape = compileShape(surface.shape);
    const aperture = surface.aperture.kind === 'automatic' ? null : compileArea(surface.aperture);
    const area = clearArea(aperture, (surface.obscurations ?? []).map(compileArea));
    const open = aperture && aperture.reach;
    if (Number.isNaN(shape.curvature)) {
      findings.push({ severity: 'error', where: surface.id, text: 'A radius of 0 is not a surface.' });
    } else if (open !== null && open > shape.reach) {
      findings.push({
        severity: 'warning',
        where: surface.id,
        text: `The aperture is larger than the surface, which ends ${shape.reach.toPrecision(5)} mm from its axis.`,
      });
    }
    const { axis, pose, entry, plain } = placed[j];
    return {
      id: surface.id,
      shape,
      reflects: surface.reflects ?? false,
      gradient: gradients[j],
      phase: surface.phase ? compilePhase(surface.phase) : null,
      gap: surface.after?.thickness ?? 0,
      pose,
      axis,
      entry: plain ? null : entry,
      clear: area.circle ?? Infinity,
      mask: area.circle === undefined ? area : null,
      open,
    };
  });
}

/** Gradients of the media behind surfaces; a mirror leaves light in the one it came through. */
function compileGradients(
  surfaces: readonly Surface[],
  placed: readonly { readonly pose: Rigid }[],
): (GradientMedium | null)[] {
  const gradients: (GradientMedium | null)[] = [];
  surfaces.forEach(({ reflects, after }, j) => {
    const before = gradients[j - 1] ?? null;
    if (!reflects) {
      const field = compileGradient(after?.gradient);
      gradients.push(field && { field, toField: null });
    } else {
      const onward = before && compose(inverse(placed[j - 1].pose), placed[j].pose);
      gradients.push(
        before && {
          field: before.field,
          toField: before.toField ? compose(before.toField, onward!) : onward,
        },
      );
    }
  });
  return gradients;
}

/** The object space is air; behind a mirror light goes on in the medium it came from. */
function compileMedia(project: Project, surfaces: readonly Surface[], findings: Finding[]): (Material | undefined)[] {
  const byId = new Map(project.materials.map((material) => [material.id, material]));
  const media: (Material | undefined)[] = [byId.get('air')];
  if (!media[0]) findings.push({ severity: 'error', text: 'The project has no record of air.' });
  for (const surface of surfaces) {
    const before = media[media.length - 1];
    if (surface.reflects || surface.after === null) media.push(before);
    else {
      const material = byId.get(surface.after.material);
      if (!material) {
        findings.push({
          severity: 'error',
          where: surface.id,
          text: `The project has no material “${surface.after.material}”.`,
        });
      }
      media.push(material);
    }
  }
  return media;
}

function indicesAt(
  media: readonly (Material | undefined)[],
  wavelength: Wavelength,
  lens: Lens,
  at: Surroundings,
  findings: Finding[],
): Float64Array {
  return Float64Array.from(media, (material, j) => {
    if (!material) return NaN;
    const where = lens.surfaces[Math.max(0, j - 1)]?.id ?? lens.id;
    const index = indexIn(material, wavelength.nm, at);
    if (Number.isNaN(index)) {
      findings.push({
        severity: 'error',
        where,
        text: `${material.label} has no refractive index at ${wavelength.nm} nm.`,
      });
    } else if (!inRange(material, wavelength.nm)) {
      const [from, to] = material.range;
      findings.push({
        severity: 'error',
        where,
        text: `${material.label} is defined from ${from} to ${to} nm, not at ${wavelength.nm} nm.`,
      });
      return NaN;
    }
    return index;
  });
}
