import type { Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { failure, success } from '../../math/outcome.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import type { FanCurve, FieldFans, RayFanChoice, RayFans } from '../field/ray-fan.ts';
import { wavefrontAt } from './wavefront.ts';

/** Wavefront fans of every field in every weighted colour, in waves of that colour, each about its own chief ray. */
export function opdFans(given: LensEvaluation, choice: RayFanChoice): Outcome<RayFans> {
  const lens = given.inFocus();
  const { points } = lens.model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  const fields = points.map((field) => ({ field: field.id, fans: fieldFans(lens, field, choice) }));
  let largest = 0;
  for (const { fans } of fields) {
    if (!fans.ok) continue;
    for (const { error } of [...fans.value.tangential, ...fans.value.sagittal])
      for (const value of error) if (Math.abs(value) > largest) largest = Math.abs(value);
  }
  return success({ fields, largest, unit: 'λ', aim: lens.model.lens.pupil.aim });
}

function fieldFans(lens: LensEvaluation, field: FieldPoint, { rays, pupil }: RayFanChoice): Outcome<FieldFans> {
  const {
    wavelengths,
    lens: {
      pupil: { obscuration },
    },
  } = lens.model;
  const across = Float64Array.from({ length: rays }, (_, i) => -1 + (2 * i) / (rays - 1));
  const none = new Float64Array(rays);
  const curves: [FanCurve[], FanCurve[]] = [[], []];
  for (const [wave, { nm, weight }] of wavelengths.entries()) {
    if (weight === 0) continue;
    for (const axis of [0, 1] as const) {
      const [px, py] = axis === 0 ? [across, none] : [none, across];
      const front = wavefrontAt(lens, field, wave, px, py, { pupil });
      if (!front.ok) return front;
      const error = front.value.w.map((w, i) => (Math.abs(across[i]) < obscuration ? NaN : w));
      curves[axis].push({ nm, pupil: across, error });
    }
  }
  return success({ field: field.id, sagittal: curves[0], tangential: curves[1] });
}
