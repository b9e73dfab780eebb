import { STANDARD } from '../materials/air.ts';
import type { Dispersion } from '../materials/dispersion.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import { FRAME_SPECS } from './frame-specs.ts';
import type { FieldKind, SystemAperture } from './model.ts';

const value = (id: string, title: string, unit: string, kind: ParameterSpec['kind'], meaning: string) =>
  ({ id, title, unit, kind, meaning, transform: 'value' }) as const satisfies ParameterSpec;

export const THICKNESS = value(
  'thickness',
  'Thickness',
  'mm',
  'length',
  'Distance along z to the next vertex; negative after an odd number of mirrors.',
);
/** How far away the object is. */
export const OBJECT_DISTANCE: ParameterSpec = {
  ...value(
    'distance',
    'Object distance',
    'mm',
    'length',
    'From the object plane to the first vertex; positive for a real object.',
  ),
  allowInfinity: true,
  above: 0,
  transform: 'reciprocal',
};
/** The system aperture's number: a length or a pure number, as its kind says. */
export function apertureSpec(kind: SystemAperture['kind']): ParameterSpec {
  const size = kind === 'entrance_pupil_diameter' || kind === 'stop_semi_aperture';
  return {
    ...value(
      'value',
      'System aperture',
      size ? 'mm' : '',
      size ? 'length' : 'number',
      'Entrance-pupil diameter, stop semi-aperture, image F-number f/D or object NA n·sin U, as the kind of the aperture says.',
    ),
    above: 0,
  };
}
export const OBSCURATION: ParameterSpec = {
  ...value(
    'obscuration',
    'Obscuration ratio',
    '',
    'number',
    'Inner over outer radius of an annular pupil; 0 for a full one.',
  ),
  min: 0,
  below: 1,
};
export const WEIGHT: ParameterSpec = {
  ...value('weight', 'Weight', '', 'number', 'Share in everything that is averaged.'),
  min: 0,
};
export const NM: ParameterSpec = {
  ...value('nm', 'Wavelength', 'nm', 'wavelength', 'Wavelength in air.'),
  above: 0,
};

/** Shift and tilt of the axis after a surface. */
export const BEHIND_SPECS: readonly ParameterSpec[] = FRAME_SPECS.map((spec) => ({
  ...spec,
  meaning: spec.meaning.replace('of the surface', 'of the axis after the surface'),
}));

/** The two numbers of a field point. */
export function fieldSpecs(kind: FieldKind): readonly [ParameterSpec, ParameterSpec] {
  const spec = (axis: 'x' | 'y'): ParameterSpec =>
    kind === 'angle'
      ? {
          ...value(
            axis,
            `Field ${axis}`,
            '°',
            'angle',
            `Field angle in ${axis}; the ray climbs toward +${axis} for positive values.`,
          ),
          above: -90,
          below: 90,
        }
      : value(
          axis,
          `Field ${axis}`,
          'mm',
          'length',
          `Height of the ${kind === 'object_height' ? 'object point' : 'paraxial image'} in ${axis}.`,
        );
  return [spec('x'), spec('y')];
}

/** Temperature and pressure about everything. */
export const SURROUNDINGS: readonly ParameterSpec[] = [
  {
    ...value(
      'temperature',
      'Temperature',
      '°C',
      'temperature',
      'Temperature of the lens and of the air about it. It changes refractive indices where a material says ' +
        'how, and those of air; lengths and radii stay.',
    ),
    fallback: STANDARD.temperature,
    min: -273,
    most: 5000,
  },
  {
    ...value(
      'pressure',
      'Air pressure',
      'Pa',
      'pressure',
      'Pressure of the air about the lens; 0 for vacuum. Indices are counted against air at 20 °C and 101325 Pa.',
    ),
    fallback: STANDARD.pressure,
    min: 0,
    most: 1e7,
  },
];

const ND: ParameterSpec = {
  ...value('nd', 'Index nd', '', 'number', 'Refractive index at 587.56 nm, against air.'),
  min: 1,
  most: 10,
};
/** Numbers of a material that are parameters, by its kind of dispersion. */
export const MATERIAL_SPECS: Readonly<Partial<Record<Dispersion['kind'], readonly ParameterSpec[]>>> = {
  model: [
    ND,
    {
      ...value('vd', 'Abbe number Vd', '', 'number', 'Vd = (nd − 1)/(nF − nC): high for low dispersion.'),
      above: 0,
    },
    {
      ...value(
        'deviation',
        'Deviation ΔP(g,F)',
        '',
        'number',
        'By how much P(g,F) = (ng − nF)/(nF − nC) lies above the normal line 0.6438 − 0.001682 Vd.',
      ),
      fallback: 0,
    },
  ],
  constant: [{ ...ND, id: 'index', title: 'Index', meaning: 'Refractive index at every wavelength, against air.' }],
};

/** In what one melt of a glass differs from the catalogue. */
export const MELT_SPECS: readonly ParameterSpec[] = [
  {
    ...value('index', 'Melt: change of index', '', 'number', 'By how much the index is higher at every wavelength.'),
    fallback: 0,
    min: -0.1,
    most: 0.1,
  },
  {
    ...value(
      'dispersion',
      'Melt: change of dispersion',
      '',
      'number',
      'By which share the differences from the index at the d line are larger; −0.01 for an Abbe number that is about 1 % higher.',
    ),
    fallback: 0,
    min: -0.5,
    most: 0.5,
  },
];
