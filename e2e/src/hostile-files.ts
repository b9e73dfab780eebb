import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';

type Json = Record<string, unknown>;

const sample = (id: string): Json =>
  JSON.parse(readFileSync(resolve(import.meta.dirname, `../../samples/${id}.ulvex.json`), 'utf8')) as Json;

/** The tide camera with its lens changed, and more beside it. */
export function tide(name: string, change: (lens: Json) => Json = (lens) => lens, more: Json = {}): string {
  const project = sample('tide-camera');
  const [lens] = project.lenses as Json[];
  return JSON.stringify({ ...project, name, lenses: [change(lens)], ...more });
}

/** Parameters of the tide camera, by surface and name. */
export const tideAddress = (rest: string): string => `lenses.tide.surfaces.${rest}`;

/** The signal lamp with another scene, and more beside it. */
export function lamp(name: string, scene: Json, more: Json = {}): string {
  const project = sample('signal-lamp');
  const [usual] = project.scenes as Json[];
  const bare = { requirements: [], goals: [], parameters: {}, ...more };
  return JSON.stringify({ ...project, name, scenes: [{ ...usual, ...scene }], ...bare });
}

const SOURCE = {
  id: 'led',
  flux: 1,
  unit: 'lm',
  light: [{ nm: 555, weight: 1 }],
  region: { kind: 'disc', radius: 1 },
  law: { kind: 'lambertian', half: 60 },
};
const MIRROR = {
  id: 'silver',
  name: 'Silver',
  optics: { kind: 'split', reflectance: 1, transmittance: 0 },
};

/** Derived numbers of the tide camera without a solution, one for each place given. */
function unsolvable(places: readonly string[], settings: Json): Json {
  const derived = { kind: 'derived', measure: 'rms_spot_radius', of: 'tide', settings, equals: '-1' };
  return Object.fromEntries(places.map((place) => [place, derived]));
}

/** The most derived numbers that the tide camera can have: whatever of it is a number. */
function derivedEverywhere(): string {
  const project = sample('tide-camera');
  const [{ surfaces }] = project.lenses as { surfaces: Json[] }[];
  const names = surfaces.map(({ id }) => id as string);
  const places = names.flatMap((id) => ['radius', 'thickness', 'conic'].map((key) => tideAddress(`${id}.${key}`)));
  return tide('Sixty derived', undefined, { parameters: unsolvable(places, { field: 'worst' }) });
}

const base64 = (numbers: Float32Array | Uint32Array) => Buffer.from(numbers.buffer).toString('base64');

function meshOf(corners: Float32Array, triangles: Uint32Array): Json {
  return { id: 'skin', name: 'Skin', corners: base64(corners), triangles: base64(triangles) };
}

function lampWithMesh(name: string, mesh: Json): string {
  const part = { id: 'skin', body: { kind: 'mesh', mesh: 'skin' }, finish: 'absorber', frame: { dz: 20 } };
  const detector = { id: 'map', on: { kind: 'face', part: 'skin', face: 'skin' }, columns: 10, rows: 10 };
  const counted = { ...detector, counts: 'incident', light: 'photometric' };
  return lamp(name, { parts: [part], sources: [SOURCE], detectors: [counted] }, { meshes: [mesh] });
}

/** Files that ask for more than a computer has or a person waits for, each with what the page is to say or to show. */
export interface HostileFile {
  readonly name: string;
  readonly text: () => string;
  /** Whether the page takes the file, with a finding or none, or refuses it. */
  readonly taken: boolean;
}

