import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { fieldLine } from './field-line.ts';
import { angularMagnification, chiefAtImage, paraxialImagePoint, tangents, type ImageLaw } from './image-point.ts';
import { isAfocal } from '../evaluation/image-space.ts';

/**
 * The scale of an image without distortion. `image surface`: that of the surface in use, chief-ray height over tan θ, height or θ in the limit
 * of small fields, so that distortion begins at 0. `paraxial image`: f·tan θ, m·h or f·θ, whatever the surface in use. `calibrated`: that
 * of the image surface times the factor that makes the largest distortion least.
 */
export const IMAGE_SCALES = ['image surface', 'paraxial image', 'calibrated'] as const;
export type ImageScale = (typeof IMAGE_SCALES)[number];

/** What distortion is counted against. */
export interface DistortionChoice {
  readonly scale?: ImageScale;
  readonly law?: ImageLaw;
  readonly aim?: 'paraxial' | 'stop';
}

/** Share of the largest field by which fields near the axis lie from it; a second pair twice as far takes the next order away. */
export const NEAR_AXIS = 2e-3;
/** Weights of the chief points at +1, −1, +2 and −2 steps in the slope at the axis, over a step (L. F. Richardson, 1911). */
export const SLOPE_STEPS = [1, -1, 2, -2] as const;
export const SLOPE_WEIGHTS = [4 / 6, -4 / 6, -1 / 12, 1 / 12] as const;
/** Parts of the field in which the largest distortion is looked for. */
const CALIBRATION_STEPS = 32;
const degrees = 180 / Math.PI;

/** A step along the field that is small beside its largest point, in tangents or mm. */
export function smallStep({ model }: LensEvaluation): number {
  const { kind, points } = model.lens.fields;
  const largest = Math.max(0, ...points.map((point) => Math.hypot(...tangents(kind, point))));
  return NEAR_AXIS * (largest > 0 ? largest : 0.1);
}

/** The field point at a place given as tangents or mm. */
export function fieldNear({ model }: LensEvaluation, x: number, y: number): FieldPoint {
  const angles = model.lens.fields.kind === 'angle';
  const told = (value: number) => (angles ? Math.atan(value) * degrees : value);
  return { id: `near_axis_${x}_${y}`, x: told(x), y: told(y), weight: 1 };
}

/** The chief point of a field of the primary wavelength in the image surface, mm; tangents of its angles for an image at infinity. */
function chiefPoint(
  lens: LensEvaluation,
  field: FieldPoint,
  aim: 'paraxial' | 'stop',
): Outcome<readonly [number, number]> {
  const chief = chiefAtImage(lens, field, lens.model.primary, aim);
  if (!chief.ok) return chief;
  const [x, y] = [chief.value.x[0], chief.value.y[0]];
  return success(isAfocal(lens.model.lens) ? [Math.tan(x), Math.tan(y)] : [x, y]);
}

/** Where the axis is imaged, and how the chief point moves from there by x and by y of the field. */
interface AxialScale {
  readonly origin: readonly [number, number];
  readonly byX: readonly [number, number];
  readonly byY: readonly [number, number];
}

function axialScale(lens: LensEvaluation, aim: 'paraxial' | 'stop'): Outcome<AxialScale> {
  return lens.shared(`axial scale ${aim}`, (): Outcome<AxialScale> => {
    const origin = chiefPoint(lens, fieldNear(lens, 0, 0), aim);
    if (!origin.ok) return origin;
    const step = smallStep(lens);
    const slopes: (readonly [number, number])[] = [];
    for (const [ux, uy] of [
      [1, 0],
      [0, 1],
    ] as const) {
      let [x, y] = [0, 0];
      for (const [k, steps] of SLOPE_STEPS.entries()) {
        const point = chiefPoint(lens, fieldNear(lens, ux * steps * step, uy * steps * step), aim);
        if (!point.ok) return point;
        x += (SLOPE_WEIGHTS[k] * point.value[0]) / step;
        y += (SLOPE_WEIGHTS[k] * point.value[1]) / step;
      }
      slopes.push([x, y]);
    }
    return success({ origin: origin.value, byX: slopes[0], byY: slopes[1] });
  });
}

/**
 * Scale of the image surface in use along y of the field: chief-ray height over tan θ (the focal length that it amounts to) or over the height
 * (the magnification), in the limit of small fields, signed; of an image at infinity the angular magnification. Fails
 * if no chief ray arrives near the axis.
 */
export function imageScale(lens: LensEvaluation, aim = lens.model.lens.pupil.aim): Outcome<number> {
  const axial = axialScale(lens, aim);
  return axial.ok ? success(axial.value.byY[1]) : axial;
}

/** Where the axis is imaged and where a field would be without distortion, relative to that; mm, or tangents for an image at infinity. */
export interface IdealPlace {
  readonly origin: readonly [number, number];
  readonly from: readonly [number, number];
}

/** Where a field would be imaged without distortion. */
export function idealPlace(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: DistortionChoice = {},
): Outcome<IdealPlace> {
  const { scale = 'image surface', law = 'f·tan θ', aim = lens.model.lens.pupil.aim } = choice;
  if (scale === 'paraxial image') {
    const from = paraxialPlace(lens, field, law);
    return from.ok ? success({ origin: [0, 0], from: from.value }) : from;
  }
  const axial = axialScale(lens, aim);
  if (!axial.ok) return axial;
  const { kind } = lens.model.lens.fields;
  const [tx, ty] = tangents(kind, field);
  const tangent = Math.hypot(tx, ty);
  let factor = kind === 'angle' && law === 'f·θ' && tangent > 0 ? Math.atan(tangent) / tangent : 1;
  if (scale === 'calibrated') {
    const calibrated = calibration(lens, law, aim);
    if (!calibrated.ok) return calibrated;
    factor *= calibrated.value;
  }
  const { origin, byX, byY } = axial.value;
  return success({
    origin,
    from: [factor * (byX[0] * tx + byY[0] * ty), factor * (byX[1] * tx + byY[1] * ty)],
  });
}

