import { RAY_STATUS, type RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { inverse, turnDirection, type Triple } from '../../math/rigid.ts';
import type { Project, Surface } from '../../project/model.ts';
import { applyEdit, type Edit } from '../../project/edit.ts';
import type { LensModel } from '../../sequence/lens-model.ts';
import { Evaluation } from '../evaluation/evaluation.ts';
import type { LensEvaluation, RayChoice } from '../evaluation/lens-evaluation.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import { tooFewRays } from '../evaluation/lost-rays.ts';
import { forEachArrival, rmsOverFields, weightedSpots, type FieldSpot, type SpotReference } from './spot.ts';

/** Why a lens without power is not refocused: there is nothing wrong with it, it is not there yet. */
export const NO_FOCUS = 'All rays run parallel: no focus is better than another.';

/** What a refocus did to the last distance. */
export interface Refocus {
  /** Change of the last thickness, mm along z. */
  readonly shift: number;
  /** RMS spot over the weighted fields before and after, mm. */
  readonly before: number;
  readonly after: number;
  readonly edit: Edit;
}

/** Rays of the spot sampling that a refocus uses: fine enough for the ninth order, still a few milliseconds. */
export const REFOCUS_CHOICE: RayChoice = {
  sampling: { kind: 'polar', rings: 12, arms: 24 },
  pupil: 'clipped',
};

/** The axis that comes to the image, in the coordinates of the image surface: along it the image moves with the last distance. */
export function focusDirection({ surfaces }: LensModel): Triple {
  const { pose, axis } = surfaces[surfaces.length - 1];
  return turnDirection(inverse(pose), turnDirection(axis, [0, 0, 1]));
}

/**
 * Movement of a ray's point on the image surface, in its own coordinates, per mm by which that surface moves, as [x, y].
 *
 * @param direction - of the movement, see `focusDirection`
 */
export function drift(rays: RayBlock, i: number, [a, b, c]: Triple): [number, number] {
  const { l, m, n, nx, ny, nz } = rays;
  const along = (a * nx[i] + b * ny[i] + c * nz[i]) / (l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i]);
  return [l[i] * along - a, m[i] * along - b];
}

/**
 * The image shift along z, mm, that minimises Σ_f w_f Σ_λ w_λ ⟨|r − r_f|²⟩; exact for a flat image, where rays are
 * straight lines through it, and one Gauss–Newton step for a curved one. The reference point moves along.
 */
export function bestFocusShift(
  lens: LensEvaluation,
  spots: readonly FieldSpot[],
  reference: SpotReference,
  aim?: RayChoice['aim'],
): Outcome<number> {
  const direction = focusDirection(lens.model);
  let slope = 0;
  let curvature = 0;
  for (const spot of spots) {
    const centre = movingReference(lens, spot, reference, aim);
    if (!centre.ok) return centre;
    const { x, y, driftX, driftY } = centre.value;
    let total = 0;
    let fieldSlope = 0;
    let fieldCurvature = 0;
    forEachArrival(spot.colours, (rays, i, weight) => {
      const [moveX, moveY] = drift(rays, i, direction);
      const [sx, sy] = [moveX - driftX, moveY - driftY];
      total += weight;
      fieldSlope += weight * ((rays.x[i] - x) * sx + (rays.y[i] - y) * sy);
      fieldCurvature += weight * (sx * sx + sy * sy);
    });
    slope += (spot.field.weight * fieldSlope) / total;
    curvature += (spot.field.weight * fieldCurvature) / total;
  }
  if (!(curvature > 0)) return failure(NO_FOCUS);
  return success(-slope / curvature);
}

function movingReference(lens: LensEvaluation, spot: FieldSpot, reference: SpotReference, aim: RayChoice['aim']) {
  const direction = focusDirection(lens.model);
  if (reference === 'chief') {
    const chief = lens.chief(spot.field, lens.model.primary, aim);
    if (!chief.ok) return chief;
    if (chief.value.status[0] !== RAY_STATUS.alive) {
      return failure(`The chief ray of field ${spot.field.id} does not reach the image.`);
    }
    const [driftX, driftY] = drift(chief.value, 0, direction);
    return success({ x: chief.value.x[0], y: chief.value.y[0], driftX, driftY });
  }
  let total = 0;
  let driftX = 0;
  let driftY = 0;
  forEachArrival(spot.colours, (rays, i, weight) => {
    const [moveX, moveY] = drift(rays, i, direction);
    total += weight;
    driftX += weight * moveX;
    driftY += weight * moveY;
  });
  const [x, y] = spot.centroid;
  return success({ x, y, driftX: driftX / total, driftY: driftY / total });
}

/** A lens that is refocused: the last distance with its edit, and the evaluation by which that was found. */
export interface Refocused {
  readonly shift: number;
  readonly edit: Edit;
  readonly evaluation: Evaluation;
}

/**
 * The last distance by `refocus`, without the spots before and after: for a flat image one trace finds it, since rays are straight lines.
 *
 * @param near - see `Evaluation`
 */
