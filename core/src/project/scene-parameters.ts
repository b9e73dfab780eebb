import { bodyDefinition } from '../bodies/registry.ts';
import type { Finish } from '../finishes/finish.ts';
import { LAW_KINDS } from '../emission/laws/registry.ts';
import type { StartOrder } from '../emission/order.ts';
import { REGION_KINDS } from '../emission/regions/registry.ts';
import { SCATTER_KINDS } from '../finishes/laws/registry.ts';
import { OPTICS_KINDS } from '../finishes/optics/registry.ts';
import { isSpectralTable, type SpectralTable } from '../light/spectral.ts';
import { layerSpecs } from '../finishes/optics/coating.ts';
import { millimetres, whole } from '../math/length-specs.ts';
import type { ParameterSpec } from '../math/parameter.ts';
import { PLACE_KINDS } from '../detectors/registry.ts';
import type { QuantityKind } from '../math/quantity.ts';
import { FRAME_SPECS } from './frame-specs.ts';
import type { Parameter } from './parameters.ts';
import type { Detector, Part, Pattern, Scene, Source } from './scene.ts';

type Slot = Omit<Parameter, 'value'>;

/** The wavelength of a row of a table over it. */
export const ROW_NM: ParameterSpec = {
  id: 'nm',
  title: 'Wavelength',
  meaning: 'Where on the spectrum the row is; the value between two rows is on a straight line.',
  unit: 'nm',
  kind: 'number',
  above: 0,
  transform: 'value',
};

const spec = (
  id: string,
  title: string,
  unit: string,
  kind: QuantityKind,
  meaning: string,
  more: Partial<ParameterSpec> = {},
): ParameterSpec => ({ id, title, unit, kind, meaning, transform: 'value', ...more });

/** The numbers of a body that is a mesh. */
export const MESH_SPECS: readonly ParameterSpec[] = [
  spec('scale', 'Scale', '', 'number', 'Times the size that its file says.', { above: 0, fallback: 1 }),
];

/** Shift and tilt of a part, source or detector. */
const PLACE: readonly ParameterSpec[] = FRAME_SPECS.map((one) => ({
  ...one,
  meaning: one.id.startsWith('d')
    ? `Shift along ${one.id[1]} of the frame that it stands in.`
    : `Right-handed tilt about ${one.id[1]}: after its shift, first about x, then about the new y, then about the new z.`,
}));

/** What happens inside a body. */
export const VOLUME_SPECS: readonly ParameterSpec[] = [
  spec('absorption', 'Absorption', '1/mm', 'number', 'Beside that of its material: exp(−αs) is left after a way s.', {
    min: 0,
    fallback: 0,
    spectral: true,
  }),
  spec('freePath', 'Free path', 'mm', 'length', 'Mean way between two scattering events; endless for a clear body.', {
    above: 0,
    fallback: Infinity,
    allowInfinity: true,
  }),
  spec(
    'asymmetry',
    'Asymmetry g',
    '',
    'number',
    'Mean cosine of the scattering angle (Henyey and Greenstein): 0 to all sides, 1 straight on.',
    { above: -1, below: 1, fallback: 0 },
  ),
];

/** Numbers of each pattern. */
export const PATTERN_SPECS: Readonly<Record<Pattern['kind'], readonly ParameterSpec[]>> = {
  ring: [
    whole('count', 'Copies', 'How many stand round the z axis.', 1, 1000),
    millimetres('radius', 'Ring radius', 'From the z axis to each copy.', {}),
  ],
  grid: [
    whole('columns', 'Columns', 'Copies along x.', 1, 100),
    whole('rows', 'Rows', 'Copies along y.', 1, 100),
    millimetres('dx', 'Pitch x', 'From column to column.', {}),
    millimetres('dy', 'Pitch y', 'From row to row.', {}),
  ],
  facets: [
    whole('columns', 'Columns', 'Facets along x.', 1, 100),
    whole('rows', 'Rows', 'Facets along y.', 1, 100),
    millimetres('dx', 'Pitch x', 'From column to column, across the axis.', {}),
    millimetres('dy', 'Pitch y', 'From row to row, across the axis.', {}),
    millimetres(
      'radius',
      'Base radius',
      'Of the surface that they stand on, at its vertex; positive when its centre lies toward +z.',
      { transform: 'reciprocal' },
    ),
    spec('conic', 'Base conic', '', 'number', 'Of the surface that they stand on; −1 for a paraboloid.', {
      fallback: 0,
    }),
  ],
};

/** Numbers of each regular order of starts. */
export const ORDER_SPECS: Readonly<Record<StartOrder['kind'], readonly ParameterSpec[]>> = {
  grid: [whole('columns', 'Columns', 'Starts along x.', 1, 1000), whole('rows', 'Rows', 'Starts along y.', 1, 1000)],
  rings: [whole('rings', 'Rings', 'Of equal area.', 1, 1000), whole('arms', 'Arms', 'Starts on each ring.', 1, 1000)],
};

/** The number of a source's flux. */
export const fluxSpec = (unit: string): ParameterSpec =>
  spec('flux', 'Flux', unit, 'number', 'All light that it sends out.', { min: 0 });

/** The point that a source's axis looks at. */
export const TOWARDS_SPECS: readonly ParameterSpec[] = ['x', 'y', 'z'].map((axis) =>
  millimetres(axis, `Towards ${axis}`, 'The point that its axis looks at, from where it stands.', {}),
);

