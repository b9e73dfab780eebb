import type { Box, CompiledForm } from '../bodies/face-form.ts';
import type { MeshTree } from '../bodies/mesh-tree.ts';
import type { CompiledFinish } from '../finishes/finish.ts';
import type { CompiledScatter } from '../finishes/laws/law.ts';
import { shareTable } from '../finishes/share-table.ts';
import { SOBOL_DIRECTIONS } from '../math/sobol.ts';
import { channelTable } from './channels.ts';
import { mapOf } from './charts.ts';
import type { CompiledDetector } from './detectors.ts';
import * as at from './kernel-layout.ts';
import { toFace, type SceneFace, type SceneModel, type SceneSolid } from './scene-model.ts';
import type { CompiledSource } from './sources.ts';

/** Where the tables of a scene stand, and what stands there. */
export interface SceneTables {
  /** What the compiled tracer's memory is to hold from `from` on. */
  readonly bytes: Uint8Array;
  /** First free address behind it: where rays may wait. */
  readonly end: number;
  /** Addresses: of the record of the scene, its tables, and by detector of its map. */
  readonly scene: number;
  readonly faces: number;
  readonly solids: number;
  readonly detectors: number;
  readonly sources: number;
  readonly met: number;
  readonly maps: readonly number[];
  /** By detector: what all its cells have together. */
  readonly sums: readonly number[];
  /** Index of the channel by source and wavelength. */
  readonly channels: Int32Array;
  /** Laws of scatter by their numbers. */
  readonly laws: readonly CompiledScatter[];
}

const FORMS = { quadric: at.FORM_QUADRIC, flat: at.FORM_FLAT, mesh: at.FORM_MESH } as const;
const FINISHES = {
  fixed: at.FINISH_FIXED,
  bare: at.FINISH_BARE,
  metal: at.FINISH_METAL,
  films: at.FINISH_FILMS,
  angles: at.FINISH_ANGLES,
} as const;
const SPREADS = { even: at.SPREAD_EVEN, gaussian: at.SPREAD_GAUSSIAN, cone: at.SPREAD_CONE } as const;
const BSDFS = { abg: at.SPREAD_ABG, shoulder: at.SPREAD_SHOULDER } as const;
const COUNTS = {
  incident: at.COUNTS_INCIDENT,
  absorbed: at.COUNTS_ABSORBED,
  leaving: at.COUNTS_LEAVING,
} as const;

/**
 * Writes a scene as the compiled tracer reads it: see `kernel-layout.ts`.
 *
 * @param starts - indices of the bodies that each source stands in, the outermost first
 * @param from - first free address of the tracer's memory, a multiple of 16
 */
export function layScene(model: SceneModel, starts: readonly (readonly number[])[], from: number): SceneTables {
  const { faces, solids, detectors, waves, sources, tree, around } = model;
  const book = new Book(from);
  const media = [...solids, around];
  const many = Math.max(1, model.channels.length);
  const tables = {
    scene: book.take(at.SCENE_SIZE),
    faces: book.take(at.FACE_SIZE * faces.length),
    solids: book.take(at.SOLID_SIZE * solids.length),
    detectors: book.take(at.DETECTOR_SIZE * detectors.length),
    sources: book.take(at.LAUNCH_SIZE * sources.length),
    met: book.take(8 * sources.length),
    maps: detectors.map(({ size }) => book.take(8 * many * size.length)),
    sums: detectors.map(() => book.take(at.SUM_SIZE * many)),
    channels: channelTable(model.channels, sources.length, waves.length),
  };
  const laws = new LawTables(book, model.aims.length > 0);
  layThings(book, model, starts, tables, laws);
  const { splitting, threshold, events } = model.scene.sampling;
  const clear = waves.every((_, i) => around.indices[i] > 0 && around.absorption[i] === 0);
  const end = () => (book.end + 15) & ~15;
  for (const [field, value] of [
    [at.SCENE_FACES, tables.faces],
    [at.SCENE_FACE_COUNT, faces.length],
    [at.SCENE_NODES, book.floats(pairedBoxes(tree.boxes))],
    [at.SCENE_FIRST, book.words(tree.first)],
    [at.SCENE_COUNT, book.words(tree.count)],
    [at.SCENE_ORDER, book.words(tree.order)],
    [at.SCENE_SOLIDS, tables.solids],
    [at.SCENE_SOLID_COUNT, solids.length],
    [at.SCENE_INDICES, book.floats(media.flatMap((medium) => [...medium.indices]))],
    [at.SCENE_ABSORPTION, book.floats(media.flatMap((medium) => [...medium.absorption]))],
    [at.SCENE_WAVE_COUNT, waves.length],
    [at.SCENE_DETECTORS, tables.detectors],
    [at.SCENE_DETECTOR_COUNT, detectors.length],
    [at.SCENE_CHANNELS, book.words(tables.channels)],
    [at.SCENE_MET, tables.met],
    [at.SCENE_SPLIT, splitting === 'split' ? 1 : 0],
    [at.SCENE_EVENTS, events],
    [at.SCENE_CLEAR, clear ? 1 : 0],
    [at.SCENE_VOLUMES, detectors.some(({ volume }) => volume) ? 1 : 0],
    [at.SCENE_AIMS, book.floats(model.aims.flatMap(({ centre, radius }) => [...centre, radius]))],
    [at.SCENE_AIM_COUNT, model.aims.length],
    [at.SCENE_RAYS, end()],
  ])
    book.word(tables.scene + field, value);
  book.float(tables.scene + at.SCENE_THRESHOLD, threshold);
  return { ...tables, laws: laws.laws, bytes: book.bytes, end: end() };
}

