import { failure, success, type Outcome } from '../math/outcome.ts';
import { beamLimit, fNumberFactor } from '../imaging/evaluation/beam-limit.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { FirstOrder } from '../sequence/paraxial.ts';
import { defineMeasure, type Measure, type Measured, type SettingSpecs } from './measure.ts';

interface FirstOrderMeasure {
  readonly id: string;
  readonly title: string;
  readonly unit: string;
  readonly meaning: string;
  /** What to say when the value is infinite or does not apply. */
  readonly otherwise: string;
  read(data: FirstOrder): number | null;
  /** Why the value says less than it seems to, if it does. */
  caution?(lens: LensEvaluation): string | null;
}

/** A measure that reads one number of the paraxial trace at the primary wavelength. */
function firstOrderMeasure({ read, otherwise, caution, ...about }: FirstOrderMeasure): Measure<SettingSpecs> {
  return defineMeasure<SettingSpecs>({
    ...about,
    settings: {},
    evaluate(lens): Outcome<Measured> {
      const data = lens.primary();
      if (!data.ok) return data;
      const value = read(data.value);
      if (value === null || !Number.isFinite(value)) return failure(otherwise);
      const but = caution?.(lens);
      return success({ value, ...(but && { caution: but, cautionLabel: 'of the stop' }) });
    },
  });
}

/** An F-number is that of the stop; an aperture that cuts the beam of the axis makes it larger. */
function cutBeam(lens: LensEvaluation): string | null {
  const limit = beamLimit(lens);
  if (!limit) return null;
  const surface = surfaceTitle(lens.model.lens, limit.surface);
  return (
    `${surface} cuts ${Number((100 * (1 - limit.passing)).toPrecision(2))} % of the beam: the F-number of ` +
    `the light that passes is ${Number(fNumberFactor(lens).toPrecision(4))} times as large`
  );
}

export const effectiveFocalLength = firstOrderMeasure({
  id: 'effective_focal_length',
  title: 'Effective focal length',
  unit: 'mm',
  meaning:
    '1/Φ at the primary wavelength, Φ = −n′u′/y for a paraxial ray that comes in parallel to the axis. Positive for a converging lens.',
  otherwise: 'The lens is afocal.',
  read: (data) => data.focalLength,
});

export const backFocalDistance = firstOrderMeasure({
  id: 'back_focal_distance',
  title: 'Back focal distance',
  unit: 'mm',
  meaning: 'From the last vertex before the image to the paraxial rear focus, along z, at the primary wavelength.',
  otherwise: 'The lens is afocal.',
  read: (data) => data.backFocalDistance,
});

export const imageFNumber = firstOrderMeasure({
  id: 'image_f_number',
  title: 'Image-space F-number',
  unit: '',
  meaning: 'Focal length over entrance-pupil diameter, f/D, paraxial, for an object at infinity.',
  otherwise: 'It is defined for an object at infinity and a lens with power; see the working F-number.',
  read: (data) => data.fNumber,
  caution: cutBeam,
});

export const workingFNumber = firstOrderMeasure({
  id: 'working_f_number',
  title: 'Working F-number',
  unit: '',
  meaning: '1/(2 n′|u′|) of the paraxial marginal ray at the image, for the object distance that is set.',
  otherwise: 'The marginal ray leaves parallel to the axis.',
  read: (data) => data.workingFNumber,
  caution: cutBeam,
});

export const passingFNumber: Measure<SettingSpecs> = defineMeasure<SettingSpecs>({
  id: 'passing_f_number',
  title: 'F-number of the light that passes',
  unit: '',
  meaning:
    'Working F-number over the root of the share of the axial beam’s area that passes the set apertures: ' +
    'the F-number with which the image is lit. Equal to the working F-number if the stop limits the beam.',
  settings: {},
  evaluate(lens): Outcome<Measured> {
    const data = lens.primary();
    if (!data.ok) return data;
    const limit = beamLimit(lens);
    if (limit?.passing === 0) return failure('No light of the axis passes.');
    const value = data.value.workingFNumber * fNumberFactor(lens);
    return Number.isFinite(value) ? success({ value }) : failure('The marginal ray leaves parallel to the axis.');
  },
});

export const entrancePupilDiameter = firstOrderMeasure({
  id: 'entrance_pupil_diameter',
  title: 'Entrance pupil diameter',
  unit: 'mm',
  meaning: 'Diameter of the paraxial image of the stop seen from the object.',
  otherwise: 'The entrance pupil lies at infinity.',
  read: (data) => data.entrancePupilDiameter,
});

export const paraxialImageDistance = firstOrderMeasure({
  id: 'paraxial_image_distance',
  title: 'Paraxial image distance',
  unit: 'mm',
  meaning: 'From the last vertex before the image to the paraxial image of the axial object point, along z.',
  otherwise: 'The paraxial image lies at infinity.',
  read: (data) => data.imageDistance,
});
