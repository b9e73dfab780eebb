// What the compiled tracers and TypeScript share in memory, declared once: `npm run kernels` makes the offsets for both languages of it
// (core/src/scene/records.generated.ts and core/src/compute/records.generated.ts). Fields follow each other in this order; one that would
// leave a hole is refused. A number after a type is how many of it there are.

/** Bodies that a ray may be in at once. */
const DEPTH = 8;

/** @typedef {readonly [name: string, type: 'f64' | 'f32' | 'i32' | 'u32' | 'u16' | 'i16' | 'u8', meaning: string, count?: number]} Field */

/** Records of the tracer of scenes. `align`: what their size is a multiple of, 64 for a line of the cache. */
export const SCENE_RECORDS = [
  {
    name: 'RAY',
    meaning: 'A ray that waits.',
    align: 16,
    fields: [
      ['X', 'f64', 'Place.'],
      ['Y', 'f64', ''],
      ['Z', 'f64', ''],
      ['L', 'f64', 'Direction.'],
      ['M', 'f64', ''],
      ['N', 'f64', ''],
      ['FLUX', 'f64', 'W.'],
      ['FIRST', 'f64', 'Flux of its launch, or of the aimed ray that it comes from.'],
      ['KEY_A', 'u32', 'Key of its random numbers.'],
      ['KEY_B', 'u32', ''],
      ['DRAWS', 'u32', 'Random numbers drawn so far.'],
      ['WAVE', 'i32', 'Index of its wavelength.'],
      ['FRESH', 'i32', 'Marks: see MARK_FRESH.'],
      ['SOURCE', 'i32', 'Index of its source.'],
      ['EVENTS', 'i32', 'Faces met and scatterings so far.'],
      ['DEPTH', 'i32', 'How many bodies it is in.'],
      ['STACK', 'u16', 'Which ones, the innermost last.', DEPTH],
    ],
  },
  {
    name: 'FACE',
    meaning: 'A face.',
    align: 64,
    fields: [
      ['TURN', 'f64', 'Rotation to its own coordinates, by rows.', 9],
      ['SHIFT', 'f64', 'Shift after it.', 3],
      ['NUMBERS', 'f64', 'Numbers of its form; lower and upper bounds of a mesh.', 10],
      ['ABSORBED', 'f64', 'Absorbed flux, W.'],
      ['SHARE', 'f64', 'What a plain one reflects.'],
      ['FORM', 'i32', 'See FORM_FOREIGN.'],
      ['INNER', 'i32', 'Index of the solid that its normal points out of; −1 for a sheet.'],
      ['OUTER', 'i32', 'Index of the solid behind it where that is known; −1 for whatever is around.'],
      ['THROUGH', 'i32', 'Whether light passes it unhindered.'],
      ['UPRIGHT', 'i32', 'Whether it is moved without being turned.'],
      ['OPTICS', 'u32', 'Its finishes, one for each wavelength.'],
      ['DETECTORS', 'i32', 'How many detectors are on it.'],
      ['DETECTOR_LIST', 'u32', 'Their indices.'],
      ['CORNERS', 'i32', 'How many corners a polygon has.'],
      ['CORNER_LIST', 'u32', ''],
      ['HOLES', 'i32', 'How many holes a flat face has.'],
      ['HOLE_LIST', 'u32', ''],
      ['MESH', 'u32', 'The mesh that it is, if it is one.'],
      ['PLAIN', 'i32', 'Whether it is an absorber or mirror of fixed share, of a form that the compiled tracer knows.'],
    ],
  },
  {
    name: 'MESH',
    meaning: 'A mesh.',
    align: 8,
    fields: [
      ['BOXES', 'u32', 'Its nodes.'],
      ['PAIRS', 'u32', 'Its pairs of triangles.'],
    ],
  },
  {
    name: 'FINISH',
    meaning: 'A finish at one wavelength.',
    align: 16,
    fields: [
      ['FIRST', 'f64', 'Shares reflected and let through, or n and k of a metal.'],
      ['SECOND', 'f64', ''],
      ['KIND', 'i32', 'See FINISH_FOREIGN.'],
      ['OPAQUE', 'i32', 'Whether nothing is ever let through.'],
      ['TABLES', 'u32', 'Tables of a coated face (see TABLE), or degrees, then shares, of one that is a table itself.'],
      ['COUNT', 'i32', 'How many.'],
      ['REFLECTED', 'u32', 'Law by which what is reflected is spread; 0 for none.'],
      ['TRANSMITTED', 'u32', 'Law by which what goes through is spread; 0 for none.'],
    ],
  },
  {
    name: 'TABLE',
    meaning: 'Shares of a coated face between two media, at one wavelength.',
    align: 8,
    fields: [
      ['BEFORE', 'f64', 'Index before it.'],
      ['BEHIND', 'f64', 'Index behind it.'],
      ['OUTWARD', 'i32', 'Whether light comes from the inside of the body.'],
      ['COUNT', 'i32', 'Steps of its list: shares reflected and let through, alternately, over `coatedPlace`.'],
      ['LIST', 'u32', ''],
      ['TOTAL_COUNT', 'i32', 'The same where the medium behind knows no such angle.'],
      ['TOTAL_LIST', 'u32', ''],
      ['SPARE', 'i32', ''],
    ],
  },
  {
    name: 'SCATTER',
    meaning: 'A law of scatter.',
    align: 8,
    fields: [
      ['FIRST', 'f64', 'Share of the light; first number of a BSDF.'],
      ['SECOND', 'f64', 'Sine of the spread, power of the cosine; second number of a BSDF.'],
      ['THIRD', 'f64', 'Third number of a BSDF.'],
      ['KIND', 'i32', 'See SPREAD_FOREIGN.'],
      ['NUMBER', 'i32', 'Index among the laws of the scene, for calls.'],
      ['TOTALS', 'u32', 'Total scatter of a lobe, by the sine of incidence.'],
      ['RADII', 'u32', 'Squares of the radii of a lobe, in equal steps of its distribution.'],
      ['KEPT', 'u32', 'Share of the draws that come out above the face, by `grazingPlace`.'],
      ['SPARE', 'i32', ''],
    ],
  },
  {
    name: 'AIM',
    meaning: 'A ball that scattered light is aimed at.',
    align: 8,
    fields: [
      ['X', 'f64', 'Its middle.'],
      ['Y', 'f64', ''],
      ['Z', 'f64', ''],
      ['RADIUS', 'f64', 'mm.'],
    ],
  },
  {
    name: 'SOLID',
    meaning: 'A body; index and absorption for each wavelength stand in lists of their own. The last one is what is around.',
    align: 8,
    fields: [
      ['SCATTERING', 'f64', '1/mm.'],
      ['ASYMMETRY', 'f64', ''],
      ['ABSORBED', 'f64', 'Absorbed flux, W.'],
    ],
  },
  {
    name: 'DETECTOR',
    meaning: 'A detector.',
    align: 64,
    fields: [
      ['X', 'f64', 'Where its map begins.'],
      ['Y', 'f64', ''],
      ['ACROSS', 'f64', 'Cells a unit of length or angle.'],
      ['UP', 'f64', ''],
      ['TURN', 'f64', 'Rotation of a map of the far field, by rows.', 9],
      ['RADIUS', 'f64', 'Of its map, mm.'],
      ['COLUMNS', 'i32', ''],
      ['ROWS', 'i32', ''],
      ['CELLS', 'i32', 'Cells of its map in each channel.'],
      ['MAP', 'u32', 'Its cells, channel by channel, W.'],
      ['SUMS', 'u32', 'What all its cells have together, by channel: see SUM.'],
      ['COUNTS', 'i32', 'See COUNTS_INCIDENT.'],
      ['FAR', 'i32', 'Whether it counts what leaves the scene.'],
      ['CHART', 'i32', 'How its map is wrapped round its face: see `physics/cells.ts`.'],
    ],
  },
  {
    name: 'SUM',
    meaning: 'What all cells of a detector have together in one channel.',
    align: 8,
    fields: [
      ['MOMENTS', 'f64', 'flux, flux·x, flux·y, flux·x², flux·y².', 5],
      ['HITS', 'f64', 'Rays counted.'],
    ],
  },
  {
    name: 'SCENE',
    meaning: 'What the tracer is told about a scene: addresses, counts, choices.',
    align: 64,
    fields: [
      ['LEDGER', 'f64', 'W: detected, absorbed, in bodies, escaped, cut off, by lot.', 6],
      ['THRESHOLD', 'f64', ''],
      ['FACES', 'u32', ''],
      ['FACE_COUNT', 'i32', ''],
      ['NODES', 'u32', 'The tree of boxes.'],
      ['FIRST', 'u32', ''],
      ['COUNT', 'u32', ''],
      ['ORDER', 'u32', ''],
      ['SOLIDS', 'u32', ''],
      ['SOLID_COUNT', 'i32', ''],
      ['INDICES', 'u32', 'By solid and wavelength.'],
      ['ABSORPTION', 'u32', ''],
      ['WAVE_COUNT', 'i32', ''],
      ['DETECTORS', 'u32', ''],
      ['DETECTOR_COUNT', 'i32', ''],
      ['CHANNELS', 'u32', 'Index of the channel by source and wavelength.'],
      ['MET', 'u32', 'By source: rays that met anything.'],
      ['SPLIT', 'i32', 'Whether light is split at faces.'],
      ['EVENTS', 'i32', 'Most events of a ray.'],
      ['RAYS', 'u32', 'Where rays wait.'],
      ['CLEAR', 'i32', 'Whether what is around all bodies has an index and takes no light.'],
      ['VOLUMES', 'i32', 'Whether any detector is a block of cells.'],
      ['AIMS', 'u32', 'The balls that scattered light is aimed at.'],
      ['AIM_COUNT', 'i32', ''],
    ],
  },
  {
    name: 'LAUNCH',
    meaning: 'A source that the compiled tracer launches by itself.',
    align: 64,
    fields: [
      ['TURN', 'f64', 'Rotation from its own coordinates, by rows.', 9],
      ['SHIFT', 'f64', 'Shift after it.', 3],
      ['REGION', 'f64', 'See REGION_DISC.', 2],
      ['LAW', 'f64', 'See LAW_SINE.'],
      ['FLUX', 'f64', 'Of a ray, W.'],
      ['STACK', 'u16', 'Which bodies it stands in, the innermost last.', DEPTH],
      ['DIGITS', 'u32', 'The digits of the next point of its sequence.', 5],
      ['INDEX', 'u32', 'Index of that point.'],
      ['DIRECTIONS', 'u32', 'Direction numbers of the sequence: 8 words a bit, by coordinate.'],
      ['REGION_KIND', 'i32', ''],
      ['LAW_KIND', 'i32', ''],
      ['KEY_A', 'u32', ''],
      ['KEY_B', 'u32', ''],
      ['SOURCE', 'i32', 'Its index.'],
      ['LINES', 'i32', 'How many wavelengths it has.'],
      ['LINE_LIST', 'u32', 'Their indices.'],
      ['BELOW', 'u32', 'The shares of the flux up to each.'],
      ['DEPTH', 'i32', 'How many bodies it stands in.'],
    ],
  },
];