/** Writes the records of faces, solids, detectors and sources. */
function layThings(
  book: Book,
  model: SceneModel,
  starts: readonly (readonly number[])[],
  tables: Pick<SceneTables, 'faces' | 'solids' | 'detectors' | 'sources' | 'maps' | 'sums'>,
  laws: LawTables,
): void {
  const { faces, solids, detectors, sources } = model;
  const meshes = new Map<MeshTree, number>();
  const directions = Int32Array.from({ length: 8 * 32 }, (_, k) => SOBOL_DIRECTIONS[k % 8]?.[k >> 3] ?? 0);
  faces.forEach((face, i) => {
    const wrapped = face.detectors.some((d) => detectors[d].chart.kind !== 'flat');
    const place = tables.faces + at.FACE_SIZE * i;
    layFace(book, place, face, meshes, wrapped);
    layFinishes(book, place, face, mediaAt(model, face), laws);
  });
  solids.forEach(({ scattering, asymmetry }, i) => {
    const place = tables.solids + at.SOLID_SIZE * i;
    book.float(place + at.SOLID_SCATTERING, scattering);
    book.float(place + at.SOLID_ASYMMETRY, asymmetry);
  });
  detectors.forEach((detector, d) =>
    layDetector(book, tables.detectors + at.DETECTOR_SIZE * d, detector, tables.maps[d], tables.sums[d]),
  );
  const digits = book.words(directions);
  sources.forEach((source, s) => {
    const place = tables.sources + at.LAUNCH_SIZE * s;
    book.word(place + at.LAUNCH_SOURCE, s);
    book.word(place + at.LAUNCH_DIRECTIONS, digits);
    book.word(place + at.LAUNCH_DEPTH, starts[s].length);
    starts[s].forEach((solid, k) => book.half(place + at.LAUNCH_STACK + 2 * k, solid));
    laySource(book, place, source);
  });
}

function layFace(book: Book, place: number, face: SceneFace, meshes: Map<MeshTree, number>, wrapped: boolean): void {
  const { shift, rotation } = toFace(face);
  const form = face.form.compiled;
  book.list(place, rotation);
  book.list(place + at.FACE_SHIFT, shift);
  const upright = rotation.every((value, k) => value === (k % 4 === 0 ? 1 : 0));
  book.word(place + at.FACE_UPRIGHT, upright ? 1 : 0);
  book.word(place + at.FACE_INNER, face.inner);
  book.word(place + at.FACE_OUTER, face.outer);
  book.word(place + at.FACE_THROUGH, face.through ? 1 : 0);
  book.word(place + at.FACE_DETECTORS, face.detectors.length);
  book.word(place + at.FACE_DETECTOR_LIST, book.words(face.detectors));
  book.word(place + at.FACE_FORM, form ? FORMS[form.kind] : at.FORM_FOREIGN);
  if (form) layForm(book, place, form, meshes);
  const [{ plain: share }] = face.optics;
  const plain = face.optics.every(
    ({ opaque, plain: shares, reflected }) => opaque && shares?.kind === 'fixed' && reflected === null,
  );
  book.word(place + at.FACE_PLAIN, form && form.kind !== 'mesh' && plain && !face.through && !wrapped ? 1 : 0);
  if (share?.kind === 'fixed') book.float(place + at.FACE_SHARE, share.reflectance);
}

