import { catalogueMaterial } from '../materials/catalogue.ts';
import { AIR } from '../materials/material.ts';
import type { Finish } from '../finishes/finish.ts';
import type { Project, Requirement } from './model.ts';
import { SAMPLING, type Detector, type Part, type Scene, type Source } from './scene.ts';

/** A lamp, collector or light path to begin from, in any size. */
export interface LightForm {
  readonly id: string;
  readonly title: string;
  /** What it is, in a few words, for a list. */
  readonly about: string;
  /** What its size is, mm, and the one it comes in. */
  readonly size: { readonly title: string; readonly fallback: number };
  readonly notes: string;
  /** Builds its scene. All lengths grow with the size; angles stay. */
  readonly scene: (size: number) => Content;
}

/** The things in the scene of a form, and which detector its requirements look at. */
interface Content {
  readonly parts: readonly Part[];
  readonly sources: readonly Source[];
  readonly detectors: readonly Detector[];
  readonly finishes?: readonly Finish[];
  readonly aims?: readonly string[];
  readonly rays?: number;
}

/** Lines of a white LED with its blue peak: shares of the radiant flux, by eye. */
const WHITE = [
  { nm: 450, weight: 0.25 },
  { nm: 530, weight: 0.3 },
  { nm: 570, weight: 0.25 },
  { nm: 620, weight: 0.2 },
] as const;

const FINISHES = {
  black: {
    id: 'black_anodised',
    name: 'Black anodised',
    optics: { kind: 'mirror', reflectance: 0.06 },
    reflected: { kind: 'gaussian', share: 0.9, angle: 12 },
  },
  bright: { id: 'bright', name: 'Bright mirror 90 %', optics: { kind: 'mirror', reflectance: 0.9 } },
  white: { id: 'white_paint', name: 'White paint 95 %', optics: { kind: 'paint', reflectance: 0.95 } },
  opal: {
    id: 'opal_face',
    name: 'Etched diffuser',
    optics: { kind: 'bare' },
    transmitted: { kind: 'lambertian', share: 1 },
  },
} as const satisfies Readonly<Record<string, Finish>>;

/** Index of acrylic at 555 nm: what the shapes of lenses here count on. */
const ACRYLIC = 1.4938;

const led = (edge: number, more: Partial<Source> = {}): Source => ({
  id: 'led',
  name: 'LED',
  flux: 100,
  unit: 'lm',
  light: WHITE,
  region: { kind: 'rectangle', width: edge, height: edge },
  law: { kind: 'lambertian', half: 90 },
  ...more,
});

const farField = (half: number, cells = 61): Detector => ({
  id: 'far',
  name: 'Far field',
  on: { kind: 'far', halfX: half, halfY: half },
  columns: cells,
  rows: cells,
  counts: 'incident',
  light: 'photometric',
});

const onFace = (part: string, face: string, name: string, more: Partial<Detector> = {}): Detector => ({
  id: 'light',
  name,
  on: { kind: 'face', part, face },
  columns: 50,
  rows: 50,
  counts: 'incident',
  light: 'photometric',
  ...more,
});

const collimator: LightForm = {
  id: 'led_lens',
  title: 'LED with a collimating lens',
  about: 'one conic lens, black holder',
  size: { title: 'Diameter of the lens', fallback: 40 },
  notes:
    'A convex hyperbola facing the LED makes the light of a point parallel (conic −n², radius f(n − 1)); the flat face after it ' +
    'turns nothing. What the lens does not catch ends in the holder. Improve: free the radius and the distance of the lens.',
  scene(size) {
    const focus = 0.395 * size;
    const thickness = 0.36 * size;
    const semi = size / 2;
    return {
      parts: [
        {
          id: 'board',
          name: 'Board',
          body: { kind: 'disc', radius: 0.52 * size },
          finish: 'absorber',
          frame: { dz: -0.001 * size },
        },
        {
          id: 'lens',
          name: 'Collimator',
          body: {
            kind: 'lens_block',
            front: focus * (ACRYLIC - 1),
            front_conic: -(ACRYLIC ** 2),
            back: 'infinity',
            thickness,
            semi,
          },
          material: 'acrylic',
          frame: { dz: focus },
        },
        {
          id: 'holder',
          name: 'Holder',
          body: { kind: 'tube', radius: 0.55 * size, inner: 0.502 * size, length: focus + thickness },
          finish: 'black_anodised',
        },
      ],
      sources: [led(size / 40)],
      detectors: [farField(3, 81)],
      finishes: [FINISHES.black],
    };
  },
};