/** Columns of blocks of rays: one ray a lane, each column `rays` fields long. */
export const SCENE_COLUMNS = {
  name: 'BLOCK',
  meaning: 'Rays under way in the tracer of scenes. A ray is named by the offset of its place in a column of 8 bytes.',
  rays: 128, // few enough for the nearest cache
  fields: [
    ['X', 'f64', 'Place.'],
    ['Y', 'f64', ''],
    ['Z', 'f64', ''],
    ['L', 'f64', 'Direction.'],
    ['M', 'f64', ''],
    ['N', 'f64', ''],
    ['FLUX', 'f64', 'W.'],
    ['FIRST', 'f64', 'Flux of its launch, or of the aimed ray that it comes from.'],
    ['KEYS', 'u32', 'Key of its random numbers: two words.', 2],
    ['DRAWS', 'u32', 'Random numbers drawn so far; index of its wavelength.', 2],
    ['FRESH', 'i32', 'Marks; index of its source.', 2],
    ['EVENTS', 'i32', 'Events so far; how many bodies it is in.', 2],
    ['STACK', 'u16', 'Which ones, the innermost last.', DEPTH],
    ['HIT', 'i32', 'Index of the face that it meets next, −1 for none, twice.', 2],
    ['BEST', 'f64', 'How far off.'],
    ['RANK', 'f64', 'Its rank where faces touch.'],
    ['TRIANGLE', 'i32', 'The triangle of a mesh that it meets.', 2],
  ],
};