function layForm(book: Book, place: number, form: CompiledForm, meshes: Map<MeshTree, number>): void {
  if (form.kind === 'mesh') {
    const { tree } = form;
    let record = meshes.get(tree);
    if (record === undefined) {
      meshes.set(tree, (record = book.take(at.MESH_SIZE)));
      book.word(record + at.MESH_BOXES, book.singles(tree.boxes));
      book.word(record + at.MESH_PAIRS, book.floats(tree.pairs));
    }
    book.word(place + at.FACE_MESH, record);
    book.list(place + at.FACE_NUMBERS, [...tree.min, ...tree.max]);
    return;
  }
  book.list(place + at.FACE_NUMBERS, form.numbers);
  if (form.kind !== 'flat') return;
  book.word(place + at.FACE_CORNERS, form.corners.length);
  book.word(place + at.FACE_CORNER_LIST, book.floats(form.corners.flat()));
  book.word(place + at.FACE_HOLES, form.holes.length);
  const holes = form.holes.flatMap(({ x, y, radius }) => [x, y, radius]);
  book.word(place + at.FACE_HOLE_LIST, book.floats(holes));
}

/** Writes the finishes of a face, one for each wavelength. */
function layFinishes(book: Book, face: number, { optics }: SceneFace, media: readonly Media[], laws: LawTables): void {
  const list = book.take(at.FINISH_SIZE * optics.length);
  book.word(face + at.FACE_OPTICS, list);
  optics.forEach((finish, wave) => {
    const place = list + at.FINISH_SIZE * wave;
    const { opaque, plain, reflected, transmitted } = finish;
    book.word(place + at.FINISH_KIND, plain ? FINISHES[plain.kind] : at.FINISH_FOREIGN);
    book.word(place + at.FINISH_OPAQUE, opaque ? 1 : 0);
    book.word(place + at.FINISH_REFLECTED, laws.of(reflected));
    book.word(place + at.FINISH_TRANSMITTED, laws.of(transmitted));
    if (plain?.kind === 'fixed') book.list(place + at.FINISH_FIRST, [plain.reflectance, plain.transmittance]);
    else if (plain?.kind === 'metal') book.list(place + at.FINISH_FIRST, [plain.index, plain.extinction]);
    else if (plain?.kind === 'angles') {
      book.word(place + at.FINISH_COUNT, plain.degrees.length);
      const numbers = [...plain.degrees, ...plain.reflectance, ...plain.transmittance];
      book.word(place + at.FINISH_TABLES, book.floats(numbers));
    } else if (plain?.kind === 'films') layFilms(book, place, finish, media, wave);
  });
}

/** Writes the tables of a coated face between the media that it may stand between. */
function layFilms(book: Book, place: number, finish: CompiledFinish, media: readonly Media[], wave: number): void {
  const known = new Map<string, readonly [n1: number, n2: number, outward: boolean]>();
  for (const [inner, outer] of media) {
    const [a, b] = [inner.indices[wave], outer.indices[wave]];
    if (!(a > 0 && b > 0)) continue;
    known.set(`${a} ${b} out`, [a, b, true]);
    known.set(`${b} ${a} in`, [b, a, false]);
  }
  const made = [...known.values()].flatMap(([n1, n2, outward]) => {
    const table = shareTable(finish, n1, n2, outward);
    return table ? [{ n1, n2, outward, ...table }] : [];
  });
  const tables = book.take(at.TABLE_SIZE * made.length);
  book.word(place + at.FINISH_TABLES, tables);
  book.word(place + at.FINISH_COUNT, made.length);
  made.forEach(({ n1, n2, outward, list, total }, k) => {
    const record = tables + at.TABLE_SIZE * k;
    book.list(record + at.TABLE_BEFORE, [n1, n2]);
    book.word(record + at.TABLE_OUTWARD, outward ? 1 : 0);
    book.word(record + at.TABLE_COUNT, list.length / 2 - 1);
    book.word(record + at.TABLE_LIST, book.shared(list));
    book.word(record + at.TABLE_TOTAL_COUNT, total.length / 2 - 1);
    book.word(record + at.TABLE_TOTAL_LIST, book.shared(total));
  });
}