const paraboloid: LightForm = {
  id: 'parabolic_reflector',
  title: 'Parabolic reflector',
  about: 'LED facing a mirror',
  size: { title: 'Diameter of the mirror', fallback: 80 },
  notes:
    'An LED in the focus of a paraboloid, facing it. A larger chip, or a shorter focus, widens the beam: étendue stays. ' +
    'Move the LED along the axis and watch the far field.',
  scene(size) {
    const focus = size / 5;
    return {
      parts: [
        {
          id: 'mirror',
          name: 'Mirror',
          body: { kind: 'shell', radius: 2 * focus, conic: -1, semi: size / 2 },
          finish: 'bright',
        },
      ],
      sources: [led(size / 60, { frame: { dz: focus, ty: 180 } })],
      detectors: [farField(6, 81)],
      finishes: [FINISHES.bright],
    };
  },
};

const ellipsoid: LightForm = {
  id: 'elliptic_reflector',
  title: 'Elliptic reflector',
  about: 'from one focus into the other',
  size: { title: 'Diameter of the mirror', fallback: 60 },
  notes:
    'An LED in one focus of an ellipsoid, the end of a light guide in the other: nine times farther off, and about as much ' +
    'larger in its picture.',
  scene(size) {
    // Conic −0.64: eccentricity 0.8, foci at a(1 ∓ 0.8) with R = 0.36 a.
    const a = size / 0.6;
    return {
      parts: [
        {
          id: 'mirror',
          name: 'Mirror',
          body: { kind: 'shell', radius: 0.36 * a, conic: -0.64, semi: size / 2 },
          finish: 'bright',
        },
        {
          id: 'guide',
          name: 'End of the guide',
          body: { kind: 'disc', radius: size / 5 },
          finish: 'absorber',
          frame: { dz: 1.8 * a },
        },
      ],
      sources: [led(size / 100, { frame: { dz: 0.2 * a, ty: 180 } })],
      detectors: [onFace('guide', 'face', 'Light on the guide')],
      finishes: [FINISHES.bright],
    };
  },
};

const ACCEPTANCE = 25;

const concentrator: LightForm = {
  id: 'concentrator',
  title: 'Compound parabolic concentrator',
  about: `all light within ±${ACCEPTANCE}°`,
  size: { title: 'Diameter of the exit', fallback: 10 },
  notes:
    'All light that comes in within the acceptance angle θ leaves through an exit that is sin²θ of the mouth, the most that étendue ' +
    'allows. Turn the sky beyond that angle and nothing arrives.',
  scene(size) {
    const exit = size / 2;
    const angle = (ACCEPTANCE * Math.PI) / 180;
    const mouth = exit / Math.sin(angle);
    const length = (mouth + exit) / Math.tan(angle);
    return {
      parts: [
        {
          id: 'wall',
          name: 'Concentrator',
          body: { kind: 'concentrator_shell', exit, acceptance: ACCEPTANCE },
          finish: 'bright',
        },
        {
          id: 'cell',
          name: 'Cell',
          body: { kind: 'disc', radius: exit },
          finish: 'absorber',
          frame: { dz: length * 1.0005 },
        },
      ],
      sources: [
        {
          id: 'sky',
          name: 'Sky',
          flux: 1,
          unit: 'W',
          light: [{ nm: 555, weight: 1 }],
          region: { kind: 'disc', radius: mouth * 0.999 },
          law: { kind: 'lambertian', half: ACCEPTANCE - 1 },
          frame: { dz: -0.01 * length },
        },
      ],
      detectors: [onFace('cell', 'face', 'Light on the cell', { light: 'radiometric' })],
      finishes: [FINISHES.bright],
    };
  },
};

const rod: LightForm = {
  id: 'light_rod',
  title: 'Light guide rod',
  about: 'mixes what goes in',
  size: { title: 'Diameter of the rod', fallback: 6 },
  notes:
    'A rod of acrylic guides by total reflection and mixes the light of an LED that stands off its axis: after some widths of ' +
    'length its end is even. A square rod mixes better than a round one.',
  scene(size) {
    const length = 10 * size;
    return {
      parts: [
        {
          id: 'rod',
          name: 'Rod',
          body: { kind: 'box', width: size, height: size, thickness: length },
          material: 'acrylic',
          frame: { dz: 0.02 * size },
        },
      ],
      sources: [led(size / 4, { frame: { dx: size / 5, dy: size / 8 } })],
      detectors: [
        {
          ...onFace('rod', 'back', 'Light at the end', { id: 'light' }),
          on: { kind: 'rectangle', width: size, height: size },
          frame: { dz: length + 0.05 * size },
        },
        farField(90, 45),
      ],
    };
  },
};

