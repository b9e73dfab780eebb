import {
  catalogueMaterial,
  type Goal,
  type ImageGoal,
  type Lens,
  type ParameterState,
  type ParameterStates,
  type Project,
  type Surface,
} from '@ulvex/core';

/** Bounds of a number that is free; left out where it has none. */
type Bounds = readonly [min?: number | undefined, max?: number | undefined];

/** A surface in few words: radius, distance after it, glass after it (six digits), or `mirror`; further shape numbers. */
export interface Rough {
  readonly r?: number;
  readonly t?: number;
  readonly glass?: string;
  readonly mirror?: true;
  readonly k?: number;
  /** What of it is there: a circle beside the axis. */
  readonly piece?: { readonly semi: number; readonly dy: number };
  readonly id?: string;
  readonly name?: string;
  readonly dy?: number;
}

/** A start form before Ulvex has worked on it. */
export interface RoughForm {
  readonly id: string;
  readonly name: string;
  readonly notes: string;
  readonly surfaces: readonly Rough[];
  readonly stop: string;
  readonly lens: Partial<Lens>;
  /** What the form is wanted to be, beside sharp: measures with targets or limits. */
  readonly goals: readonly Omit<Extract<Goal, { kind: 'measure' }>, 'id' | 'kind' | 'of' | 'weight'>[];
  readonly image?: Partial<ImageGoal>;
  /** Numbers that the polish may change, by surface id and name, with bounds. */
  readonly free: Readonly<Record<string, Bounds>>;
  readonly states?: Readonly<Record<string, ParameterState>>;
  readonly making?: Project['making'];
}

const LINES = {
  visible: [
    { id: 'f_line', nm: 486.1327, weight: 1 },
    { id: 'd_line', nm: 587.5618, weight: 1 },
    { id: 'c_line', nm: 656.2725, weight: 1 },
  ],
  red: [{ id: 'd_line', nm: 632.8, weight: 1 }],
} as const;

const angles = (...values: readonly number[]): Lens['fields'] => ({
  kind: 'angle',
  points: values.map((y, k) => ({
    id: k === 0 ? 'axis' : k === values.length - 1 ? 'edge' : 'zone',
    x: 0,
    y,
    weight: 1,
  })),
});
const pupil = (value: number): Lens['aperture'] => ({ kind: 'entrance_pupil_diameter', value });
const STOP = { aim: 'stop', obscuration: 0 } as const;
const focal = (target: number) => ({ measure: 'effective_focal_length', settings: {}, target });
const longest = (max: number) => ({ measure: 'total_length', settings: {}, max });
const distortion = (most: number) => ({
  measure: 'distortion',
  settings: { field: 'edge' },
  min: -most,
  max: most,
});

/** All radii and thicknesses of surfaces by their numbers, as free ones. */
function every(radii: readonly string[], thicknesses: Readonly<Record<string, Bounds>> = {}) {
  return {
    ...Object.fromEntries(radii.map((id) => [`${id}.radius`, [] as const])),
    ...Object.fromEntries(Object.entries(thicknesses).map(([id, bounds]) => [`${id}.thickness`, bounds])),
  };
}

