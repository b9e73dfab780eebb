import type { MeshTree } from '../bodies/mesh-tree.ts';
import { MOST_MEETINGS } from '../bodies/face-form.ts';
import { SCENE_KERNEL_BYTES } from '../compute/kernel-bytes.generated.ts';
import { compileKernel, type KernelModule } from '../compute/wasm.ts';
import type { FaceShares } from '../finishes/fresnel.ts';
import { lumensPerWatt } from '../light/luminous.ts';
import { KeyedRandom, mixBits, RandomStream } from '../math/random.ts';
import { ShiftedSobol, SOBOL_DIRECTIONS } from '../math/sobol.ts';
import * as at from './kernel-layout.ts';
import { toFace, type SceneModel } from './scene-model.ts';
import { LAUNCH_DIMENSIONS } from './sources.ts';
import { MOMENTS, TallySum, type Mishap } from './tally.ts';
import type { ChunkTracer } from './tracer.ts';

interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer; grow(pages: number): number };
  heap(): number;
  meetings(): number;
  returned(): number;
  configure(record: number): void;
  launch(source: number, waiting: number, from: number, to: number, room: number): number;
  trace(waiting: number, keep: number, room: number): void;
  waits(): number;
  underWay(): number;
}

const PAGE = 65536;
/** Most children of a round of the compiled tracer, and some. */
const CHILDREN = 512;
/** Rays that are launched before the tracer takes them on. */
const LAUNCHED = 128;
/** Places for rays that wait, at first; more are made when they are needed. */
const ROOM = 4096;
const COUNTS = {
  incident: at.COUNTS_INCIDENT,
  absorbed: at.COUNTS_ABSORBED,
  leaving: at.COUNTS_LEAVING,
} as const;
const FORMS = { quadric: at.FORM_QUADRIC, flat: at.FORM_FLAT, mesh: at.FORM_MESH } as const;
const FINISHES = { fixed: at.FINISH_FIXED, bare: at.FINISH_BARE, metal: at.FINISH_METAL } as const;
/** In the order in which the compiled tracer keeps them. */
const LEDGER = ['detected', 'absorbed', 'inBodies', 'escaped', 'cutOff', 'byLot'] as const;
const MISHAPS: Readonly<Record<number, Mishap['kind']>> = {
  [at.MISHAP_OVERLAP]: 'overlap',
  [at.MISHAP_LEAK]: 'leak',
  [at.MISHAP_OPAQUE]: 'opaque',
};

let module: KernelModule | null | undefined;

/** Whether this machine and this scene can have the compiled tracer. */
export function canTraceBlocks({ solids, faces }: SceneModel): boolean {
  if (module === undefined) module = compileKernel(SCENE_KERNEL_BYTES);
  return module !== null && solids.length < 0xffff && faces.length > 0;
}

/**
 * `SceneTracer` in compiled form: the same events and random numbers for each ray, in blocks of them, sums in another order. What only
 * TypeScript knows (faces of free shapes, films, lobes of scatter) is asked of it ray by ray.
 */
