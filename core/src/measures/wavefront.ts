import { narrowFoci } from '../imaging/field/astigmatism.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldMtf, modulation, type MtfMethod } from '../imaging/point/mtf.ts';
import { relativeIllumination as relativeIlluminationAt } from '../imaging/field/relative-illumination.ts';
import { seidel, type SeidelSums, type SeidelWaves } from '../imaging/field/seidel.ts';
import { wavefront, wavefrontNumbers, type WavefrontNumbers } from '../imaging/wavefront/wavefront.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { defineMeasure, type Measured, type SettingValues } from './measure.ts';
import { choiceLabel, RAY_SETTINGS, rayChoice } from './ray-settings.ts';
import { waveOf } from './wave-setting.ts';

const FIELD = { kind: 'field', title: 'Field', also: [], fallback: null } as const;
const FRONT = {
  field: FIELD,
  wavelength: { kind: 'wavelength', title: 'Wavelength', also: ['primary'], fallback: 'primary' },
  ...RAY_SETTINGS,
} as const;

function frontMeasure(
  lens: LensEvaluation,
  settings: SettingValues<typeof FRONT>,
  read: (numbers: WavefrontNumbers) => number,
): Outcome<Measured> {
  const field = lens.field(settings.field);
  if (!field.ok) return field;
  const wave = waveOf(lens, settings.wavelength);
  if (!wave.ok) return wave;
  const choice = rayChoice(settings);
  const front = wavefront(lens.inFocus(), field.value, wave.value, choice);
  if (!front.ok) return front;
  const { nm } = lens.model.wavelengths[wave.value];
  return success({
    value: read(wavefrontNumbers(front.value)),
    how: `${nm} nm, ${choiceLabel(lens, choice)}`,
  });
}

export const rmsWavefront = defineMeasure({
  id: 'rms_wavefront',
  title: 'RMS wavefront error',
  unit: 'λ',
  meaning:
    '√⟨(W − ⟨W⟩)²⟩ over the pupil at the reference sphere about the chief ray’s image point, in waves of ' +
    'the colour; piston taken off, tilt and focus kept.',
  settings: FRONT,
  evaluate: (lens, settings) => frontMeasure(lens, settings, ({ rms }) => rms),
});

export const strehlRatio = defineMeasure({
  id: 'strehl_ratio',
  title: 'Strehl ratio',
  unit: '',
  meaning:
    '|⟨exp 2πiW⟩|² over the pupil: the intensity at the chief ray’s image point over that of a perfect lens. 0.8 counts as diffraction limited.',
  settings: FRONT,
  evaluate: (lens, settings) => frontMeasure(lens, settings, ({ strehl }) => strehl),
});

export const wavefrontRange = defineMeasure({
  id: 'wavefront_peak_to_valley',
  title: 'Wavefront, peak to valley',
  unit: 'λ',
  meaning: 'Largest minus least W of the rays traced, in waves; grows a little with finer sampling.',
  settings: FRONT,
  evaluate: (lens, settings) => frontMeasure(lens, settings, ({ peakToValley }) => peakToValley),
});

export const mtfModulation = defineMeasure({
  id: 'mtf',
  title: 'MTF',
  unit: '',
  slow: true,
  meaning:
    'Modulation of a pattern of this frequency in the image surface, all weighted colours; `tangential`: ' +
    'along y, `sagittal`: along x. `physical`: pupil on the reference sphere; `simple`: in ray ' +
    'coordinates; `geometric`: of the spot alone. Full pupil.',
  settings: {
    field: FIELD,
    frequency: {
      kind: 'number',
      title: 'Cycles per mm or mrad',
      unit: '',
      min: 0,
      max: 100_000,
      fallback: 50,
    },
    direction: {
      kind: 'choice',
      title: 'Direction',
      options: ['tangential', 'sagittal', 'lower'],
      fallback: 'lower',
    },
    method: {
      kind: 'choice',
      title: 'Method',
      options: ['physical', 'simple', 'geometric'],
      fallback: 'physical',
    },
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const method = settings.method as MtfMethod;
    const seen = lens.inFocus();
    const found = fieldMtf(seen, field.value, { method, frequencies: [settings.frequency] });
    if (!found.ok) return found;
    const [t, s] = [found.value.tangential[0], found.value.sagittal[0]].map(modulation);
    const value = settings.direction === 'tangential' ? t : settings.direction === 'sagittal' ? s : Math.min(t, s);
    return success({
      value,
      how: `${settings.frequency} cycles/${seen === lens ? 'mm' : 'mrad'}, ${method}, full pupil`,
    });
  },
});