export const ROUGH_FORMS: readonly RoughForm[] = [
  {
    id: 'landscape_singlet',
    name: 'Landscape singlet',
    notes:
      'A meniscus hollow toward its stop, which stands where the bend takes coma and astigmatism away ' +
      'together: the oldest lens for pictures of wide fields.',
    surfaces: [
      { id: 'stop', t: 6 },
      { r: -20, t: 1.6, glass: '517642' },
      { r: -12, t: 52 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(50 / 14), fields: angles(0, 14, 20), pupil: STOP },
    goals: [focal(50)],
    free: every(['s2', 's3'], { stop: [2, 14], s3: [] }),
  },
  {
    id: 'achromat',
    name: 'Achromat',
    notes: 'A cemented pair, crown in front: colour, spherical aberration and coma corrected with three radii.',
    surfaces: [
      { id: 'stop', r: 60, t: 6, glass: '517642' },
      { r: -45, t: 3, glass: '620364' },
      { r: -130, t: 96 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(20), fields: angles(0, 1, 1.5), pupil: STOP },
    goals: [focal(100)],
    free: every(['stop', 's2', 's3'], { s3: [] }),
  },
  {
    id: 'symmetrical_pair',
    name: 'Symmetrical pair',
    notes:
      'Two cemented pairs, the second the mirror image of the first about the stop, held so by links: coma, ' +
      'distortion and lateral colour nearly cancel.',
    surfaces: [
      { r: 18, t: 2.5, glass: '620603' },
      { r: -60, t: 1.2, glass: '581409' },
      { r: 16.5, t: 3.5 },
      { id: 'stop', t: 3.5 },
      { r: -16.5, t: 1.2, glass: '581409' },
      { r: 60, t: 2.5, glass: '620603' },
      { r: -18, t: 46 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(50 / 8), fields: angles(0, 14, 20), pupil: STOP },
    goals: [focal(50)],
    free: every(['s1', 's2', 's3'], { s1: [1.2, 4], s2: [1, 4], s3: [1.5, 9], s7: [] }),
    states: {
      's5.radius': { kind: 'linked', formula: '-1 * s3.radius' },
      's6.radius': { kind: 'linked', formula: '-1 * s2.radius' },
      's7.radius': { kind: 'linked', formula: '-1 * s1.radius' },
      's5.thickness': { kind: 'linked', formula: 's2.thickness' },
      's6.thickness': { kind: 'linked', formula: 's1.thickness' },
      'stop.thickness': { kind: 'linked', formula: 's3.thickness' },
    },
  },
  {
    id: 'triplet',
    name: 'Triplet',
    notes:
      'Positive, negative, positive, far enough apart to flatten the field: the fewest elements that correct all seven aberrations of third order.',
    surfaces: [
      { r: 19, t: 3.2, glass: '691547' },
      { r: 140, t: 5 },
      { r: -24, t: 1, glass: '648338' },
      { id: 'stop', r: 18.5, t: 4.6 },
      { r: 95, t: 2.9, glass: '691547' },
      { r: -20, t: 42 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(50 / 4.5), fields: angles(0, 14, 20), pupil: STOP },
    goals: [focal(50), distortion(1)],
    free: every(['s1', 's2', 's3', 'stop', 's5', 's6'], {
      s1: [1.5, 5],
      s2: [1, 8],
      stop: [1, 8],
      s5: [1.5, 5],
      s6: [],
    }),
  },
  {
    id: 'four_element',
    name: 'Four elements',
    notes:
      'A triplet whose last element is a cemented pair: more to bend against zonal spherical aberration and colour.',
    surfaces: [
      { r: 19, t: 3.2, glass: '691547' },
      { r: 200, t: 3.4 },
      { r: -32, t: 1.4, glass: '648338' },
      { r: 18, t: 1.4 },
      { id: 'stop', t: 1 },
      { r: -110, t: 1.4, glass: '517642' },
      { r: 18, t: 5, glass: '691547' },
      { r: -22, t: 42 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(50 / 3.5), fields: angles(0, 10, 16), pupil: STOP },
    goals: [focal(50), distortion(1), longest(62)],
    free: every(['s1', 's2', 's3', 's4', 's6', 's7', 's8'], {
      s1: [1.5, 5],
      s2: [0.6, 6],
      s4: [0.4, 5],
      stop: [0.3, 5],
      s7: [2, 6],
      s8: [],
    }),
  },
  {
    id: 'retrofocus',
    name: 'Retrofocus',
    notes: 'Negative in front, positive behind: more room behind the lens than its focal length, and a wide field.',
    surfaces: [
      { r: 45, t: 1.6, glass: '517642' },
      { r: 12.5, t: 12 },
      { r: 32, t: 4, glass: '620364' },
      { r: -90, t: 8 },
      { id: 'stop', t: 2 },
      { r: -18, t: 1.2, glass: '755276' },
      { r: 30, t: 4.2, glass: '517642' },
      { r: -15, t: 0.4 },
      { r: 60, t: 3, glass: '691547' },
      { r: -38, t: 26 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(20 / 4), fields: angles(0, 20, 30), pupil: STOP },
    goals: [
      focal(20),
      { measure: 'paraxial_image_distance', settings: {}, min: 25 },
      { measure: 'distortion', settings: { field: 'edge' }, min: -6, max: 6 },
      longest(75),
    ],
    free: every(['s1', 's2', 's3', 's4', 's6', 's7', 's8', 's9', 's10'], {
      s2: [4, 18],
      s3: [2, 7],
      s4: [0.5, 14],
      stop: [0.5, 6],
      s7: [2.5, 7],
      s8: [0.3, 4],
      s9: [2, 5],
      s10: [],
    }),
  },
  {
    id: 'telephoto',
    name: 'Telephoto',
    notes: 'A positive pair in front and a negative pair behind: a long focus in a shorter tube.',
    surfaces: [
      { id: 'stop', r: 62, t: 6, glass: '497816' },
      { r: -90, t: 2.5, glass: '613445' },
      { r: -500, t: 62 },
      { r: -90, t: 2.4, glass: '620364' },
      { r: -40, t: 1.6, glass: '517642' },
      { r: 70, t: 74 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(200 / 5.6), fields: angles(0, 2, 3), pupil: STOP },
    goals: [focal(200), longest(155)],
    free: every(['stop', 's2', 's3', 's4', 's5', 's6'], {
      stop: [5, 11],
      s2: [2, 4],
      s3: [40, 90],
      s4: [2, 5],
      s5: [1.2, 3],
      s6: [],
    }),
  },
  {
    id: 'relay',
    name: 'Relay',
    notes:
      'Two achromats back to back, light parallel between them: an image in the size of its object, without distortion or lateral colour.',
    surfaces: [
      { r: 260, t: 2.5, glass: '620364' },
      { r: 45, t: 6, glass: '517642' },
      { r: -62, t: 10 },
      { id: 'stop', t: 10 },
      { r: 62, t: 6, glass: '517642' },
      { r: -45, t: 2.5, glass: '620364' },
      { r: -260, t: 97 },
    ],
    stop: 'stop',
    lens: {
      object: { distance: 97 },
      aperture: { kind: 'object_na', value: 0.07 },
      pupil: STOP,
      fields: {
        kind: 'object_height',
        points: [
          { id: 'axis', x: 0, y: 0, weight: 1 },
          { id: 'zone', x: 0, y: 2.5, weight: 1 },
          { id: 'edge', x: 0, y: 4, weight: 1 },
        ],
      },
    },
    goals: [{ measure: 'magnification', settings: {}, target: -1 }, longest(240)],
    free: every(['s1', 's2', 's3'], { s3: [2, 40] }),
    states: {
      's5.radius': { kind: 'linked', formula: '-1 * s3.radius' },
      's6.radius': { kind: 'linked', formula: '-1 * s2.radius' },
      's7.radius': { kind: 'linked', formula: '-1 * s1.radius' },
      'stop.thickness': { kind: 'linked', formula: 's3.thickness' },
      's7.thickness': {
        kind: 'derived',
        measure: 'paraxial_ray',
        of: 'lens',
        settings: { ray: 'marginal', surface: 'image', quantity: 'height' },
        equals: '0 mm',
      },
    },
  },
  {
    id: 'eyepiece',
    name: 'Eyepiece',
    notes:
      'Two achromats with their crowns face to face, traced from the eye to the field stop: 16 mm before ' +
      'the first glass stands the pupil of the eye.',
    surfaces: [
      { id: 'stop', name: 'Eye', t: 18 },
      { r: 90, t: 2, glass: '620364' },
      { r: 26, t: 8, glass: '517642' },
      { r: -30, t: 0.5 },
      { r: 30, t: 8, glass: '517642' },
      { r: -26, t: 2, glass: '620364' },
      { r: -90, t: 14 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(4), fields: angles(0, 12, 18), pupil: STOP },
    goals: [focal(25), { measure: 'distortion', settings: { field: 'edge' }, min: -8, max: 8 }],
    free: every(['s2', 's3', 's4', 's5', 's6', 's7'], { stop: [16, 22], s7: [] }),
  },
  {
    id: 'two_mirror',
    name: 'Two mirrors',
    notes:
      'A hollow mirror with a hole and a bulging one before it, both hyperboloids: spherical aberration and coma are gone, the field is curved.',
    surfaces: [
      { id: 'stop', name: 'Primary', r: -800, k: -1.05, t: -280, mirror: true },
      { name: 'Secondary', r: -320, k: -3, t: 380, mirror: true },
    ],
    stop: 'stop',
    lens: { aperture: pupil(125), fields: angles(0, 0.2, 0.3), pupil: { aim: 'stop', obscuration: 0.36 } },
    goals: [focal(1000)],
    free: { 's2.radius': [], 'stop.conic': [], 's2.conic': [], 's2.thickness': [] },
    making: { slope: 60 },
  },
  {
    id: 'off_axis_paraboloid',
    name: 'Off-axis paraboloid',
    notes: 'A piece of a paraboloid beside its axis: parallel light comes to one point with nothing in its way.',
    surfaces: [
      { id: 'stop', t: 250, dy: 60 },
      { name: 'Mirror', r: -400, k: -1, t: -200, mirror: true, piece: { semi: 24, dy: 60 } },
    ],
    stop: 'stop',
    lens: { aperture: pupil(40), fields: angles(0, 0.02), pupil: STOP },
    goals: [focal(200)],
    free: {},
  },
  {
    id: 'scan_lens',
    name: 'Scan lens',
    notes:
      'Three elements after a turning mirror, whose place is the stop: the spot goes over a flat field in proportion to the angle, for one colour.',
    surfaces: [
      { id: 'stop', name: 'Turning mirror', t: 22 },
      { r: -38, t: 3, glass: '517642' },
      { r: 300, t: 4 },
      { r: -120, t: 6, glass: '755276' },
      { r: -56, t: 0.6 },
      { r: 400, t: 7, glass: '755276' },
      { r: -110, t: 120 },
    ],
    stop: 'stop',
    lens: { aperture: pupil(5), fields: angles(0, 14, 20), pupil: STOP, wavelengths: LINES.red },
    goals: [focal(100), { measure: 'distortion', settings: { field: 'edge', law: 'f·θ' }, min: -0.2, max: 0.2 }],
    free: every(['s2', 's3', 's4', 's5', 's6', 's7'], { stop: [20, 30], s3: [1, 8], s7: [] }),
  },
];

const addressed = (rest: string) => `lenses.lens.surfaces.${rest}`;

/** A rough form as a project, with what is free, linked and wanted. */
export function roughProject(form: RoughForm): Project {
  const codes = new Set(form.surfaces.flatMap(({ glass }) => (glass === undefined ? [] : [`g${glass}`])));
  const free: ParameterStates = Object.fromEntries(
    Object.entries(form.free).map(([name, [min, max]]) => [
      addressed(name),
      { kind: 'free', ...(min !== undefined && { min }), ...(max !== undefined && { max }) },
    ]),
  );
  const held = Object.fromEntries(
    Object.entries(form.states ?? {}).map(([name, state]) => [addressed(name), whole(state)]),
  );
  const materials = ['air', ...codes].map((id) => {
    const found = catalogueMaterial(id);
    if (!found) throw new Error(`${form.id}: there is no glass ${id}`);
    return found;
  });
  return {
    format: 'ulvex-project',
    version: 3,
    name: form.name,
    notes: form.notes,
    lenses: [
      {
        id: 'lens',
        name: form.name,
        object: { distance: 'infinity' },
        aperture: pupil(10),
        pupil: STOP,
        fields: angles(0),
        wavelengths: LINES.visible,
        primary: 'd_line',
        stop: form.stop,
        ...form.lens,
        surfaces: [
          ...surfacesOf(form),
          { id: 'image', shape: { kind: 'plane' }, aperture: { kind: 'automatic' }, after: null },
        ],
      },
    ],
    materials,
    requirements: [],
    parameters: { ...free, ...held },
    goals: [
      {
        id: 'sharp',
        kind: 'image_quality',
        of: 'lens',
        weight: 1,
        what: 'spot',
        about: 'centroid',
        lateralColour: true,
        ...form.image,
      },
      ...form.goals.map((goal, k): Goal => ({ id: `g${k + 1}`, kind: 'measure', of: 'lens', weight: 1, ...goal })),
    ],
    ...(form.making && { making: form.making }),
  };
}

/** The surfaces of a form before its image; elements are named in their order. */
function surfacesOf(form: RoughForm): Surface[] {
  let elements = 0;
  return form.surfaces.map((rough, j): Surface => {
    const { r, k, t = 0, glass, mirror, name, dy } = rough;
    return {
      id: rough.id ?? `s${j + 1}`,
      ...(name !== undefined && { name }),
      shape: shapeOf(r, k),
      ...(mirror && { reflects: true }),
      aperture: rough.piece ? { kind: 'circle', ...rough.piece } : { kind: 'automatic' },
      ...(dy !== undefined && { frame: { dy } }),
      after: {
        thickness: t,
        material: glass === undefined ? 'air' : `g${glass}`,
        ...(glass !== undefined && { name: `L${++elements}` }),
      },
    };
  });
}

function shapeOf(radius: number | undefined, conic: number | undefined): Surface['shape'] {
  if (radius === undefined) return { kind: 'plane' };
  return conic === undefined ? { kind: 'sphere', radius } : { kind: 'conic', radius, conic };
}

/** Short names within the lens become whole addresses. */
function whole(state: ParameterState): ParameterState {
  if (state.kind !== 'linked') return state;
  return { ...state, formula: state.formula.replace(/\b(s\d+|stop)\.(radius|thickness)/g, (name) => addressed(name)) };
}
