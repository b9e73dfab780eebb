import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldSet, Project, SystemAperture } from '../../project/model.ts';
import { convertAperture, convertFields } from '../../sequence/convert.ts';
import { imageSine } from '../../sequence/resolve.ts';
import { chiefAtImage } from './image-point.ts';
import { Evaluation } from '../evaluation/evaluation.ts';

/** The same beam on the axis, given by another kind of system aperture, real ones included. Fails where the kind does not apply. */
export function apertureAs(project: Project, lensId: string, kind: SystemAperture['kind']): Outcome<SystemAperture> {
  const lens = new Evaluation(project).lens(lensId);
  if (!lens.ok) return lens;
  const { model } = lens.value;
  if (kind === 'real_working_f_number') {
    const sine = imageSine(model);
    if (!sine.ok) return sine;
    if (!(sine.value > 0)) return failure('The marginal rays leave parallel to the axis: no working F-number.');
    return success({ kind, value: 1 / (2 * sine.value) });
  }
  const primary = lens.value.primary();
  return primary.ok ? convertAperture(model.lens, primary.value, kind) : primary;
}

/** The same fields, given by another kind, real image heights included. Fails where the kind does not apply. */
export function fieldsAs(project: Project, lensId: string, kind: FieldSet['kind']): Outcome<FieldSet> {
  const lens = new Evaluation(project).lens(lensId);
  if (!lens.ok) return lens;
  const { model } = lens.value;
  if (kind !== 'real_image_height') {
    const primary = lens.value.primary();
    return primary.ok ? convertFields(model.lens, primary.value, kind) : primary;
  }
  const points = [];
  for (const point of model.lens.fields.points) {
    const chief = chiefAtImage(lens.value, point);
    if (!chief.ok) return chief;
    points.push({ ...point, x: chief.value.x[0], y: chief.value.y[0] });
  }
  return success({ kind, points });
}