const diffuserBox: LightForm = {
  id: 'diffuser_box',
  title: 'Diffuser box',
  about: 'white walls, etched window',
  size: { title: 'Width of the box', fallback: 60 },
  notes:
    'Four LEDs in a white box behind an etched window: the walls send the light to and fro until the window is even. Whiter walls, ' +
    'deeper box: more even; the efficiency hangs on the paint.',
  scene(size) {
    const depth = 0.5 * size;
    const half = size / 2;
    const side = (id: string, name: string, frame: NonNullable<Part['frame']>): Part => ({
      id,
      name,
      body: { kind: 'sheet', width: size, height: depth },
      finish: 'white_paint',
      frame,
    });
    return {
      parts: [
        { id: 'back', name: 'Back', body: { kind: 'sheet', width: size, height: size }, finish: 'white_paint' },
        side('top', 'Top', { dy: half, dz: depth / 2, tx: 90 }),
        side('bottom', 'Bottom', { dy: -half, dz: depth / 2, tx: 90 }),
        {
          ...side('left', 'Left', { dx: -half, dz: depth / 2, ty: 90 }),
          body: { kind: 'sheet', width: depth, height: size },
        },
        {
          ...side('right', 'Right', { dx: half, dz: depth / 2, ty: 90 }),
          body: { kind: 'sheet', width: depth, height: size },
        },
        {
          id: 'window',
          name: 'Window',
          body: { kind: 'box', width: size, height: size, thickness: 0.04 * size },
          material: 'acrylic',
          faces: { back: { finish: 'opal_face' } },
          frame: { dz: depth },
        },
      ],
      sources: [
        [-1, -1],
        [1, -1],
        [-1, 1],
        [1, 1],
      ].map(([x, y], k) =>
        led(size / 40, {
          id: `led${k + 1}`,
          name: `LED ${k + 1}`,
          flux: 25,
          frame: { dx: (x * size) / 5, dy: (y * size) / 5, dz: 0.01 * size },
        }),
      ),
      detectors: [
        {
          ...onFace('window', 'back', 'Light of the window', { columns: 24, rows: 24 }),
          on: { kind: 'rectangle', width: size, height: size },
          frame: { dz: depth + 0.06 * size },
        },
      ],
      finishes: [FINISHES.white, FINISHES.opal],
      rays: 20_000,
    };
  },
};

const FLATS = 24;

const trough: LightForm = {
  id: 'trough',
  title: 'Trough with a tube',
  about: 'the sun onto a pipe',
  size: { title: 'Opening of the trough', fallback: 1000 },
  notes:
    'A parabolic trough of flat strips throws the sun onto a tube along its focus. The map is the wall of the tube, unrolled. Turn the ' +
    'sun by a degree and see how much is lost.',
  scene(size) {
    const focus = size / 3;
    const long = size / 2;
    const depth = (x: number) => (x * x) / (4 * focus);
    const at = (k: number, down: number): [number, number] => {
      const x = size * (k / FLATS - 0.5);
      return [x, depth(x) - down];
    };
    const strip = Array.from({ length: FLATS + 1 }, (_, k) => at(k, 0));
    const behind = Array.from({ length: FLATS + 1 }, (_, k) => at(FLATS - k, 0.01 * size));
    const tube = 0.03 * size;
    return {
      parts: [
        {
          id: 'trough',
          name: 'Trough',
          body: { kind: 'extruded', points: [...strip, ...behind], length: long },
          finish: 'bright',
          frame: { dz: -long / 2 },
        },
        {
          id: 'tube',
          name: 'Tube',
          body: { kind: 'cylinder', radius: tube, length: long },
          finish: 'absorber',
          frame: { dy: focus, dz: -long / 2 },
        },
      ],
      sources: [
        {
          id: 'sun',
          name: 'Sun',
          flux: 1000 * (size / 1000) * (long / 1000),
          unit: 'W',
          light: [{ nm: 555, weight: 1 }],
          region: { kind: 'rectangle', width: size, height: long * 0.98 },
          law: { kind: 'parallel', half: 0.2666 },
          frame: { dy: 1.2 * focus, tx: 90 },
        },
      ],
      detectors: [
        onFace('tube', 'side', 'Light on the tube', {
          light: 'radiometric',
          counts: 'absorbed',
          columns: 72,
          rows: 20,
        }),
      ],
      finishes: [FINISHES.bright],
    };
  },
};

const LENSLETS = 7;

const lensArray: LightForm = {
  id: 'lens_array',
  title: 'Lens array before an LED',
  about: `${LENSLETS} × ${LENSLETS} lenses, one even field`,
  size: { title: 'Width of the array', fallback: 28 },
  notes:
    'Each lens of the array throws a picture of its own part of the beam onto the same field: together they are even. The light between the ' +
    'round lenses goes straight on; a square array would catch it.',
  scene(size) {
    const pitch = size / LENSLETS;
    const focus = 3 * pitch;
    return {
      parts: [
        {
          id: 'array',
          name: 'Lens array',
          body: {
            kind: 'lens_block',
            front: focus * (ACRYLIC - 1),
            back: 'infinity',
            thickness: 0.4 * pitch,
            semi: 0.495 * pitch,
          },
          material: 'acrylic',
          pattern: { kind: 'grid', columns: LENSLETS, rows: LENSLETS, dx: pitch, dy: pitch },
          frame: { dz: size / 4 },
        },
        {
          id: 'screen',
          name: 'Screen',
          body: { kind: 'sheet', width: 3 * size, height: 3 * size },
          finish: 'absorber',
          frame: { dz: 6 * size },
        },
      ],
      sources: [
        led(size, {
          region: { kind: 'rectangle', width: size, height: size },
          law: { kind: 'parallel', half: 4 },
          name: 'Collimated LED',
        }),
      ],
      detectors: [onFace('screen', 'face', 'Light on the screen')],
    };
  },
};