/** The same by the paraxial image; tangents by the paraxial angular magnification for an image at infinity. */
function paraxialPlace(lens: LensEvaluation, field: FieldPoint, law: ImageLaw): Outcome<readonly [number, number]> {
  if (!isAfocal(lens.model.lens)) return paraxialImagePoint(lens, field, law);
  const { kind } = lens.model.lens.fields;
  if (kind !== 'angle') return failure('It wants fields by angle where the image lies at infinity.');
  const scale = angularMagnification(lens);
  if (!scale.ok) return scale;
  const [tx, ty] = tangents(kind, field);
  return success([scale.value * tx, scale.value * ty]);
}

/**
 * The factor of the axial scale with which the largest distortion along the way to the largest field is least: in the
 * middle between least and largest ratio.
 */
function calibration(lens: LensEvaluation, law: ImageLaw, aim: 'paraxial' | 'stop'): Outcome<number> {
  return lens.shared(`calibration ${law} ${aim}`, (): Outcome<number> => {
    const line = fieldLine(lens, CALIBRATION_STEPS);
    if (!line.ok) return line;
    const ratios = line.value.fields.map((field, k) => {
      if (k === 0) return 1;
      const found = distortion(lens, { ...field, id: `calibration_${k}` }, { scale: 'image surface', law, aim });
      return found.ok ? 1 + found.value : NaN;
    });
    if (ratios.some(Number.isNaN))
      return failure('Not every chief ray up to the largest field arrives: its scale cannot be calibrated.');
    return success((extreme(ratios, -1) + extreme(ratios, 1)) / 2);
  });
}

/** The least (−1) or largest (1) of samples of a smooth curve, by the parabola through the extreme one and its neighbours. */
function extreme(values: readonly number[], sign: 1 | -1): number {
  let k = 0;
  values.forEach((value, i) => {
    if (sign * value > sign * values[k]) k = i;
  });
  if (k === 0 || k === values.length - 1) return values[k];
  const [a, b, c] = [values[k - 1], values[k], values[k + 1]];
  const bend = a - 2 * b + c;
  return bend === 0 ? b : b - (a - c) ** 2 / (8 * bend);
}

/**
 * Relative distortion at a field: the radial component of the chief ray's image point along the ideal one, from where the axis is imaged, over the
 * ideal radius, minus 1; 0.01 is +1 %. For an image at infinity tangents of angles stand in the place of heights. Not defined on the axis.
 */
export function distortion(lens: LensEvaluation, field: FieldPoint, choice: DistortionChoice = {}): Outcome<number> {
  const ideal = idealPlace(lens, field, choice);
  if (!ideal.ok) return ideal;
  const { origin, from } = ideal.value;
  const radius = Math.hypot(...from);
  if (radius === 0) return failure('Distortion is not defined on the axis.', field.id);
  const chief = chiefPoint(lens, field, choice.aim ?? lens.model.lens.pupil.aim);
  if (!chief.ok) return chief;
  const [dx, dy] = [chief.value[0] - origin[0], chief.value[1] - origin[1]];
  return success((dx * from[0] + dy * from[1]) / (radius * radius) - 1);
}

/**
 * Magnification in the image surface in use, in the limit of small fields: image over object height, negative for an inverted image. Fails for a
 * far object and for an image at infinity.
 */
export function surfaceMagnification(lens: LensEvaluation): Outcome<number> {
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { magnification } = primary.value;
  const { object, fields } = lens.model.lens;
  if (magnification === null || object.distance === 'infinity')
    return failure('It is defined for an object at a finite distance.');
  if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: it has no height.');
  const scale = imageScale(lens);
  if (!scale.ok) return scale;
  if (fields.kind === 'object_height') return scale;
  // An image height as a field stands for the object height of the paraxial image, an angle for the object point that its chief ray comes from.
  if (fields.kind !== 'angle') return success(scale.value * magnification);
  const pupil = lens.pupil();
  return pupil.ok ? success(-scale.value / (object.distance + pupil.value.z)) : pupil;
}

/** The scale of the image surface in use: near the axis, and on the whole to the largest field by its real chief ray. */
export interface SurfaceScale {
  /** Image over object height, or mm over the tangent of the field angle. */
  readonly kind: 'magnification' | 'image scale';
  readonly value: number;
  /** The same at the largest field; null if its chief ray does not arrive or every field lies on the axis. */
  readonly edge: number | null;
}

/** The magnification of a near object or the image scale of a far one, in the image surface in use. */
export function surfaceScale(lens: LensEvaluation): Outcome<SurfaceScale> {
  const near = lens.model.lens.object.distance !== 'infinity';
  const axial = near ? surfaceMagnification(lens) : imageScale(lens);
  if (!axial.ok) return axial;
  const line = fieldLine(lens, 1);
  const edge = line.ok ? distortion(lens, { ...line.value.far, id: 'scale_edge' }) : line;
  const kind = near ? 'magnification' : 'image scale';
  return success({ kind, value: axial.value, edge: edge.ok ? axial.value * (1 + edge.value) : null });
}