export const relativeIllumination = defineMeasure({
  id: 'relative_illumination',
  title: 'Relative illumination',
  unit: '%',
  meaning:
    'Irradiance of an evenly bright object at this field over that on the axis: the ratio of projected ' +
    'solid angles of the image pencils, no losses counted; `clipped`: through set apertures.',
  settings: { field: FIELD, pupil: RAY_SETTINGS.pupil },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const share = relativeIlluminationAt(lens, field.value, settings.pupil === 'full' ? 'full' : 'clipped');
    return share.ok ? success({ value: 100 * share.value, how: settings.pupil }) : share;
  },
});

export const narrowFocus = defineMeasure({
  id: 'narrow_focus',
  title: 'Focus about the chief ray',
  unit: 'mm',
  meaning:
    'z of the focus of a narrow bundle about the chief ray from the image surface, after Coddington: ' +
    'tangential, sagittal, or their difference (astigmatism). Negative: before the image surface.',
  settings: {
    field: FIELD,
    which: {
      kind: 'choice',
      title: 'Focus',
      options: ['tangential', 'sagittal', 'difference'],
      fallback: 'tangential',
    },
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const foci = narrowFoci(lens, field.value);
    if (!foci.ok) return foci;
    const { tangentialZ: t, sagittalZ: s } = foci.value;
    const value = settings.which === 'sagittal' ? s : settings.which === 'difference' ? t - s : t;
    return Number.isFinite(value) ? success({ value }) : failure('The bundle is parallel: it has no focus.');
  },
});

const SUMS = ['s1', 's2', 's3', 's4', 's5', 'c1', 'c2'] as const satisfies readonly (keyof SeidelSums)[];
const COEFFICIENTS = [
  'w040',
  'w131',
  'w222',
  'w220p',
  'w220',
  'w311',
  'w020c',
  'w111c',
] as const satisfies readonly (keyof SeidelWaves)[];

export const seidelSum = defineMeasure({
  id: 'seidel_sum',
  title: 'Seidel sum',
  unit: 'mm',
  meaning:
    'Third-order sum of the whole lens after Welford, undercorrected positive: s1 spherical aberration, ' +
    's2 coma, s3 astigmatism, s4 Petzval, s5 distortion, c1 and c2 axial and lateral colour.',
  settings: { sum: { kind: 'choice', title: 'Sum', options: SUMS, fallback: 's1' } },
  evaluate(lens, settings) {
    const found = seidel(lens);
    return found.ok ? success({ value: found.value.total[settings.sum as (typeof SUMS)[number]] }) : found;
  },
});

export const seidelWaves = defineMeasure({
  id: 'seidel_waves',
  title: 'Third-order wavefront',
  unit: 'λ',
  meaning:
    'Wavefront coefficient at the edge of pupil and field from the Seidel sums: W040 = S₁/8, W131 = S₂/2, ' +
    'W222 = S₃/2, W220p = S₄/4, W220 = (S₃ + S₄)/4, W311 = S₅/2, and of colour C₁/2, C₂; waves of the ' +
    'primary wavelength.',
  settings: {
    coefficient: { kind: 'choice', title: 'Coefficient', options: COEFFICIENTS, fallback: 'w040' },
  },
  evaluate(lens, settings) {
    const found = seidel(lens);
    return found.ok
      ? success({ value: found.value.waves[settings.coefficient as (typeof COEFFICIENTS)[number]] })
      : found;
  },
});

export const WAVEFRONT_MEASURES = [
  rmsWavefront,
  wavefrontRange,
  strehlRatio,
  mtfModulation,
  relativeIllumination,
  narrowFocus,
  seidelSum,
  seidelWaves,
] as const;