export const TRACE_COLUMNS = {
  name: 'TRACE',
  meaning: 'Rays on their way through a lens.',
  rays: 256, // few enough for the nearest cache
  fields: [
    ['X', 'f64', 'Place.'],
    ['Y', 'f64', ''],
    ['Z', 'f64', ''],
    ['L', 'f64', 'Direction.'],
    ['M', 'f64', ''],
    ['N', 'f64', ''],
    ['PATH', 'f64', 'Optical path, mm.'],
    ['NX', 'f64', 'Normal where it met the surface.'],
    ['NY', 'f64', ''],
    ['NZ', 'f64', ''],
    ['T', 'f64', 'Distance to the surface.'],
    ['AT', 'i16', 'Surface that it ended at.'],
    ['STATUS', 'u8', 'Why it ended; 0 while it goes on.'],
  ],
};

const SIZES = { f64: 8, f32: 4, i32: 4, u32: 4, u16: 2, i16: 2, u8: 1 };

/**
 * Offsets of the fields of a record, and its size.
 *
 * @throws where a name stands twice, a type is unknown or a field would leave a hole
 */
export function offsetsOf({ name, fields, align = 1, rays = 1 }) {
  const offsets = new Map();
  let end = 0;
  for (const [field, type, , count = 1] of fields) {
    const size = SIZES[type];
    if (!size) throw new Error(`${name}_${field}: there is no type ${type}`);
    if (offsets.has(field)) throw new Error(`${name}_${field} stands twice`);
    if (end % size !== 0) throw new Error(`${name}_${field} would leave a hole: ${end} is no multiple of ${size}`);
    offsets.set(field, end);
    end += size * count * rays;
  }
  return { offsets, size: Math.ceil(end / align) * align };
}

/** The file of constants that both languages read. */
export function constantsOf(records) {
  const lines = ['// Made by `npm run kernels` from core/kernels/records.mjs; not to be edited.'];
  for (const record of records) {
    const { offsets, size } = offsetsOf(record);
    lines.push('', `/** ${record.meaning} */`, `export const ${record.name}_SIZE = ${size};`);
    if (record.rays) lines.push(`/** Rays in a block. */`, `export const ${record.name}_RAYS = ${record.rays};`);
    for (const [field, , meaning] of record.fields) {
      if (meaning) lines.push(`/** ${meaning} */`);
      lines.push(`export const ${record.name}_${field} = ${offsets.get(field)};`);
    }
  }
  return `${lines.join('\n')}\n`;
}