export function focusOf(
  project: Project,
  lensId: string,
  criterion: FocusCriterion,
  near: Evaluation | null = null,
): Outcome<Refocused> {
  const evaluation = new Evaluation(project, near);
  const lens = evaluation.lens(lensId);
  if (!lens.ok) return lens;
  const { model } = lens.value;
  const last = model.surfaces.at(-1)!;
  if (criterion === 'paraxial' || isAfocal(model.lens) || last.shape.curvature !== 0) {
    const found = refocus(project, lensId, criterion);
    return found.ok ? success({ shift: found.value.shift, edit: found.value.edit, evaluation }) : found;
  }
  const few = tooFewRays(lens.value, REFOCUS_CHOICE);
  if (few) return failure(few);
  const spots = weightedSpots(lens.value, REFOCUS_CHOICE);
  if (!spots.ok) return spots;
  const step = bestFocusShift(lens.value, spots.value, criterion);
  if (!step.ok) return step;
  const found = lastDistance(model.lens.surfaces.at(-2)!, lensId, step.value);
  return found.ok ? success({ shift: step.value, edit: found.value, evaluation }) : found;
}

/** The edit that moves the image by a step. Fails where it would go through the last surface. */
function lastDistance(surface: Surface, lensId: string, step: number): Outcome<Edit> {
  const from = surface.after!.thickness;
  const to = from + step;
  if (from !== 0 && Math.sign(from) !== Math.sign(to))
    return failure(
      `the smallest spot would lie ${Number(Math.abs(to).toPrecision(5))} mm before the last surface: the light has no focus after the lens.`,
    );
  return success({ kind: 'set', path: `lenses.${lensId}.surfaces.${surface.id}.after.thickness`, value: to });
}

/** What a refocus looks for: the smallest RMS spot about centroid or chief ray, or the paraxial image on the axis. */
export type FocusCriterion = SpotReference | 'paraxial';

/** As `refocusBySpot`, or to the paraxial image of the primary wavelength; RMS spots before and after are about the centroid then. */
export function refocus(project: Project, lensId: string, criterion: FocusCriterion): Outcome<Refocus> {
  const record = project.lenses.find(({ id }) => id === lensId);
  if (record && isAfocal(record))
    return failure('The image of an afocal lens lies at infinity: its last distance focuses nothing.');
  if (criterion !== 'paraxial') return refocusBySpot(project, lensId, criterion);
  const lens = new Evaluation(project).lens(lensId);
  if (!lens.ok) return lens;
  const primary = lens.value.primary();
  if (!primary.ok) return primary;
  const { imageDistance } = primary.value;
  if (!Number.isFinite(imageDistance)) return failure('The paraxial image lies at infinity.');
  const surface = lens.value.model.lens.surfaces.at(-2)!;
  const path = `lenses.${lensId}.surfaces.${surface.id}.after.thickness`;
  const edit: Edit = { kind: 'set', path, value: imageDistance };
  const rms = (of: Project): Outcome<number> => {
    const evaluated = new Evaluation(of).lens(lensId);
    if (!evaluated.ok) return evaluated;
    const spots = weightedSpots(evaluated.value, REFOCUS_CHOICE);
    return spots.ok ? rmsOverFields(spots.value, 'centroid') : spots;
  };
  const before = rms(project);
  if (!before.ok) return before;
  const after = rms(applyEdit(project, edit).project);
  if (!after.ok) return after;
  return success({
    shift: imageDistance - surface.after!.thickness,
    before: before.value,
    after: after.value,
    edit,
  });
}

/**
 * Finds the last distance for the smallest RMS spot over the weighted fields and wavelengths, without changing anything:
 * the edit that would do it is part of the answer.
 */
export function refocusBySpot(
  project: Project,
  lensId: string,
  reference: SpotReference,
  choice: RayChoice = REFOCUS_CHOICE,
): Outcome<Refocus> {
  let current = project;
  let shift = 0;
  let before: number | undefined;
  let after = 0;
  let edit: Edit | undefined;
  for (let round = 0; round < 6; round++) {
    const lens = new Evaluation(current).lens(lensId);
    if (!lens.ok) return lens;
    const few = round === 0 ? tooFewRays(lens.value, choice) : null;
    if (few) return failure(few);
    const spots = weightedSpots(lens.value, choice);
    if (!spots.ok) return spots;
    const rms = rmsOverFields(spots.value, reference);
    if (!rms.ok) return rms;
    before ??= rms.value;
    after = rms.value;
    const step = bestFocusShift(lens.value, spots.value, reference, choice.aim);
    if (!step.ok) return step;
    const surface = lens.value.model.lens.surfaces.at(-2)!;
    const scale = Math.max(1, Math.abs(surface.after!.thickness));
    if (edit && Math.abs(step.value) < 1e-13 * scale) break;
    shift += step.value;
    const moved = lastDistance(surface, lensId, step.value);
    if (!moved.ok) return moved;
    edit = moved.value;
    current = applyEdit(current, edit).project;
    const flat = lens.value.model.surfaces.at(-1)!.shape.curvature === 0;
    if (flat && round > 0) break;
  }
  return success({ shift, before: before!, after, edit: edit! });
}