const baffledTube: LightForm = {
  id: 'baffled_tube',
  title: 'Baffled tube before a sensor',
  about: 'what still gets in from aside',
  size: { title: 'Length of the tube', fallback: 100 },
  notes:
    'The sun shines into a tube from 35° aside. No light comes straight to the sensor: what arrives was scattered by walls and ' +
    'edges. Scattered light is aimed at the sensor, so that few rays find it. Take a baffle out and compare.',
  scene(size) {
    const inner = 0.16 * size;
    const ring = (id: string, part: number): Part => ({
      id,
      name: `Baffle ${id.at(-1)!}`,
      body: { kind: 'tube', radius: 0.999 * inner, inner: (0.62 + 0.3 * (1 - part)) * inner, length: 0.004 * size },
      finish: 'black_anodised',
      frame: { dz: part * size },
    });
    return {
      parts: [
        {
          id: 'tube',
          name: 'Tube',
          body: { kind: 'tube', radius: 0.18 * size, inner, length: size },
          finish: 'black_anodised',
        },
        ring('baffle1', 0.15),
        ring('baffle2', 0.4),
        ring('baffle3', 0.7),
        {
          id: 'sensor',
          name: 'Sensor',
          body: { kind: 'disc', radius: 0.08 * size },
          finish: 'absorber',
          frame: { dz: size },
        },
      ],
      sources: [
        {
          id: 'sun',
          name: 'Sun',
          flux: 1,
          unit: 'W',
          light: [{ nm: 555, weight: 1 }],
          region: { kind: 'disc', radius: inner },
          law: { kind: 'parallel', half: 0.2666 },
          frame: { dy: 0.0105 * size, dz: -0.03 * size },
          towards: { x: 0, y: -Math.tan((35 * Math.PI) / 180), z: 1 },
        },
      ],
      detectors: [onFace('sensor', 'face', 'Stray light', { light: 'radiometric' })],
      finishes: [FINISHES.black],
      aims: ['sensor'],
    };
  },
};

/** Lamps, collectors and light paths to begin from, in the order of the shelf. A new one is a record above and a word here. */
export const LIGHT_FORMS: readonly LightForm[] = [
  collimator,
  paraboloid,
  ellipsoid,
  concentrator,
  rod,
  diffuserBox,
  trough,
  lensArray,
  baffledTube,
];

/** A project that holds nothing but a scene. */
export function sceneOnly(name: string, content: Partial<Content> = {}, notes = ''): Project {
  const { parts = [], sources = [], detectors = [], finishes = [], aims, rays } = content;
  const scene: Scene = {
    id: 'scene',
    name,
    medium: 'air',
    parts,
    sources,
    detectors,
    sampling: { ...SAMPLING, ...(rays !== undefined && { rays }), ...(aims && { aims }) },
  };
  const used = new Set(parts.flatMap(({ material }) => material ?? []));
  const first = detectors.length > 0;
  return {
    format: 'ulvex-project',
    version: 3,
    name,
    notes,
    lenses: [],
    materials: [AIR, ...[...used].map((id) => catalogueMaterial(id)!)],
    requirements: first ? wishesFor(detectors[0], scene.id) : [],
    finishes,
    scenes: [scene],
  };
}

/** What is watched from the start: the efficiency, and how wide the light is. */
function wishesFor({ id, on }: Detector, scene: string): Requirement[] {
  const settings = { detector: id, rays: 16_384 };
  const radius: Requirement = { id: 'radius', measure: 'detector_rms_radius', lens: scene, settings };
  const efficiency: Requirement = { id: 'efficiency', measure: 'detector_efficiency', lens: scene, settings };
  if (on.kind !== 'far') return [efficiency, radius];
  // A half-angle is read off few cells: it takes more rays.
  const fine = { ...settings, rays: 131_072 };
  return [efficiency, { id: 'half_angle', measure: 'detector_half_angle', lens: scene, settings: fine }, radius];
}

/**
 * A form in a size.
 *
 * @param size - see `LightForm.size`, mm
 */
export function lightFormProject(form: LightForm, size = form.size.fallback): Project {
  return sceneOnly(form.title, form.scene(size), form.notes);
}
