import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import type { LaunchPupil } from './launch.ts';
import type { LensModel } from './lens-model.ts';
import { powerChanges, surfacePower } from './surface-power.ts';
import { indexChange, type SolverVariable } from './solver-variable.ts';

/**
 * How the pupil that rays are launched at changes with a variable; see `LaunchPupil`. For a telecentric object space `z` is the change
 * of one over the distance from the object to the pupil, which is 0 there.
 */
export type PupilChange = { readonly [key in keyof LaunchPupil]: number };

/** A ray-transfer matrix on (y, n·u), a b c d, with its change by a variable after it. */
type ChangingTransfer = Float64Array;

/** Follows the matrix through refraction at a surface and the gap after it: rows are those of y at 0 and 1, of n·u at 2 and 3. */
function through(m: ChangingTransfer, power: number, dPower: number): void {
  for (let top = 0; top < 2; top++) {
    m[top + 6] -= dPower * m[top] + power * m[top + 4];
    m[top + 2] -= power * m[top];
  }
}

function across(m: ChangingTransfer, reduced: number, dReduced: number): void {
  for (let top = 0; top < 2; top++) {
    m[top + 4] += dReduced * m[top + 2] + reduced * m[top + 6];
    m[top] += reduced * m[top + 2];
  }
}

/**
 * Exact derivatives of the paraxial pupil by a variable, at the primary wavelength: the ray-transfer matrices of `firstOrder`
 * differentiated as they are multiplied. Tilts and shifts change none of it.
 *
 * Fails for a system aperture by real rays, whose pupil follows from them, and for gradients of the index.
 */
export function pupilChange(model: LensModel, pupil: LaunchPupil, variable: SolverVariable): Outcome<PupilChange> {
  const { aperture, fields } = model.asked ?? model.lens;
  if (fields.kind === 'real_image_height')
    return failure('Rays are not differentiated yet where fields are image heights of real rays.');
  if (aperture.kind === 'real_working_f_number')
    return failure('Rays are not differentiated yet where the aperture is a working F-number of real rays.');
  if (model.surfaces.some(({ gradient }) => gradient))
    return failure('Rays are not differentiated yet through media of changing index.');
  const { toStop, whole: m } = changingTransfers(model, variable);
  const n0 = model.indices[model.primary][0];
  const [a, b, , , da, db] = toStop;
  const [c, d, dc, dd] = [m[2], m[3], m[6], m[7]];
  const distance = extentToNumber(model.lens.object.distance);
  const finite = Number.isFinite(distance);
  const telecentric = !Number.isFinite(pupil.z);
  const z = telecentric ? da / (b * n0) : (db * n0 - ((b * n0) / a) * da) / a;
  // Stop height per slope of the axial ray of a near object, and its change.
  const perSlope = a * distance + b * n0;
  const dPerSlope = da * distance + db * n0;
  // n′u′ behind the lens of the axial ray: of height 1 for a far object, of slope 1 for a near one.
  const slope = finite ? c * distance + d * n0 : c;
  const dSlope = finite ? dc * distance + dd * n0 : dc;
  const { semi, imageScale } = pupil;
  let dSemi = 0;
  switch (aperture.kind) {
    case 'stop_semi_aperture':
      dSemi = telecentric ? (-semi * dPerSlope) / perSlope : (-semi * da) / a;
      break;
    case 'image_f_number':
      dSemi = (-semi * dc) / c;
      break;
    case 'working_f_number':
      dSemi = (-semi * dSlope) / slope;
      if (finite && !telecentric) dSemi += (semi * z) / (distance + pupil.z);
      break;
    case 'object_na':
      if (!telecentric) dSemi = (semi * z) / (distance + pupil.z);
  }
  const stopSemi = telecentric
    ? Math.sign(perSlope) * (dPerSlope * semi + perSlope * dSemi)
    : Math.sign(a) * (da * semi + a * dSemi);
  return success({
    z,
    semi: dSemi,
    stopSemi: aperture.kind === 'stop_semi_aperture' ? 0 : stopSemi,
    imageScale: (-imageScale * dSlope) / slope,
  });
}

/** The transfer to the stop and through the whole lens, each with its change. */
function changingTransfers(
  model: LensModel,
  variable: SolverVariable,
): { readonly toStop: ChangingTransfer; readonly whole: ChangingTransfer } {
  const last = model.surfaces.length - 2;
  const indices = model.indices[model.primary];
  const dIndices = indexChange(model, variable);
  const dPowers = powerChanges(model, variable, model.primary);
  const mm = model.wavelengths[model.primary].nm * 1e-6;
  const m: ChangingTransfer = Float64Array.of(1, 0, 0, 1, 0, 0, 0, 0);
  let toStop: ChangingTransfer = m.slice();
  let sign = 1;
  for (let j = 0; j <= last; j++) {
    const { gap, reflects } = model.surfaces[j];
    const n = sign * indices[j];
    if (reflects) sign = -sign;
    const [next, dNext] = [sign * indices[j + 1], sign * dIndices[j + 1]];
    if (j === model.stop) toStop = m.slice();
    through(m, surfacePower(model.surfaces[j], n, next, mm), dPowers[j]);
    if (j === last) break;
    const dGap = variable.kind === 'thickness' && variable.surface === j ? 1 : 0;
    across(m, gap / next, dGap / next - (gap * dNext) / (next * next));
  }
  return { toStop, whole: m };
}
