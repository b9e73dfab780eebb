import {
  angularMagnification as angularMagnificationOf,
  chiefAngleAtImage,
  chiefAtImage,
  IMAGE_LAWS,
  type ImageLaw,
} from '../imaging/field/image-point.ts';
import {
  distortion as distortionAt,
  IMAGE_SCALES,
  imageScale,
  surfaceMagnification,
  type ImageScale,
} from '../imaging/field/image-scale.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

const FIELD = { kind: 'field', title: 'Field', also: [], fallback: null } as const;

export const distortion = defineMeasure({
  id: 'distortion',
  title: 'Distortion',
  unit: '%',
  meaning:
    'How much further out the chief ray of the primary wavelength meets the image than without ' +
    'distortion, relative to it; negative: barrel. Without distortion heights go with tan θ (or θ, or the ' +
    'object height), to the scale of the image surface in use in the limit of small fields, of the ' +
    'paraxial image, or calibrated so that the largest error is least.',
  settings: {
    field: FIELD,
    scale: { kind: 'choice', title: 'Scale of', options: IMAGE_SCALES, fallback: IMAGE_SCALES[0] },
    law: { kind: 'choice', title: 'About', options: IMAGE_LAWS, fallback: IMAGE_LAWS[0] },
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const value = distortionAt(lens, field.value, {
      scale: settings.scale as ImageScale,
      law: settings.law as ImageLaw,
    });
    return value.ok ? success({ value: value.value * 100 }) : value;
  },
});

/** Scales that have a number of their own. */
const SCALES = [IMAGE_SCALES[0], IMAGE_SCALES[1]] as const;
const SCALE = { kind: 'choice', title: 'Scale of', options: SCALES, fallback: SCALES[0] } as const;

export const magnification = defineMeasure({
  id: 'magnification',
  title: 'Magnification',
  unit: '',
  meaning:
    'Image height over object height; negative for an inverted image. Of the image surface in use: real ' +
    'chief rays of the primary wavelength in the limit of small fields. Of the paraxial image: n ' +
    'u/(n′u′), wherever the surface stands.',
  settings: { scale: SCALE },
  evaluate(lens, { scale }) {
    const primary = lens.primary();
    if (!primary.ok) return primary;
    const paraxial = primary.value.magnification;
    if (paraxial === null) return failure('It is defined for an object at a finite distance.');
    if (scale === 'paraxial image') return success({ value: paraxial });
    const found = surfaceMagnification(lens);
    return found.ok ? success({ value: found.value }) : found;
  },
});

export const imageScaleMeasure = defineMeasure({
  id: 'image_scale',
  title: 'Image scale',
  unit: 'mm',
  meaning:
    'Chief-ray height in the image surface in use over the tangent of the field angle, in the limit of ' +
    'small fields, without sign: the focal length that the image amounts to. Of the paraxial image it is ' +
    'the focal length itself.',
  settings: { scale: SCALE },
  evaluate(lens, { scale }) {
    const { fields, object } = lens.model.lens;
    if (object.distance !== 'infinity' || fields.kind !== 'angle')
      return failure('It is defined for a far object with fields by angle; see the magnification.');
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity; see the angular magnification.');
    const primary = lens.primary();
    if (!primary.ok) return primary;
    if (scale === 'paraxial image') return success({ value: Math.abs(primary.value.focalLength) });
    const found = imageScale(lens);
    return found.ok ? success({ value: Math.abs(found.value) }) : found;
  },
});

export const chiefRayAngle = defineMeasure({
  id: 'chief_ray_angle',
  title: 'Chief-ray angle at the image',
  unit: '°',
  meaning:
    'Angle between the real chief ray of the primary wavelength and the axis of the image surface, without sign.',
  settings: { field: FIELD },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const value = chiefAngleAtImage(lens, field.value);
    return value.ok ? success({ value: value.value }) : value;
  },
});

export const imageHeight = defineMeasure({
  id: 'image_height',
  title: 'Image height',
  unit: 'mm',
  meaning:
    'Distance from the axis of the image surface at which the real chief ray of the primary wavelength meets it, without sign.',
  settings: { field: FIELD },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: it has no height.');
    const chief = chiefAtImage(lens, field.value);
    return chief.ok ? success({ value: Math.hypot(chief.value.x[0], chief.value.y[0]) }) : chief;
  },
});

export const angularMagnification = defineMeasure({
  id: 'angular_magnification',
  title: 'Angular magnification',
  unit: '',
  meaning:
    'Slope of the paraxial chief ray after the lens over its slope in front, ū′/ū, at the primary ' +
    'wavelength; negative for an inverted image. The magnification of an afocal lens.',
  settings: {},
  evaluate(lens) {
    const value = angularMagnificationOf(lens);
    return value.ok ? success({ value: value.value }) : value;
  },
});