/** Inside and outside of a face. */
type Media = readonly [inner: Pick<SceneSolid, 'indices'>, outer: Pick<SceneSolid, 'indices'>];

/** Most media that a face is looked at between. */
const MOST_MEDIA = 8;

/** What may be on both sides of a face: what it says, or else what is around, and bodies that reach to it. */
function mediaAt({ faces, solids, around }: SceneModel, face: SceneFace): readonly Media[] {
  if (face.optics.every(({ plain }) => plain?.kind !== 'films')) return [];
  if (face.inner >= 0 && face.outer >= 0) return [[solids[face.inner], solids[face.outer]]];
  const near = new Set<number>();
  for (const { inner, box } of faces) if (inner >= 0 && inner !== face.inner && touch(box, face.box)) near.add(inner);
  const outside = [around, ...[...near].slice(0, MOST_MEDIA).map((solid) => solids[solid])];
  // On both sides of a sheet is the same.
  return outside.map((medium) => [face.inner >= 0 ? solids[face.inner] : medium, medium]);
}

function touch(a: Box, b: Box): boolean {
  return [0, 1, 2].every((axis) => a.min[axis] <= b.max[axis] && b.min[axis] <= a.max[axis]);
}

/** Writes each law of scatter once. */
class LawTables {
  readonly #book: Book;
  readonly #aimed: boolean;
  readonly #places = new Map<CompiledScatter, number>();

  /** @param aimed - whether scattered light is aimed at anything */
  constructor(book: Book, aimed: boolean) {
    this.#book = book;
    this.#aimed = aimed;
  }

