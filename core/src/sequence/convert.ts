import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import type { FieldSet, Lens, SystemAperture } from '../project/model.ts';
import type { FirstOrder } from './paraxial.ts';

const radians = Math.PI / 180;

/**
 * The same bundle on the axis, given by another kind of system aperture.
 *
 * Fails where the kind does not apply, such as an object NA for a far object.
 *
 * @param data - first-order data of the lens as it is, at the primary wavelength
 */
export function convertAperture(lens: Lens, data: FirstOrder, kind: SystemAperture['kind']): Outcome<SystemAperture> {
  const value = apertureValue(lens, data, kind);
  if (!value.ok) return value;
  if (!(value.value > 0) || !Number.isFinite(value.value))
    return failure('The lens has no such aperture as it stands.');
  return success({ kind, value: value.value });
}

function apertureValue(lens: Lens, data: FirstOrder, kind: SystemAperture['kind']): Outcome<number> {
  switch (kind) {
    case 'entrance_pupil_diameter':
      return success(data.entrancePupilDiameter);
    case 'stop_semi_aperture':
      return success(data.stopSemiAperture);
    case 'image_f_number':
      if (!Number.isFinite(data.focalLength))
        return failure('An F-number needs a lens with power: this one is afocal.');
      return success(Math.abs(data.focalLength) / data.entrancePupilDiameter);
    case 'working_f_number':
      return success(data.workingFNumber);
    case 'real_working_f_number':
      return failure('A real working F-number takes real rays.');
    case 'object_na': {
      const depth = extentToNumber(lens.object.distance) + data.entrancePupil;
      if (!Number.isFinite(depth)) return failure('An object NA needs an object at a finite distance.');
      return success(Math.sin(Math.atan(data.entrancePupilDiameter / 2 / Math.abs(depth))));
    }
  }
}

/**
 * The same field points, given by another kind of field: angles by f·tan θ, heights by the magnification, all paraxial. The
 * image stays where it is; so an angle of +θ becomes an object height of −y.
 *
 * Fails where the kind does not apply, such as object heights for a far object.
 *
 * @param data - first-order data of the lens as it is, at the primary wavelength
 */
export function convertFields(lens: Lens, data: FirstOrder, kind: FieldSet['kind']): Outcome<FieldSet> {
  const { fields } = lens;
  if (fields.kind === kind) return success(fields);
  if (kind === 'real_image_height' || fields.kind === 'real_image_height')
    return failure('Real image heights take real rays.');
  const distance = extentToNumber(lens.object.distance);
  const finite = Number.isFinite(distance);
  if (kind === 'object_height' && !finite) return failure('Object heights need an object at a finite distance.');
  const depth = distance + data.entrancePupil;
  const scale = data.magnification ?? data.focalLength;
  const throughImage = kind === 'image_height' || fields.kind === 'image_height';
  if (throughImage && !(Number.isFinite(scale) && scale !== 0))
    return failure('Image heights need a lens that forms an image.');
  // Everything by way of the slope of a far object's light, or of the height of a near object's point.
  const launched = (value: number): number => {
    if (fields.kind === 'image_height') return value / scale;
    if (fields.kind === 'object_height') return value;
    const slope = Math.tan(value * radians);
    return finite ? -slope * depth : slope;
  };
  const asked = (value: number): number => {
    if (kind === 'image_height') return value * scale;
    if (kind === 'object_height') return value;
    return Math.atan(finite ? -value / depth : value) / radians;
  };
  const convert = (value: number) => asked(launched(value)) + 0;
  return success({
    kind,
    points: fields.points.map((point) => ({ ...point, x: convert(point.x), y: convert(point.y) })),
  });
}
