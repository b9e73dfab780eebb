import { RAY_STATUS } from '../compute/ray-block.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { beamAt, beamThroughLens } from '../imaging/field/gaussian-beam.ts';
import { encircledEnergy, ensquaredEnergy, pointSpectrum, radiusOf } from '../imaging/point/point-energy.ts';
import { pointSpread, type PointSpread } from '../imaging/point/point-spread.ts';
import { surfacePowers } from '../imaging/field/surface-powers.ts';
import { wavefront } from '../imaging/wavefront/wavefront.ts';
import { zernikeFit } from '../imaging/wavefront/zernike-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';
import { waveOf } from './wave-setting.ts';

const FIELD = { kind: 'field', title: 'Field', also: [], fallback: null } as const;
const PUPIL = { kind: 'choice', title: 'Pupil', options: ['full', 'clipped'], fallback: 'full' } as const;
const PRIMARY = { kind: 'wavelength', title: 'Wavelength', also: ['primary'], fallback: 'primary' } as const;

/** Behind the ideal lens of `inFocus` a µm is a µrad. */
const angle = (lens: LensEvaluation, seen: LensEvaluation) => (seen === lens ? {} : { unit: 'µrad' });

const pupilOf = (settings: { readonly pupil: string }) => (settings.pupil === 'clipped' ? 'clipped' : 'full');

/** The image of a point of a field, all colours by weight. */
function spreadAt(
  lens: LensEvaluation,
  settings: { readonly field: string; readonly pupil: string },
): Outcome<PointSpread> {
  const field = lens.field(settings.field);
  if (!field.ok) return field;
  return pointSpread(lens.inFocus(), field.value, { method: 'transform', detail: 'full', pupil: pupilOf(settings) });
}

export const encircledRadius = defineMeasure({
  id: 'encircled_radius',
  title: 'Radius of encircled energy',
  unit: 'µm',
  slow: true,
  meaning:
    'Radius of the circle (or half side of the square) about the centroid that holds so much of the light ' +
    'of a point, by diffraction, all colours by weight.',
  settings: {
    field: FIELD,
    share: { kind: 'number', title: 'Share', unit: '%', min: 1, max: 99, fallback: 80 },
    shape: { kind: 'choice', title: 'Inside of', options: ['circle', 'square'], fallback: 'circle' },
    pupil: PUPIL,
  },
  evaluate(lens, settings) {
    const spread = spreadAt(lens, settings);
    if (!spread.ok) return spread;
    const { n, pitch, centroid } = spread.value;
    const spectrum = pointSpectrum(spread.value, centroid);
    const energy = settings.shape === 'square' ? ensquaredEnergy : encircledEnergy;
    const radius = radiusOf(settings.share / 100, (at) => energy(spectrum, [at])[0], (n / 2) * pitch);
    return Number.isNaN(radius)
      ? failure(`Less than ${settings.share} % of the light falls into the square that is computed.`, settings.field)
      : success({
          value: 1000 * radius,
          ...angle(lens, lens.inFocus()),
          how: `diffraction, ${pupilOf(settings)} pupil, about the centroid`,
        });
  },
});

export const pointPeak = defineMeasure({
  id: 'point_peak',
  title: 'Peak of the point spread',
  unit: '',
  slow: true,
  meaning:
    'Largest irradiance of the image of a point over what the same pupils would give without aberration, ' +
    'all colours by weight: the Strehl ratio of white light, at its best place.',
  settings: { field: FIELD, pupil: PUPIL },
  evaluate(lens, settings) {
    const spread = spreadAt(lens, settings);
    if (!spread.ok) return spread;
    const { values, perfect } = spread.value;
    return success({
      value: values.reduce((a, b) => Math.max(a, b), 0) / perfect,
      how: `transform of the ${pupilOf(settings)} pupil`,
    });
  },
});

/** Indices of the shortest and the longest weighted wavelength. Fails where there is one colour. */
function ends({ model }: LensEvaluation): Outcome<readonly [number, number]> {
  const waves = [...model.wavelengths.keys()]
    .filter((wave) => model.wavelengths[wave].weight > 0)
    .sort((a, b) => model.wavelengths[a].nm - model.wavelengths[b].nm);
  return waves.length > 1
    ? success([waves[0], waves.at(-1)!])
    : failure('There is one colour: add wavelengths in the Brief.');
}

export const lateralColour = defineMeasure({
  id: 'lateral_colour',
  title: 'Lateral colour',
  unit: 'µm',
  meaning:
    'How much further from the axis the chief ray of the shortest weighted wavelength meets the image ' +
    'than that of the longest, along the image of the primary one.',
  settings: { field: FIELD },
  evaluate(lens, settings) {
    const seen = lens.inFocus();
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const two = ends(lens);
    if (!two.ok) return two;
    const at: [number, number][] = [];
    for (const wave of [...two.value, lens.model.primary]) {
      const chief = seen.chief(field.value, wave);
      if (!chief.ok) return chief;
      if (chief.value.status[0] !== RAY_STATUS.alive)
        return failure(`A chief ray of field ${field.value.id} does not reach the image.`, field.value.id);
      at.push([chief.value.x[0], chief.value.y[0]]);
    }
    const [short, long, [px, py]] = at;
    const size = Math.hypot(px, py);
    if (size === 0) return success({ value: 0, ...angle(lens, seen) });
    return success({
      value: (1000 * ((short[0] - long[0]) * px + (short[1] - long[1]) * py)) / size,
      ...angle(lens, seen),
    });
  },
});