export const HOSTILE_FILES: readonly HostileFile[] = [
  {
    name: 'A formula of 200 kB',
    taken: false,
    text: () =>
      tide('Sum', undefined, {
        parameters: {
          [tideAddress('l1_back.radius')]: { kind: 'linked', formula: `1mm${'+1mm'.repeat(50_000)}` },
        },
      }),
  },
  {
    name: '500 fields and 500 wavelengths',
    taken: true,
    text: () =>
      tide('Too many', (lens) => ({
        ...lens,
        fields: {
          kind: 'angle',
          points: Array.from({ length: 500 }, (_, i) => ({ id: `f${i}`, x: 0, y: i / 40, weight: 1 })),
        },
        wavelengths: Array.from({ length: 500 }, (_, i) => ({ id: `w${i}`, nm: 450 + i / 3, weight: 1 })),
        primary: 'w0',
      })),
  },
  {
    name: '2,000 surfaces',
    taken: true,
    text: () =>
      tide('Two thousand', (lens) => {
        const surfaces = lens.surfaces as Json[];
        const glass = (surfaces[0].after as Json).material;
        const plates = Array.from({ length: 2000 - surfaces.length }, (_, i) => ({
          ...surfaces[0],
          id: `plate_${i}`,
          shape: { kind: 'plane' },
          after: { thickness: 0.01, material: i % 2 === 0 ? glass : 'air' },
        }));
        return { ...lens, surfaces: [...surfaces.slice(0, -1), ...plates, surfaces.at(-1)] };
      }),
  },
  {
    name: 'A detector of 1000 × 1000 × 200 cells',
    taken: true,
    text: () => {
      const on = { kind: 'block', width: 10, height: 10, depth: 10, layers: 200 };
      const detector = { id: 'map', on, columns: 1000, rows: 1000, counts: 'incident', light: 'photometric' };
      return lamp('Seven gigabytes', { sources: [SOURCE], detectors: [detector], parts: [] });
    },
  },
  {
    name: 'Two facing mirrors, 100,000 events',
    taken: true,
    text: () => {
      const parts = [-1, 1].map((side) => ({
        id: side < 0 ? 'left' : 'right',
        body: { kind: 'sheet', width: 2000, height: 2000 },
        frame: { dz: side },
        finish: 'silver',
      }));
      const law = { kind: 'parallel', half: 0 };
      return lamp(
        'Facing mirrors',
        {
          parts,
          sources: [{ ...SOURCE, law }],
          detectors: [],
          sampling: { rays: 1_000_000, seed: 1, splitting: 'split', threshold: 0, events: 100_000 },
        },
        { finishes: [MIRROR] },
      );
    },
  },
  {
    name: 'Two million triangles, all alike',
    taken: true,
    text: () => {
      const corners = Float32Array.of(-5, -5, 0, 5, -5, 0, 0, 5, 0);
      const triangles = Uint32Array.from({ length: 6_000_000 }, (_, i) => i % 3);
      return lampWithMesh('All alike', meshOf(corners, triangles));
    },
  },
  {
    name: 'Half a million triangles in one place, with corners of their own',
    taken: true,
    text: () => {
      const corners = Float32Array.from({ length: 4_500_000 }, (_, i) => [-5, -5, 0, 5, -5, 0, 0, 5, 0][i % 9]);
      const triangles = Uint32Array.from({ length: 1_500_000 }, (_, i) => i);
      return lampWithMesh('In one place', meshOf(corners, triangles));
    },
  },
  { name: 'Sixty derived numbers without a solution', taken: true, text: derivedEverywhere },
  {
    name: 'A derived number that takes long, in 40 states',
    taken: true,
    text: () =>
      tide('Forty states', (lens) => ({ ...lens }), {
        parameters: unsolvable([tideAddress('l1_front.radius')], { field: 'worst', rings: 60, arms: 120 }),
        states: Array.from({ length: 40 }, (_, i) => ({ id: `s${i}`, name: `State ${i}`, overrides: [] })),
      }),
  },
  {
    name: '45 MB of empty objects',
    taken: false,
    text: () => `{"format":"ulvex-project","x":[${'{},'.repeat(15_000_000)}{}]}`,
  },
  {
    name: 'A million empty surfaces',
    taken: false,
    text: () => tide('Many', (lens) => ({ ...lens, surfaces: Array.from({ length: 1_000_000 }, () => ({})) })),
  },
];

/** The text of the hostile file of that name. */
export function hostileFile(name: string): string {
  const file = HOSTILE_FILES.find((one) => one.name === name);
  if (!file) throw new Error(`there is no hostile file “${name}”`);
  return file.text();
}
