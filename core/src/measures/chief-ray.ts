import {
  angularMagnification as angularMagnificationOf,
  chiefAngleAtImage,
  chiefAtImage,
  distortion as distortionAt,
  IMAGE_LAWS,
  type ImageLaw,
} from '../imaging/image-point.ts';
import { isAfocal } from '../imaging/image-space.ts';
import { failure, success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

const FIELD = { kind: 'field', title: 'Field', also: [], fallback: null } as const;

export const distortion = defineMeasure({
  id: 'distortion',
  title: 'Distortion',
  unit: '%',
  meaning:
    'How much further out than f·tan θ (or f·θ, or magnification × object height) the chief ray of the primary wavelength meets the image, relative to it. Negative: barrel.',
  settings: {
    field: FIELD,
    law: { kind: 'choice', title: 'About', options: IMAGE_LAWS, fallback: IMAGE_LAWS[0] },
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const value = distortionAt(lens, field.value, lens.model.lens.pupil.aim, settings.law as ImageLaw);
    return value.ok ? success({ value: value.value * 100 }) : value;
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
    'Slope of the paraxial chief ray behind the lens over its slope in front, ū′/ū, at the primary wavelength; negative for an inverted image. The magnification of an afocal lens.',
  settings: {},
  evaluate(lens) {
    const value = angularMagnificationOf(lens);
    return value.ok ? success({ value: value.value }) : value;
  },
});