export const axialColour = defineMeasure({
  id: 'axial_colour',
  title: 'Axial colour',
  unit: 'mm',
  meaning:
    'Paraxial image distance of the shortest weighted wavelength minus that of the longest: negative where blue comes to its focus first.',
  settings: {},
  evaluate(lens) {
    const two = ends(lens);
    if (!two.ok) return two;
    const [short, long] = two.value.map((wave) => lens.firstOrder(wave));
    if (!short.ok) return short;
    if (!long.ok) return long;
    const value = short.value.imageDistance - long.value.imageDistance;
    return Number.isFinite(value)
      ? success({ value })
      : failure('The image lies at infinity: its colours part in angle.');
  },
});

export const petzvalRadius = defineMeasure({
  id: 'petzval_radius',
  title: 'Petzval radius',
  unit: 'mm',
  meaning:
    'Radius of the Petzval surface, 1/Σ(−φ/(n n′)) over the surfaces: negative where it bends toward the lens. The field is flat where it is large.',
  settings: {},
  evaluate(lens) {
    const found = surfacePowers(lens);
    if (!found.ok) return found;
    const value = 1 / found.value.petzvalSum;
    return Number.isFinite(value) ? success({ value }) : failure('The Petzval surface is flat.');
  },
});

export const zernikeCoefficient = defineMeasure({
  id: 'zernike_coefficient',
  title: 'Zernike coefficient',
  unit: 'λ',
  meaning:
    'A coefficient of the wavefront, θ from +x, by least squares of that many terms over 24 × 48 rays. Noll: orthonormal; fringe: 1 at the rim.',
  settings: {
    field: FIELD,
    wavelength: PRIMARY,
    order: { kind: 'choice', title: 'Order', options: ['noll', 'fringe'], fallback: 'noll' },
    term: { kind: 'integer', title: 'Term', min: 1, max: 100, fallback: 4 },
    terms: { kind: 'integer', title: 'Terms fitted', min: 4, max: 100, fallback: 37 },
    pupil: PUPIL,
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const wave = waveOf(lens, settings.wavelength);
    if (!wave.ok) return wave;
    if (settings.term > settings.terms)
      return failure(`Term ${settings.term} is not among the ${settings.terms} that are fitted: fit more.`);
    const choice = { sampling: { kind: 'polar', rings: 24, arms: 48 }, pupil: pupilOf(settings) } as const;
    const front = wavefront(lens.inFocus(), field.value, wave.value, choice);
    if (!front.ok) return front;
    const fit = zernikeFit(front.value, settings.order === 'fringe' ? 'fringe' : 'noll', settings.terms, 'fit');
    if (!fit.ok) return fit;
    return success({
      value: fit.value.coefficients[settings.term - 1],
      how: `${settings.order} order, ${settings.terms} terms, which leave ${fit.value.residual.toPrecision(2)} λ RMS`,
    });
  },
});

export const gaussianBeam = defineMeasure({
  id: 'gaussian_beam',
  title: 'Gaussian beam',
  unit: 'mm',
  meaning:
    'Of a round Gaussian beam along the axis, paraxial, radii at 1/e² of the irradiance: its radius at ' +
    'the image surface, its last waist, where that lies from the image surface (negative before it), or ' +
    'its Rayleigh length there.',
  settings: {
    number: {
      kind: 'choice',
      title: 'Number',
      options: ['radius', 'waist', 'waist from image', 'Rayleigh length'],
      fallback: 'radius',
    },
    wavelength: PRIMARY,
    waist: { kind: 'number', title: 'Waist before the lens', unit: 'mm', min: 1e-6, max: 1e6, fallback: 1 },
    before: { kind: 'number', title: 'Before the first vertex', unit: 'mm', min: -1e9, max: 1e9, fallback: 0 },
    m2: { kind: 'number', title: 'M²', unit: '', min: 1, max: 1000, fallback: 1 },
  },
  evaluate(lens, settings) {
    const wave = waveOf(lens, settings.wavelength);
    if (!wave.ok) return wave;
    const steps = beamThroughLens(lens, wave.value, settings);
    if (!steps.ok) return steps;
    const { behind } = steps.value.at(-1)!;
    const values = {
      radius: beamAt(behind, 0).radius,
      waist: behind.waist,
      'waist from image': behind.toWaist,
      'Rayleigh length': behind.rayleigh,
    };
    return success({ value: values[settings.number as keyof typeof values] });
  },
});

/** Numbers of the evaluation of images, in menu order. */
export const IMAGE_MEASURES = [
  encircledRadius,
  pointPeak,
  lateralColour,
  axialColour,
  petzvalRadius,
  zernikeCoefficient,
  gaussianBeam,
] as const;
