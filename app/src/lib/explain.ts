import {
  findMeasure,
  findParameter,
  settingOptions,
  shapeDefinition,
  type Project,
  type SettingSpec,
} from '@ulvex/core';

/** What is said about a measure, a column or a setting where it stands. */
export interface Explanation {
  readonly title: string;
  readonly unit: string;
  readonly text: string;
  /** Further lines: an address, the choices of a measure. */
  readonly more: readonly string[];
}

/** Words of columns, choices and marks that are neither a measure nor one parameter. */
const WORDS: Readonly<Record<string, Omit<Explanation, 'more'> & { readonly more?: readonly string[] }>> = {
  radius: {
    title: 'Radius',
    unit: 'mm',
    text:
      'Radius of curvature R at the vertex, c = 1/R; positive when the centre of curvature lies toward +z. ' +
      '∞, “flat” or “infinity” makes a plane.',
  },
  thickness: {
    title: 'Thickness',
    unit: 'mm',
    text: 'Distance along z from this vertex to the next one; negative after an odd number of mirrors.',
  },
  material: {
    title: 'Material',
    unit: '',
    text:
      'The medium after the surface: a six-digit glass code (nd − 1, Vd), a name, an index such as 1.6, ' +
      '“air” or “mirror”. Indices are relative to air at 20 °C and 101325 Pa.',
  },
  conic: {
    title: 'Conic constant',
    unit: '',
    text:
      'k in z = c r²/(1 + √(1 − (1+k) c² r²)): 0 sphere, −1 paraboloid, below −1 hyperboloid, between −1 ' +
      'and 0 prolate and above 0 oblate ellipsoid.',
  },
  semi_aperture: {
    title: 'Semi-aperture',
    unit: 'mm',
    text:
      'Half the clear diameter. Grey: computed from the rays of all fields and colours; it never clips. ' +
      'Typed: set, and clips wherever an analysis says “clipped”. “auto” makes it automatic again.',
  },
  follow: {
    title: 'What follows',
    unit: '',
    text:
      'What follows a moved surface is not moved, is moved with it to the end, or is moved with it up to a ' +
      'surface where the axis returns. After a tilted mirror the axis can follow the reflected light (a fold).',
  },
  comment: { title: 'Comment', unit: '', text: 'A line of your own about this surface; it changes nothing.' },
  pupil: {
    title: 'Pupil',
    unit: '',
    text: 'Full: every ray through the unvignetted pupil counts. Clipped: rays outside set apertures are excluded.',
  },
  sampling: {
    title: 'Rays',
    unit: '',
    text:
      'Rings × arms of a polar sampling: rings are Gauss–Legendre nodes in ρ², so that averages over the ' +
      'pupil converge quickly; arms are equally spaced.',
  },
  scale: {
    title: 'Scale',
    unit: 'µm',
    text: 'Half the height or width of every picture. It fits all rays unless one is chosen, so that pictures can be compared.',
  },
  aperture: {
    title: 'System aperture',
    unit: '',
    text:
      'What limits the beam on the axis, paraxial and at the primary wavelength: entrance-pupil diameter, ' +
      'stop semi-aperture, image F-number f/D at infinity, or object NA n·sin U. Another kind is converted ' +
      'for the same beam.',
  },
  image_space: {
    title: 'Image space',
    unit: '',
    text:
      'Focal: spots and ray fans are places on the image surface. Afocal, for what one looks through: they ' +
      'are the angles θx = atan(L/N), θy = atan(M/N) of the rays after the lens, in mrad; distortion ' +
      'compares their tangents with angular magnification × tan θ, and the Airy radius is 1.22 λ over the ' +
      'exit pupil.',
  },
  aim: {
    title: 'Aim of rays',
    unit: '',
    text:
      'At the paraxial entrance pupil: a ray crosses its plane at (px, py) times its radius. At the stop: ' +
      'it meets the real stop surface at (px, py)·Rs, Rs the paraxial marginal height there, solved at each ' +
      'wavelength.',
  },
  fields: {
    title: 'Fields',
    unit: '',
    text:
      'Angle θ: the direction ∝ (tan θx, tan θy, 1), the ray climbs toward +y for positive θy. Object ' +
      'height: the object point itself. Image height: the paraxial image.',
  },
  wavelengths: {
    title: 'Wavelengths',
    unit: 'nm',
    text:
      'In air. The weight is the share in everything that is averaged over colours; the primary one defines ' +
      'first order, pupils and the chief ray.',
  },
};

/**
 * What to say about a key such as `measure:total_length`, `parameter:lenses.tide.…` or `word:radius`; null where there is nothing to
 * say.
 */
export function explanation(key: string, project: Project): Explanation | null {
  const at = key.indexOf(':');
  const [kind, name] = [key.slice(0, at), key.slice(at + 1)];
  if (kind === 'measure') {
    const measure = findMeasure(name);
    if (!measure) return null;
    const choices = Object.entries(measure.settings).map(([id, spec]) => `${id}: ${optionsOf(spec)}`);
    return {
      title: measure.title,
      unit: measure.unit,
      text: measure.meaning,
      more: [`id ${measure.id}`, ...choices],
    };
  }
  if (kind === 'parameter') {
    const parameter = findParameter(project, name);
    if (!parameter.ok) return null;
    const { title, unit, meaning } = parameter.value.spec;
    return { title, unit, text: meaning, more: [`address ${name}`] };
  }
  if (kind === 'shape') {
    const shape = shapeDefinition(name);
    return shape ? { title: shape.title, unit: '', text: shape.meaning, more: [] } : null;
  }
  const word = WORDS[name];
  return word ? { ...word, more: word.more ?? [] } : null;
}

function optionsOf(spec: SettingSpec): string {
  const fallback = spec.kind === 'field' || spec.fallback === '' ? '' : `, ${spec.fallback} unless said`;
  return `${settingOptions(spec, ['a field']).join(', ')}${fallback}`;
}