  get laws(): readonly CompiledScatter[] {
    return [...this.#places.keys()];
  }

  /** Where a law stands; 0 for none. */
  of(law: CompiledScatter | null): number {
    if (!law) return 0;
    const known = this.#places.get(law);
    if (known !== undefined) return known;
    const book = this.#book;
    const place = book.take(at.SCATTER_SIZE);
    book.word(place + at.SCATTER_NUMBER, this.#places.size);
    this.#places.set(law, place);
    const { plain } = law;
    if (!plain) return place;
    if (plain.kind === 'lobe') {
      book.word(place + at.SCATTER_KIND, plain.bsdf ? BSDFS[plain.bsdf.kind] : at.SPREAD_LOBE);
      if (plain.bsdf) book.list(place + at.SCATTER_FIRST, plain.bsdf.numbers);
      book.word(place + at.SCATTER_TOTALS, book.shared(plain.totals));
      book.word(place + at.SCATTER_RADII, book.shared(plain.radii));
      return place;
    }
    book.word(place + at.SCATTER_KIND, SPREADS[plain.kind]);
    book.float(place + at.SCATTER_FIRST, plain.share);
    if (plain.kind === 'even') return place;
    book.float(place + at.SCATTER_SECOND, plain.width);
    if (this.#aimed) book.word(place + at.SCATTER_KEPT, book.shared(plain.kept()));
    return place;
  }
}

function layDetector(
  book: Book,
  place: number,
  { detector, range, toOwn, chart, size }: CompiledDetector,
  map: number,
  sums: number,
): void {
  const { x, y } = range;
  const { columns, rows } = detector;
  book.list(place + at.DETECTOR_X, [x[0], y[0], columns / (x[1] - x[0]), rows / (y[1] - y[0])]);
  book.word(place + at.DETECTOR_COLUMNS, columns);
  book.word(place + at.DETECTOR_ROWS, rows);
  book.word(place + at.DETECTOR_MAP, map);
  book.word(place + at.DETECTOR_CELLS, size.length);
  book.word(place + at.DETECTOR_SUMS, sums);
  book.word(place + at.DETECTOR_COUNTS, COUNTS[detector.counts]);
  const { kind, radius } = mapOf(chart);
  book.word(place + at.DETECTOR_CHART, kind);
  book.float(place + at.DETECTOR_RADIUS, radius);
  if (chart.kind !== 'directions') return;
  book.word(place + at.DETECTOR_FAR, 1);
  book.list(place + at.DETECTOR_TURN, toOwn!.rotation);
}

function laySource(book: Book, place: number, { plain }: CompiledSource): void {
  if (!plain) return;
  const [region, first, second] = plain.region;
  const [law, value] = plain.law;
  book.list(place, plain.pose.rotation);
  book.list(place + at.LAUNCH_SHIFT, plain.pose.shift);
  book.list(place + at.LAUNCH_REGION, [first, second, value]);
  book.word(place + at.LAUNCH_REGION_KIND, region === 'disc' ? at.REGION_DISC : at.REGION_RECTANGLE);
  book.word(place + at.LAUNCH_LAW_KIND, law === 'sine' ? at.LAW_SINE : at.LAW_DEPTH);
  book.word(place + at.LAUNCH_LINES, plain.lines.length);
  book.word(place + at.LAUNCH_LINE_LIST, book.words(plain.lines));
  book.word(place + at.LAUNCH_BELOW, book.floats(plain.below));
}

/** Boxes of neighbouring nodes (2k + 1 and 2k + 2) side by side: both lower bounds in x, y, z, then the upper ones. The root goes alone. */
function pairedBoxes(boxes: Float64Array): Float64Array {
  const paired = new Float64Array(boxes.length + 6);
  for (let node = 1; 6 * node + 12 <= boxes.length; node += 2)
    for (let bound = 0; bound < 6; bound++)
      for (let k = 0; k < 2; k++) paired[6 * node + 2 * bound + k] = boxes[6 * (node + k) + bound];
  return paired;
}

/** Memory that is written before it is known how much is needed; addresses count from `from`. */
class Book {
  readonly #from: number;
  #used = 0;
  #buffer = new ArrayBuffer(1 << 16);
  readonly #lists = new Map<Float64Array, number>();

  constructor(from: number) {
    this.#from = from;
  }

  get end(): number {
    return this.#from + this.#used;
  }

  get bytes(): Uint8Array {
    return new Uint8Array(this.#buffer, 0, this.#used);
  }

  /** Room for so many bytes, all 0, beginning with a line of the cache. */
  take(bytes: number): number {
    const place = ((this.end + 63) & ~63) - this.#from;
    this.#used = place + bytes;
    if (this.#used > this.#buffer.byteLength) {
      const larger = new ArrayBuffer(Math.max(2 * this.#buffer.byteLength, this.#used + 64));
      new Uint8Array(larger).set(new Uint8Array(this.#buffer));
      this.#buffer = larger;
    }
    return this.#from + place;
  }

  word(place: number, value: number): void {
    new Int32Array(this.#buffer, place - this.#from, 1)[0] = value;
  }

  half(place: number, value: number): void {
    new Uint16Array(this.#buffer, place - this.#from, 1)[0] = value;
  }

  float(place: number, value: number): void {
    new Float64Array(this.#buffer, place - this.#from, 1)[0] = value;
  }

  /** Numbers one after another in a place that was taken. */
  list(place: number, values: ArrayLike<number>): void {
    new Float64Array(this.#buffer, place - this.#from, values.length).set(values);
  }

  words(values: ArrayLike<number>): number {
    const place = this.take(4 * values.length);
    new Int32Array(this.#buffer, place - this.#from, values.length).set(values);
    return place;
  }

  floats(values: ArrayLike<number>): number {
    const place = this.take(8 * values.length);
    this.list(place, values);
    return place;
  }

  /** The same list of numbers is written once. */
  shared(values: Float64Array): number {
    const known = this.#lists.get(values);
    if (known !== undefined) return known;
    const place = this.floats(values);
    this.#lists.set(values, place);
    return place;
  }

  singles(values: ArrayLike<number>): number {
    const place = this.take(4 * values.length);
    new Float32Array(this.#buffer, place - this.#from, values.length).set(values);
    return place;
  }
}