/** Cells of a detector. */
export const CELLS_SPECS: readonly ParameterSpec[] = [
  whole('columns', 'Columns', 'Cells along x.', 1, 1000),
  whole('rows', 'Rows', 'Cells along y.', 1, 1000),
];
/** What a detector tells from nothing. */
export const FLOOR_SPEC: ParameterSpec = spec(
  'floor',
  'Noise level',
  '',
  'number',
  'The least that it tells from nothing, in the unit of its map.',
  { min: 0, fallback: 0 },
);

/** How a scene is sampled. */
export const SAMPLING_SPECS: readonly ParameterSpec[] = [
  whole('rays', 'Rays', 'Rays launched from all sources together.', 1, 1e9),
  whole('seed', 'Seed', 'Another one gives other random numbers.', 0, 2 ** 31 - 1),
  spec('threshold', 'Threshold', '', 'number', 'Share of its first flux below which a ray ends.', {
    min: 0,
    below: 1,
  }),
  whole('events', 'Most events', 'Faces that a ray meets before it ends.', 1, 100_000),
];

function slotsAt(at: string, specs: readonly ParameterSpec[], holder: unknown): Slot[] {
  return specs.flatMap((one): Slot[] => {
    const place = `${at}.${one.id}`;
    const value = one.spectral ? (holder as Readonly<Record<string, unknown>> | undefined)?.[one.id] : undefined;
    if (isSpectralTable(value)) return rowSlots(place, one, value);
    return [{ address: place, path: place, spec: one, ...(holder === undefined && { absent: at }) }];
  });
}

/** The numbers of a table over the wavelength: where each row is, and what it says. */
function rowSlots(at: string, of: ParameterSpec, { rows }: SpectralTable): Slot[] {
  const { fallback: _none, ...limits } = of;
  return rows.flatMap(({ id, nm }): Slot[] => [
    { address: `${at}.${id}.nm`, path: `${at}.rows.${id}.nm`, spec: ROW_NM },
    {
      address: `${at}.${id}.value`,
      path: `${at}.rows.${id}.value`,
      spec: { ...limits, id: 'value', title: `${of.title} at ${Number(nm.toPrecision(6))} nm` },
    },
  ]);
}

function partSlots(at: string, part: Part): Slot[] {
  const body = part.body.kind === 'mesh' ? MESH_SPECS : (bodyDefinition(part.body.kind)?.parameters ?? []);
  return [
    ...slotsAt(`${at}.body`, body, part.body),
    ...slotsAt(`${at}.frame`, PLACE, part.frame),
    ...(part.material === undefined ? [] : slotsAt(`${at}.volume`, VOLUME_SPECS, part.volume)),
    ...(part.pattern ? slotsAt(`${at}.pattern`, PATTERN_SPECS[part.pattern.kind], part.pattern) : []),
  ];
}

function sourceSlots(at: string, source: Source): Slot[] {
  const towards = source.towards ? slotsAt(`${at}.towards`, TOWARDS_SPECS, source.towards) : [];
  return [
    ...slotsAt(at, [fluxSpec(source.unit)], source),
    ...slotsAt(`${at}.region`, REGION_KINDS.find(source.region.kind)?.parameters ?? [], source.region),
    ...slotsAt(`${at}.law`, LAW_KINDS.of(source.law.kind).parameters, source.law),
    ...(source.order ? slotsAt(`${at}.order`, ORDER_SPECS[source.order.kind], source.order) : []),
    ...slotsAt(`${at}.frame`, PLACE, source.frame),
    ...towards,
  ];
}

function detectorSlots(at: string, detector: Detector): Slot[] {
  const { on } = detector;
  const size = PLACE_KINDS.find(on.kind)?.parameters ?? [];
  return [
    ...slotsAt(`${at}.on`, size, on),
    ...slotsAt(at, [...CELLS_SPECS, FLOOR_SPEC], detector),
    ...(on.kind === 'face' ? [] : slotsAt(`${at}.frame`, PLACE, detector.frame)),
  ];
}

/** Every number of a scene. */
export function sceneSlots(scene: Scene): Slot[] {
  const at = `scenes.${scene.id}`;
  return [
    ...scene.parts.flatMap((part) => partSlots(`${at}.parts.${part.id}`, part)),
    ...scene.sources.flatMap((source) => sourceSlots(`${at}.sources.${source.id}`, source)),
    ...scene.detectors.flatMap((detector) => detectorSlots(`${at}.detectors.${detector.id}`, detector)),
    ...slotsAt(`${at}.sampling`, SAMPLING_SPECS, scene.sampling),
  ];
}

/** Every number of a finish. */
export function finishSlots(finish: Finish): Slot[] {
  const at = `finishes.${finish.id}`;
  const { optics, reflected, transmitted } = finish;
  return [
    ...slotsAt(`${at}.optics`, OPTICS_KINDS.of(optics.kind).parameters, optics),
    ...(optics.kind === 'coating'
      ? optics.layers.flatMap((layer) => slotsAt(`${at}.optics.layers.${layer.id}`, layerSpecs(layer), layer))
      : []),
    ...(reflected ? slotsAt(`${at}.reflected`, SCATTER_KINDS.of(reflected.kind).parameters, reflected) : []),
    ...(transmitted ? slotsAt(`${at}.transmitted`, SCATTER_KINDS.of(transmitted.kind).parameters, transmitted) : []),
  ];
}
