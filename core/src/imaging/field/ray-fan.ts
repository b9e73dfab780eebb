import { RAY_STATUS } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { LensEvaluation, RayChoice } from '../evaluation/lens-evaluation.ts';
import { chiefAtImage } from './image-point.ts';
import { imageUnit, isAfocal, toAngles } from '../evaluation/image-space.ts';

export interface RayFanChoice {
  /** Rays on each fan, an odd number, so that the chief ray is among them. */
  readonly rays: number;
  readonly pupil: RayChoice['pupil'];
}

/** Transverse aberrations of one colour along one fan. */
export interface FanCurve {
  readonly nm: number;
  /** Pupil coordinate of each ray: py on the tangential fan, px on the sagittal. */
  readonly pupil: Float64Array;
  /**
   * Distance in µm (mrad for an image at infinity) of each ray's image point from that of the primary chief ray:
   * along y on the tangential fan, along x on the sagittal. NaN where the ray does not arrive or the pupil is
   * obscured.
   */
  readonly error: Float64Array;
}

export interface FieldFans {
  readonly field: string;
  readonly tangential: readonly FanCurve[];
  readonly sagittal: readonly FanCurve[];
}

export interface RayFans {
  /** A failure where a field has no chief ray to measure from. */
  readonly fields: readonly { readonly field: string; readonly fans: Outcome<FieldFans> }[];
  /** Largest error of all, in the unit of the image. */
  readonly largest: number;
  readonly unit: 'µm' | 'mrad' | 'λ';
  readonly aim: 'paraxial' | 'stop';
}

/** Transverse ray fans of every field in every weighted colour, about the primary chief ray. */
export function rayFans(lens: LensEvaluation, choice: RayFanChoice): Outcome<RayFans> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const { points } = lens.model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  const fields = points.map((field) => ({ field: field.id, fans: fieldFans(lens, field, choice) }));
  let largest = 0;
  for (const { fans } of fields) {
    if (!fans.ok) continue;
    for (const { error } of [...fans.value.tangential, ...fans.value.sagittal]) {
      for (const value of error) if (Math.abs(value) > largest) largest = Math.abs(value);
    }
  }
  return success({ fields, largest, unit: imageUnit(lens.model.lens), aim: lens.model.lens.pupil.aim });
}

function fieldFans(lens: LensEvaluation, field: FieldPoint, choice: RayFanChoice): Outcome<FieldFans> {
  const chief = chiefAtImage(lens, field);
  if (!chief.ok) return chief;
  const centre = [chief.value.x[0], chief.value.y[0]] as const;
  const waves = [...lens.model.wavelengths.keys()].filter((wave) => lens.model.wavelengths[wave].weight > 0);
  const fan = (axis: 0 | 1) => waves.map((wave) => curve(lens, field, wave, axis, centre, choice));
  return success({ field: field.id, tangential: fan(1), sagittal: fan(0) });
}

function curve(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  axis: 0 | 1,
  centre: readonly [number, number],
  choice: RayFanChoice,
): FanCurve {
  const aimer = lens.aimer();
  if (!aimer.ok) throw new Error(aimer.reason); // looked at before any fan is traced
  const pupil = Float64Array.from({ length: choice.rays }, (_, i) => -1 + (2 * i) / (choice.rays - 1));
  const zeros = new Float64Array(choice.rays);
  const [px, py] = axis === 0 ? [pupil, zeros] : [zeros, pupil];
  const rays = traceBundle(aimer.value, { field, wave, px, py }, { clip: choice.pupil === 'clipped' });
  if (isAfocal(lens.model.lens)) toAngles(rays);
  const { obscuration } = lens.model.lens.pupil;
  const error = pupil.map((at, i) => {
    const dark = Math.abs(at) < obscuration;
    if (dark || rays.status[i] !== RAY_STATUS.alive) return NaN;
    return ((axis === 0 ? rays.x[i] : rays.y[i]) - centre[axis]) * 1000;
  });
  return { nm: lens.model.wavelengths[wave].nm, pupil, error };
}
