import { failure, success, type Failure, type Outcome } from '../math/outcome.ts';
import { compose, inverse, rigidOf, shifted, type Rigid } from '../math/rigid.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { isSolid, surfaceTitle } from '../project/lens-edits.ts';
import { elementSurfaces } from '../project/lens-rows.ts';
import type { Lens, Project, Surface } from '../project/model.ts';
import { findParameter, setParameter } from '../project/parameters.ts';
import type { Motion, ToleranceTarget } from '../project/tolerances.ts';
import { STANDARD } from '../materials/air.ts';
import { indexIn, LINES } from '../materials/material.ts';
import { evaluateLens, type LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { placeSurfaces } from '../sequence/placement.ts';
import { FIGURES, surfaceAt, titleAt } from './titles.ts';

/** By how much something departs from the design, in the unit of its tolerance. */
export interface Departure {
  readonly of: ToleranceTarget;
  readonly by: number;
}

/**
 * A project as it is made: every departure added to the design, numbers first, then glasses, then figures, then motions of whole elements,
 * in the order in which they are given. Links and conditions are not followed: what is made does not know of them.
 *
 * Fails where something is not there, a number cannot have the value, or an element cannot move alone because the axis follows one of its
 * surfaces.
 */
export function perturbed(project: Project, departures: readonly Departure[]): Outcome<Project> {
  const numbers = numbersAsMade(project, departures);
  if (!numbers.ok) return numbers;
  const edits: Edit[] = [];
  const frames = new Set<string>();
  for (const [address, value] of numbers.value) {
    const found = findParameter(project, address);
    if (!found.ok) return failure(`${address}: ${found.reason}`, address);
    // A frame that is not there yet comes with the first of its numbers.
    const { absent, ...present } = found.value;
    const edit = setParameter(absent !== undefined && frames.has(absent) ? present : found.value, value);
    if (!edit.ok) return failure(`${address}: ${edit.reason}`, address);
    if (absent !== undefined) frames.add(absent);
    edits.push(edit.value);
  }
  const melts = meltEdits(project, departures);
  if (!melts.ok) return melts;
  edits.push(...melts.value);
  let made = edits.length > 0 ? applyEdits(project, edits).project : project;
  const figures = figureEdits(made, departures);
  if (!figures.ok) return figures;
  if (figures.value.length > 0) made = applyEdits(made, figures.value).project;
  for (const one of elementMotions(departures)) {
    const moved = moveElementBy(made, one);
    if (!moved.ok) return moved;
    made = applyEdits(made, moved.value).project;
  }
  return success(made);
}

interface ElementMotion {
  readonly lens: string;
  readonly surface: string;
  /** The last surface that moves; that of the element when undefined. */
  readonly to: string | undefined;
  readonly motion: Rigid;
}

/** Motions of elements, those of one element after another made into one. */
function elementMotions(departures: readonly Departure[]): ElementMotion[] {
  const motions: ElementMotion[] = [];
  for (const { of: target, by } of departures) {
    if (target.kind !== 'element' || by === 0) continue;
    const { lens, surface, to, pivot = 0 } = target;
    const motion = about(motionOf(target.motion, by), pivot);
    const before = motions.at(-1);
    if (before?.lens === lens && before.surface === surface && before.to === to)
      motions[motions.length - 1] = { ...before, motion: compose(motion, before.motion) };
    else motions.push({ lens, surface, to, motion });
  }
  return motions;
}

/** What every parameter with a departure becomes, by address. */
function numbersAsMade(project: Project, departures: readonly Departure[]): Outcome<Map<string, number>> {
  const numbers = new Map<string, number>();
  for (const { of: target, by } of departures) {
    if (!('address' in target) && target.kind !== 'wedge') continue;
    const address = target.kind === 'wedge' ? tiltAddress(target) : target.address;
    const found = findParameter(project, address);
    if (!found.ok) return found;
    const { value } = found.value;
    const next = numberAsMade(project, target, by, value, numbers.get(address) ?? value);
    if (!next.ok) return next;
    numbers.set(address, next.value);
  }
  return success(numbers);
}

/** A number of which `made` has come of the design so far, with one more departure. */
function numberAsMade(
  project: Project,
  target: Extract<ToleranceTarget, { address: string } | { kind: 'wedge' }>,
  by: number,
  design: number,
  made: number,
): Outcome<number> {
  if (target.kind === 'wedge') {
    const semi = semiOf(project, target.lens, target.surface);
    if (!semi.ok) return semi;
    const tilt = (Math.atan(by / (2 * semi.value)) * 180) / Math.PI;
    return success(made + (target.across === 'y' ? tilt : -tilt));
  }
  if (target.kind === 'fringes') {
    const [, lens, , surface, , key] = [...target.address.split('.'), ''];
    if (!target.address.endsWith('.radius') || key !== '')
      return failure(`${target.address} is no radius: only a radius is tested in fringes.`, target.address);
    const semi = semiOf(project, lens, surface);
    return semi.ok ? radiusWithFringes(made, by, semi.value, target.address) : semi;
  }
  if (!Number.isFinite(design)) return failure(`${target.address} is infinite: it has no departure.`, target.address);
  return success(made + (target.kind === 'share' ? (design * by) / 100 : by));
}

/** Wavelength at which surfaces are tested against plates, mm: the green line of mercury (ISO 10110-5). */
const TEST_WAVELENGTH = 546.074e-6;

/** The radius whose sag at the semi-aperture is larger by so many fringes, half a wavelength each. */
function radiusWithFringes(radius: number, fringes: number, semi: number, address: string): Outcome<number> {
  const curvature = 1 / radius;
  const cosine = 1 - (curvature * semi) ** 2;
  if (cosine < 0) return failure(`${address}: the sphere does not reach the semi-aperture.`, address);
  const sag = (curvature * semi ** 2) / (1 + Math.sqrt(cosine)) + (fringes * TEST_WAVELENGTH) / 2;
  return success(sag === 0 ? Infinity : (sag ** 2 + semi ** 2) / (2 * sag));
}

const tiltAddress = ({ lens, surface, across }: Extract<ToleranceTarget, { kind: 'wedge' }>) =>
  `lenses.${lens}.surfaces.${surface}.${across === 'y' ? 'tx' : 'ty'}`;

/** Semi-apertures by lens and by the materials that it is made of: every trial of a design asks for the same. */
const SEMIS = new WeakMap<Lens, WeakMap<Project['materials'], Outcome<ReadonlyMap<string, number>>>>();

/** Semi-apertures in the design by the ids of surfaces, mm. */
function semisOf(project: Project, lens: Lens): Outcome<ReadonlyMap<string, number>> {
  const byMaterials = SEMIS.get(lens) ?? new WeakMap<Project['materials'], Outcome<ReadonlyMap<string, number>>>();
  SEMIS.set(lens, byMaterials);
  const known = byMaterials.get(project.materials);
  if (known) return known;
  const found = evaluateLens(project, lens.id);
  const semis = found.ok ? success(semisById(found.value)) : found;
  byMaterials.set(project.materials, semis);
  return semis;
}

function semisById(lens: LensEvaluation): ReadonlyMap<string, number> {
  const extents = lens.extents();
  return new Map(lens.model.surfaces.map(({ id }, j) => [id, extents[j].semi]));
}

/** Semi-aperture of a surface in the design, mm. Fails if its lens cannot be traced. */
function semiOf(project: Project, lensId: string, surfaceId: string): Outcome<number> {
  const found = surfaceAt(project, lensId, surfaceId);
  if (!found) return failure(`There is no surface “${surfaceId}”.`, surfaceId);
  const semis = semisOf(project, found.lens);
  if (!semis.ok) return semis;
  const semi = semis.value.get(surfaceId) ?? 0;
  return semi > 0 ? success(semi) : failure(`${titleAt(project, lensId, surfaceId)} has no aperture.`, surfaceId);
}

/** Edits of the glasses with departures. */
function meltEdits(project: Project, departures: readonly Departure[]): Outcome<Edit[]> {
  const melts = new Map<string, { index: number; dispersion: number }>();
  for (const { of: target, by } of departures) {
    if (target.kind !== 'melt') continue;
    const material = project.materials.find(({ id }) => id === target.material);
    if (!material) return failure(`The project has no glass “${target.material}”.`, target.material);
    const { index = 0, dispersion = 0 } = melts.get(material.id) ?? material.melt ?? {};
    melts.set(
      material.id,
      target.quantity === 'index'
        ? { index: index + by, dispersion }
        : { index, dispersion: (1 + dispersion) / (1 + by / 100) - 1 },
    );
  }
  return success([...melts].map(([id, value]): Edit => ({ kind: 'set', path: `materials.${id}.melt`, value })));
}

/** A motion about a point on the axis. */
function about(motion: Rigid, pivot: number): Rigid {
  return pivot === 0 ? motion : compose(compose(shifted(0, 0, pivot), motion), shifted(0, 0, -pivot));
}

/** A motion about the vertex of the first surface. */
function motionOf(motion: Motion, by: number): Rigid {
  const keys = { shift_x: 'dx', shift_y: 'dy', shift_z: 'dz', tilt_x: 'tx', tilt_y: 'ty' } as const;
  return rigidOf({ [keys[motion]]: by });
}

/** Edits of the frames of an element's surfaces that move it as a rigid body, in the coordinates of the axis that comes to its first one. */
function moveElementBy(project: Project, { lens: lensId, surface, to, motion }: ElementMotion): Outcome<Edit[]> {
  const lens = project.lenses.find(({ id }) => id === lensId);
  const found = lens?.surfaces.find(({ id }) => id === surface);
  if (!lens || !found) return failure(`There is no surface “${surface}”.`, surface);
  const ids = to === undefined ? elementSurfaces(project, lens, surface) : surfacesFrom(lens, surface, to);
  if (to === undefined && ids.length < 2)
    return failure(`${titleOf(lens, found)} bounds no element: choose the front of one.`, surface);
  if (ids.length === 0) return failure(`“${to}” is no surface after ${titleOf(lens, found)}.`, surface);
  const { placed } = placeSurfaces(lens.surfaces);
  const axisOf = (id: string) => placed[lens.surfaces.findIndex((one) => one.id === id)].axis;
  const first = axisOf(ids[0]);
  const edits: Edit[] = [];
  for (const id of ids) {
    const one = lens.surfaces.find((other) => other.id === id)!;
    if (one.frame?.axis !== undefined && one.frame.axis !== 'return')
      return failure(`The axis follows ${titleOf(lens, one)}: its element cannot move alone.`, id);
    // The axis that comes to this surface, seen from the one that comes to the first.
    const here = compose(inverse(first), axisOf(id));
    const frame = compose(compose(inverse(here), compose(motion, here)), rigidOf(one.frame ?? {}));
    edits.push({ kind: 'set', path: `lenses.${lensId}.surfaces.${id}.frame`, value: frameOf(frame, one) });
  }
  return success(edits);
}

/** Ids from one surface up to another one; none where that lies before it, or is the image. */
function surfacesFrom({ surfaces }: Lens, from: string, to: string): string[] {
  const ids = surfaces.slice(0, -1).map(({ id }) => id);
  const last = ids.indexOf(to);
  return last < 0 ? [] : ids.slice(ids.indexOf(from), last + 1);
}

/** Edits of the shapes of surfaces with errors of figure: what they were with Zernike polynomials over their apertures. */
function figureEdits(project: Project, departures: readonly Departure[]): Outcome<Edit[]> {
  const shapes = new Map<string, ZernikeShape>();
  for (const { of: target, by } of departures) {
    if (target.kind !== 'figure' && target.kind !== 'homogeneity') continue;
    const face = target.kind === 'figure' ? success(polished(target.surface)) : inhomogeneous(project, target);
    if (!face.ok) return face;
    const path = `lenses.${target.lens}.surfaces.${face.value.surface}.shape`;
    const before = shapes.get(path) ?? withPolynomials(project, target.lens, face.value.surface);
    if ('ok' in before) return before;
    const { term, range } = FIGURES[target.error];
    const key = `z${term}` as const;
    shapes.set(path, { ...before, [key]: (before[key] ?? 0) + (by * face.value.sag) / range });
  }
  return success([...shapes].map(([path, value]): Edit => ({ kind: 'set', path, value })));
}

/** The face whose figure departs, and by how much its sag does from top to bottom, mm per unit of the tolerance. */
interface DepartingFace {
  readonly surface: string;
  readonly sag: number;
}

const polished = (surface: string): DepartingFace => ({ surface, sag: TEST_WAVELENGTH / 2 });

/**
 * A piece of glass of the thickness t whose index varies by Δn changes optical paths by Δn·t, as a sag of Δn·t/(n − n′) does at its back, or of
 * −Δn·t/(n − n′) at its front: where the index steps more.
 *
 * Fails where there is no glass.
 */
function inhomogeneous(
  project: Project,
  { lens, surface }: Extract<ToleranceTarget, { kind: 'homogeneity' }>,
): Outcome<DepartingFace> {
  const found = surfaceAt(project, lens, surface);
  if (!found) return failure(`There is no surface “${surface}”.`, surface);
  const { surfaces } = found.lens;
  const indexAfter = (at: number) => {
    const material = project.materials.find(({ id }) => id === surfaces[at]?.after?.material);
    return material
      ? indexIn(material, LINES.d, project.surroundings ? { ...STANDARD, ...project.surroundings } : STANDARD)
      : 1;
  };
  const after = found.surface.after;
  const [before, own, next] = [-1, 0, 1].map((step) => indexAfter(found.index + step));
  if (!after || !isSolid(project, after))
    return failure(`${titleAt(project, lens, surface)} has no glass after it.`, surface);
  const [front, back] = [own - before, own - next];
  if (Math.abs(front) >= Math.abs(back)) return success({ surface, sag: (-1e-6 * after.thickness) / front });
  return success({ surface: surfaces[found.index + 1].id, sag: (1e-6 * after.thickness) / back });
}

type ZernikeShape = Extract<Surface['shape'], { kind: 'zernike_fringe' }>;

/** The shape of a surface as one that carries Zernike polynomials. Fails for one that is neither flat, a sphere nor a conic. */
function withPolynomials(project: Project, lens: string, surface: string): ZernikeShape | Failure {
  const found = surfaceAt(project, lens, surface);
  if (!found) return failure(`There is no surface “${surface}”.`, surface);
  const { shape } = found.surface;
  if (shape.kind === 'zernike_fringe') return shape;
  if (shape.kind !== 'plane' && shape.kind !== 'sphere' && shape.kind !== 'conic')
    return failure(
      `${titleAt(project, lens, surface)} is neither flat, a sphere nor a conic: its figure cannot depart.`,
      surface,
    );
  const semi = semiOf(project, lens, surface);
  if (!semi.ok) return semi;
  return {
    kind: 'zernike_fringe',
    radius: shape.kind === 'plane' ? 'infinity' : shape.radius,
    norm_radius: semi.value,
    ...(shape.kind === 'conic' && { conic: shape.conic }),
  };
}

const titleOf = (lens: Lens, surface: Surface) => surfaceTitle(lens, lens.surfaces.indexOf(surface));

/** Shifts and tilts of a motion: angles of R = Rx·Ry·Rz. */
function frameOf({ shift: [dx, dy, dz], rotation: r }: Rigid, { frame }: Surface): Surface['frame'] {
  const degrees = 180 / Math.PI;
  return {
    ...frame,
    dx,
    dy,
    dz,
    tx: Math.atan2(-r[5], r[8]) * degrees,
    ty: Math.asin(Math.max(-1, Math.min(1, r[2]))) * degrees,
    tz: Math.atan2(-r[1], r[0]) * degrees,
  };
}