export class BlockTracer implements ChunkTracer {
  readonly model: SceneModel;
  readonly #starts: readonly (readonly number[])[];
  readonly #kernel: Exports;
  readonly #scene: number;
  readonly #rays: number;
  #room: number;
  readonly #maps: readonly number[];
  readonly #met: number;
  readonly #tables: {
    readonly faces: number;
    readonly solids: number;
    readonly detectors: number;
    readonly sources: number;
  };
  #floats: Float64Array;
  #words: Int32Array;
  #halves: Uint16Array;
  readonly #random = new KeyedRandom();
  #sum: TallySum;
  readonly #u = new Float64Array(LAUNCH_DIMENSIONS);
  readonly #ray = new Float64Array(6);

  /**
   * @param starts - indices of the bodies that each source stands in, the outermost first
   * @param room - places for rays that wait, at first
   */
  constructor(model: SceneModel, starts: readonly (readonly number[])[], room = ROOM) {
    this.model = model;
    this.#room = Math.max(room, CHILDREN + LAUNCHED);
    this.#starts = starts;
    this.#sum = new TallySum([], 0, 0, 0);
    this.#kernel = module!.instantiate({ env: this.#foreign() }) as Exports;
    const { faces, solids, detectors, waves, sources, tree } = model;
    // Addresses first, as the memory may have to grow for them; then what stands there.
    let free = (this.#kernel.heap() + 15) & ~15;
    const take = (bytes: number) => {
      const place = free;
      free += (bytes + 15) & ~15;
      return place;
    };
    const words = (list: ArrayLike<number>) => ({ place: take(4 * list.length), list });
    const floats = (list: ArrayLike<number>) => ({ place: take(8 * list.length), list });
    const scene = take(at.SCENE_SIZE);
    const faceTable = take(at.FACE_SIZE * faces.length);
    const optics = take(at.FINISH_SIZE * faces.length * waves.length);
    const solidTable = take(at.SOLID_SIZE * solids.length);
    const detectorTable = take(at.DETECTOR_SIZE * detectors.length);
    const met = take(8 * sources.length);
    const sourceTable = take(at.LAUNCH_SIZE * sources.length);
    const directions = words(Array.from({ length: 8 * 32 }, (_, k) => (SOBOL_DIRECTIONS[k % 8]?.[k >> 3] ?? 0) | 0)); // prettier-ignore
    const lines = sources.map(({ plain }) => words(plain?.lines ?? []));
    const below = sources.map(({ plain }) => floats(plain?.below ?? []));
    const nodes = floats(pairedBoxes(tree.boxes));
    const [first, count, order] = [words(tree.first), words(tree.count), words(tree.order)];
    const media = [...solids, model.around];
    const indices = floats(media.flatMap((medium) => [...medium.indices]));
    const absorption = floats(media.flatMap((medium) => [...medium.absorption]));
    const lumens = floats(waves.map(lumensPerWatt));
    const lists = faces.map((face) => words(face.detectors));
    const forms = faces.map(({ form }) => form.compiled);
    const corners = forms.map((form) => floats(form?.kind === 'flat' ? form.corners.flat() : []));
    const holes = forms.map((form) =>
      floats(form?.kind === 'flat' ? form.holes.flatMap(({ x, y, radius }) => [x, y, radius]) : []),
    );
    const meshes = new Map<MeshTree, { record: number; boxes: number; pairs: number }>();
    for (const form of forms) {
      if (form?.kind !== 'mesh' || meshes.has(form.tree)) continue;
      const { boxes, pairs } = form.tree;
      free = (free + 63) & ~63; // nodes begin with a line of the cache
      const places = { boxes: take(4 * boxes.length), pairs: take(8 * pairs.length) };
      meshes.set(form.tree, { record: take(at.MESH_SIZE), ...places });
    }
    this.#maps = detectors.map(({ size }) => take(8 * size.length));
    this.#rays = free;
    this.#scene = scene;
    this.#met = met;
    this.#tables = { faces: faceTable, solids: solidTable, detectors: detectorTable, sources: sourceTable };
    const { memory } = this.#kernel;
    const needed = free + this.#room * at.RAY_SIZE - memory.buffer.byteLength;
    if (needed > 0) memory.grow(Math.ceil(needed / PAGE));
    this.#floats = new Float64Array(memory.buffer);
    this.#words = new Int32Array(memory.buffer);
    this.#halves = new Uint16Array(memory.buffer);

    const word = (place: number, value: number) => (this.#words[place >> 2] = value);
    const float = (place: number, value: number) => (this.#floats[place >> 3] = value);
    for (const { place, list } of [first, count, order, directions, ...lists, ...lines])
      this.#words.set(list, place >> 2);
    for (const { place, list } of [nodes, indices, absorption, lumens, ...corners, ...holes, ...below])
      this.#floats.set(list, place >> 3);

    const { buffer } = memory;
    for (const [{ boxes, pairs }, places] of meshes) {
      new Float32Array(buffer, places.boxes).set(boxes);
      this.#floats.set(pairs, places.pairs >> 3);
      word(places.record + at.MESH_BOXES, places.boxes);
      word(places.record + at.MESH_PAIRS, places.pairs);
    }
    faces.forEach((face, i) => {
      const place = faceTable + at.FACE_SIZE * i;
      const { shift, rotation } = toFace(face);
      this.#floats.set(rotation, place >> 3);
      this.#floats.set(shift, (place + at.FACE_SHIFT) >> 3);
      word(place + at.FACE_UPRIGHT, rotation.every((value, k) => value === (k % 4 === 0 ? 1 : 0)) ? 1 : 0);
      word(place + at.FACE_INNER, face.inner);
      word(place + at.FACE_OUTER, face.outer);
      word(place + at.FACE_THROUGH, face.through ? 1 : 0);
      word(place + at.FACE_OPTICS, optics + at.FINISH_SIZE * waves.length * i);
      word(place + at.FACE_DETECTORS, face.detectors.length);
      word(place + at.FACE_DETECTOR_LIST, lists[i].place);
      const form = forms[i];
      word(place + at.FACE_FORM, form ? FORMS[form.kind] : at.FORM_FOREIGN);
      if (form) {
        const numbers = form.kind === 'mesh' ? [...form.tree.min, ...form.tree.max] : form.numbers;
        this.#floats.set(numbers, (place + at.FACE_NUMBERS) >> 3);
      }
      if (form?.kind === 'mesh') word(place + at.FACE_MESH, meshes.get(form.tree)!.record);
      if (form?.kind === 'flat') {
        word(place + at.FACE_CORNERS, form.corners.length);
        word(place + at.FACE_CORNER_LIST, corners[i].place);
        word(place + at.FACE_HOLES, form.holes.length);
        word(place + at.FACE_HOLE_LIST, holes[i].place);
      }
      const plain = face.optics.every(
        ({ opaque, plain: shares, reflected }) => opaque && shares?.kind === 'fixed' && reflected === null,
      );
      word(place + at.FACE_PLAIN, form && form.kind !== 'mesh' && plain && !face.through ? 1 : 0);
      const share = face.optics[0].plain;
      if (share?.kind === 'fixed') float(place + at.FACE_SHARE, share.reflectance);
      face.optics.forEach(({ opaque, plain, reflected, transmitted }, wave) => {
        const finish = optics + at.FINISH_SIZE * (waves.length * i + wave);
        word(finish + at.FINISH_KIND, plain ? FINISHES[plain.kind] : at.FINISH_FOREIGN);
        word(finish + at.FINISH_OPAQUE, opaque ? 1 : 0);
        const spread = [reflected, transmitted].map((one) =>
          one === null ? at.SPREAD_NONE : one.even === undefined ? at.SPREAD_FOREIGN : at.SPREAD_EVEN,
        );
        word(finish + at.FINISH_REFLECTED, spread[0]);
        word(finish + at.FINISH_TRANSMITTED, spread[1]);
        float(finish + at.FINISH_EVEN_R, reflected?.even ?? 0);
        float(finish + at.FINISH_EVEN_T, transmitted?.even ?? 0);
        if (plain?.kind === 'fixed') {
          float(finish + at.FINISH_FIRST, plain.reflectance);
          float(finish + at.FINISH_SECOND, plain.transmittance);
        } else if (plain?.kind === 'metal') {
          float(finish + at.FINISH_FIRST, plain.index);
          float(finish + at.FINISH_SECOND, plain.extinction);
        }
      });
    });
    solids.forEach(({ scattering, asymmetry }, i) => {
      float(solidTable + at.SOLID_SIZE * i + at.SOLID_SCATTERING, scattering);
      float(solidTable + at.SOLID_SIZE * i + at.SOLID_ASYMMETRY, asymmetry);
    });
    detectors.forEach(({ detector, range: { x, y }, toOwn }, d) => {
      const place = detectorTable + at.DETECTOR_SIZE * d;
      float(place + at.DETECTOR_X, x[0]);
      float(place + at.DETECTOR_Y, y[0]);
      float(place + at.DETECTOR_ACROSS, detector.columns / (x[1] - x[0]));
      float(place + at.DETECTOR_UP, detector.rows / (y[1] - y[0]));
      word(place + at.DETECTOR_COLUMNS, detector.columns);
      word(place + at.DETECTOR_ROWS, detector.rows);
      word(place + at.DETECTOR_MAP, this.#maps[d]);
      word(place + at.DETECTOR_PHOTOMETRIC, detector.light === 'photometric' ? 1 : 0);
      word(place + at.DETECTOR_COUNTS, COUNTS[detector.counts]);
      if (detector.on.kind !== 'far') return;
      word(place + at.DETECTOR_FAR, 1);
      this.#floats.set(toOwn!.rotation, (place + at.DETECTOR_TURN) >> 3);
    });
    sources.forEach(({ plain }, s) => {
      if (!plain) return;
      const place = sourceTable + at.LAUNCH_SIZE * s;
      const [region, firstSize, secondSize] = plain.region;
      const [law, value] = plain.law;
      this.#floats.set(plain.pose.rotation, place >> 3);
      this.#floats.set(plain.pose.shift, (place + at.LAUNCH_SHIFT) >> 3);
      this.#floats.set([firstSize, secondSize, value], (place + at.LAUNCH_REGION) >> 3);
      word(place + at.LAUNCH_REGION_KIND, region === 'disc' ? at.REGION_DISC : at.REGION_RECTANGLE);
      word(place + at.LAUNCH_LAW_KIND, law === 'sine' ? at.LAW_SINE : at.LAW_DEPTH);
      word(place + at.LAUNCH_SOURCE, s);
      word(place + at.LAUNCH_LINES, plain.lines.length);
      word(place + at.LAUNCH_LINE_LIST, lines[s].place);
      word(place + at.LAUNCH_BELOW, below[s].place);
      word(place + at.LAUNCH_DIRECTIONS, directions.place);
      word(place + at.LAUNCH_DEPTH, starts[s].length);
      this.#halves.set(starts[s], (place + at.LAUNCH_STACK) >> 1);
    });
    const { around } = model;
    const clear = waves.every((_, i) => around.indices[i] > 0 && around.absorption[i] === 0);
    const { splitting, threshold, events } = model.scene.sampling;
    for (const [field, value] of [
      [at.SCENE_FACES, faceTable],
      [at.SCENE_FACE_COUNT, faces.length],
      [at.SCENE_NODES, nodes.place],
      [at.SCENE_FIRST, first.place],
      [at.SCENE_COUNT, count.place],
      [at.SCENE_ORDER, order.place],
      [at.SCENE_SOLIDS, solidTable],
      [at.SCENE_SOLID_COUNT, solids.length],
      [at.SCENE_INDICES, indices.place],
      [at.SCENE_ABSORPTION, absorption.place],
      [at.SCENE_WAVE_COUNT, waves.length],
      [at.SCENE_DETECTORS, detectorTable],
      [at.SCENE_DETECTOR_COUNT, detectors.length],
      [at.SCENE_LUMENS, lumens.place],
      [at.SCENE_MET, met],
      [at.SCENE_SPLIT, splitting === 'split' ? 1 : 0],
      [at.SCENE_EVENTS, events],
      [at.SCENE_RAYS, this.#rays],
      [at.SCENE_CLEAR, clear ? 1 : 0],
    ])
      word(scene + field, value);
    float(scene + at.SCENE_THRESHOLD, threshold);
    this.#kernel.configure(scene);
  }

  /** Places for rays that wait. */
  get room(): number {
    return this.#room;
  }

  /** What the compiled tracer asks of TypeScript. */
  #foreign() {
    const { faces } = this.model;
    const shares: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
    const meetings = new Float64Array(MOST_MEETINGS);
    const three = new Float64Array(3);
    const back = (list: Float64Array, place: number, count: number) => {
      for (let k = 0; k < count; k++) this.#floats[(place >> 3) + k] = list[k];
    };
    const scatterOf = (face: number, wave: number, through: number) => {
      const { reflected, transmitted } = faces[face].optics[wave];
      return (through ? transmitted : reflected)!;
    };
    return {
      meetForeign: (face: number, x: number, y: number, z: number, l: number, m: number, n: number) => {
        const count = faces[face].form.meet(x, y, z, l, m, n, meetings);
        back(meetings, this.#kernel.meetings(), count);
        return count;
      },
      normalForeign: (face: number, x: number, y: number, z: number) => {
        faces[face].form.normal(x, y, z, three);
        back(three, this.#kernel.returned(), 3);
      },
      sharesForeign: (
        face: number,
        wave: number,
        n1: number,
        n2: number,
        cosine: number,
        outward: number,
      ) => {
        faces[face].optics[wave].shares(n1, n2, cosine, outward !== 0, shares);
        three[0] = (shares.rs + shares.rp) / 2;
        three[1] = (shares.ts + shares.tp) / 2;
        back(three, this.#kernel.returned(), 2);
      },
      spreadForeign: (face: number, wave: number, through: number, sine: number) =>
        scatterOf(face, wave, through).share(sine),
      drawForeign: (
        face: number,
        wave: number,
        through: number,
        sx: number,
        sy: number,
        keyA: number,
        keyB: number,
        draws: number,
      ) => {
        const random = this.#random;
        random.a = keyA;
        random.b = keyB;
        random.count = draws;
        scatterOf(face, wave, through).draw(sx, sy, random, three);
        this.#floats[(this.#kernel.returned() >> 3) + 3] = random.count;
        back(three, this.#kernel.returned(), 3);
      },
      mishap: (kind: number, a: number, b: number, x: number, y: number, z: number) => {
        const { solids } = this.model;
        const between = (b < 0 ? [a] : [a, b]).map((solid) => solids[solid].name);
        this.#sum.mishap(MISHAPS[kind], between, [x, y, z]);
      },
    };
  }

  chunk(chunk: number, size: number, seed: number, sum: TallySum): void {
    const { sources, detectors, faces, solids } = this.model;
    this.#sum = sum;
    const whole = sources.reduce((sum, { watts }) => sum + watts, 0);
    const stream = new RandomStream(seed, chunk);
    let waiting = 0;
    sources.forEach((source, s) => {
      const count = Math.max(1, Math.round((size * source.watts) / whole));
      const sequence = new ShiftedSobol(LAUNCH_DIMENSIONS, stream);
      const [a, b] = [stream.bits(), stream.bits()];
      const flux = source.watts / count;
      sum.ledger.launched += flux * count;
      if (source.plain) {
        this.#ready(s, sequence, a, b, flux);
        const table = this.#tables.sources + at.LAUNCH_SIZE * s;
        for (let from = 0; from < count; ) {
          from = this.#kernel.launch(table, waiting, from, count, this.#room);
          waiting = this.#settle();
        }
      } else
        for (let from = 0; from < count; from += LAUNCHED) {
          const to = Math.min(count, from + LAUNCHED);
          for (let i = from; i < to; i++) {
            sequence.next(this.#u);
            this.#launch(waiting++, s, a, mixBits(b + i), flux);
          }
          waiting = this.#run(waiting, LAUNCHED / 2);
        }
      sum.launched[s] += count;
      sum.rays += count;
    });
    this.#run(waiting, 0);
    sum.chunks++;
    // Taken out of the tables, which are left empty for the next chunk.
    const f = this.#floats;
    const take = (place: number) => {
      const value = f[place >> 3];
      f[place >> 3] = 0;
      return value;
    };
    LEDGER.forEach((key, k) => (sum.ledger[key] += take(this.#scene + at.SCENE_LEDGER + 8 * k)));
    faces.forEach((_, i) => (sum.faces[i] += take(this.#tables.faces + at.FACE_SIZE * i + at.FACE_ABSORBED)));
    solids.forEach((_, i) => (sum.solids[i] += take(this.#tables.solids + at.SOLID_SIZE * i + at.SOLID_ABSORBED)));
    sources.forEach((_, s) => (sum.met[s] += take(this.#met + 8 * s)));
    detectors.forEach(({ size: cells }, d) => {
      const place = this.#tables.detectors + at.DETECTOR_SIZE * d;
      const map = f.subarray(this.#maps[d] >> 3, (this.#maps[d] >> 3) + cells.length);
      const moments = (place + at.DETECTOR_MOMENTS) >> 3;
      sum.addMap(d, map, f.slice(moments, moments + MOMENTS), take(place + at.DETECTOR_HITS));
      f.fill(0, moments, moments + MOMENTS);
    });
  } // prettier-ignore

  /** Writes what changes from chunk to chunk into the record of a source that the compiled tracer launches. */
  #ready(s: number, { state: { digits, index } }: ShiftedSobol, a: number, b: number, flux: number): void {
    const place = this.#tables.sources + at.LAUNCH_SIZE * s;
    const w = this.#words;
    w[(place + at.LAUNCH_KEY_A) >> 2] = a;
    w[(place + at.LAUNCH_KEY_B) >> 2] = b;
    w[(place + at.LAUNCH_INDEX) >> 2] = index;
    w.set(digits, (place + at.LAUNCH_DIGITS) >> 2);
    this.#floats[(place + at.LAUNCH_FLUX) >> 3] = flux;
  }

  /** Writes a ray of source s into the place of a waiting one. */
  #launch(place: number, s: number, keyA: number, keyB: number, flux: number): void {
    const wave = this.model.sources[s].launch(this.#u, this.#ray);
    const ray = this.#rays + place * at.RAY_SIZE;
    const f = ray >> 3;
    for (let k = 0; k < 6; k++) this.#floats[f + k] = this.#ray[k];
    this.#floats[f + 6] = this.#floats[f + 7] = flux;
    const w = this.#words;
    w[(ray + at.RAY_KEY_A) >> 2] = keyA;
    w[(ray + at.RAY_KEY_B) >> 2] = keyB;
    w[(ray + at.RAY_DRAWS) >> 2] = 0;
    w[(ray + at.RAY_WAVE) >> 2] = wave;
    w[(ray + at.RAY_FRESH) >> 2] = 1;
    w[(ray + at.RAY_SOURCE) >> 2] = s;
    w[(ray + at.RAY_EVENTS) >> 2] = 0;
    const start = this.#starts[s];
    w[(ray + at.RAY_DEPTH) >> 2] = start.length;
    for (let k = 0; k < start.length; k++) this.#halves[((ray + at.RAY_STACK) >> 1) + k] = start[k];
  }

  /** Lets the compiled tracer go on until no more than `keep` rays are left; how many wait then. */
  #run(waiting: number, keep: number): number {
    for (;;) {
      this.#kernel.trace(waiting, keep, this.#room);
      waiting = this.#settle();
      if (waiting + this.#kernel.underWay() <= keep) return waiting;
    }
  }

  /** Makes more room where the compiled tracer ran short of it; how many rays wait. */
  #settle(): number {
    const waiting = this.#kernel.waits();
    if (waiting + CHILDREN <= this.#room) return waiting;
    const { memory } = this.#kernel;
    memory.grow(Math.ceil((this.#room * at.RAY_SIZE) / PAGE));
    this.#room *= 2;
    this.#views();
    return waiting;
  }

  #views(): void {
    const { buffer } = this.#kernel.memory;
    this.#floats = new Float64Array(buffer);
    this.#words = new Int32Array(buffer);
    this.#halves = new Uint16Array(buffer);
  }
}

/** Boxes of neighbouring nodes (2k + 1 and 2k + 2) side by side: both lower bounds in x, y, z, then the upper ones. The root goes alone. */
function pairedBoxes(boxes: Float64Array): Float64Array {
  const paired = new Float64Array(boxes.length + 6);
  for (let node = 1; 6 * node + 12 <= boxes.length; node += 2)
    for (let bound = 0; bound < 6; bound++)
      for (let k = 0; k < 2; k++) paired[6 * node + 2 * bound + k] = boxes[6 * (node + k) + bound];
  return paired;
}
