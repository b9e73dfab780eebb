import { MOST_MEETINGS } from '../bodies/face-form.ts';
import { SCENE_KERNEL_BYTES } from '../compute/scene-kernel.generated.ts';
import { compileKernel, reach, type KernelMemory, type KernelModule } from '../compute/wasm.ts';
import type { FaceShares } from '../finishes/fresnel.ts';
import { KeyedRandom, mixBits, RandomStream } from '../math/random.ts';
import { ShiftedSobol } from '../math/sobol.ts';
import { depositAlong } from './volume-meter.ts';
import * as at from './kernel-layout.ts';
import type { SceneModel } from './scene-model.ts';
import { layScene, type SceneTables } from './scene-tables.ts';
import { LAUNCH_DIMENSIONS } from './sources.ts';
import { MOMENTS, TallySum, type Mishap } from './tally.ts';
import type { ChunkTracer } from './tracer.ts';

interface Exports {
  readonly memory: KernelMemory;
  heap(): number;
  meetings(): number;
  returned(): number;
  place(): number;
  configure(record: number): void;
  launch(source: number, waiting: number, from: number, to: number, room: number): number;
  trace(waiting: number, keep: number, room: number): void;
  waits(): number;
  underWay(): number;
}

/** Most children of a round of the compiled tracer, and some; two more a ray for each aim. */
const CHILDREN = 512;
const AIMED_CHILDREN = 256;
/** Rays that are launched before the tracer takes them on. */
const LAUNCHED = 128;
/** Places for rays that wait, at first; more are made when they are needed. */
const ROOM = 4096;
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
 * TypeScript knows (faces of free shapes, some laws of scatter) is asked of it ray by ray: see `outsideKernel`.
 */
export class BlockTracer implements ChunkTracer {
  readonly model: SceneModel;
  readonly #starts: readonly (readonly number[])[];
  readonly #kernel: Exports;
  readonly #tables: SceneTables;
  readonly #children: number;
  #room: number;
  #floats: Float64Array;
  #words: Int32Array;
  #halves: Uint16Array;
  readonly #random = new KeyedRandom();
  #sum: TallySum;
  readonly #u = new Float64Array(LAUNCH_DIMENSIONS);
  readonly #ray = new Float64Array(7);

  /**
   * @param starts - indices of the bodies that each source stands in, the outermost first
   * @param room - places for rays that wait, at first
   */
  constructor(model: SceneModel, starts: readonly (readonly number[])[], room = ROOM) {
    this.model = model;
    this.#children = CHILDREN + AIMED_CHILDREN * model.aims.length;
    this.#room = Math.max(room, this.#children + LAUNCHED);
    this.#starts = starts;
    this.#sum = new TallySum([], 0, 0, 0);
    this.#kernel = module!.instantiate({ env: this.#foreign() }) as Exports;
    const from = (this.#kernel.heap() + 63) & ~63;
    const tables = (this.#tables = layScene(model, starts, from));
    const { memory } = this.#kernel;
    reach(memory, tables.end + this.#room * at.RAY_SIZE);
    new Uint8Array(memory.buffer, from).set(tables.bytes);
    this.#floats = new Float64Array(memory.buffer);
    this.#words = new Int32Array(memory.buffer);
    this.#halves = new Uint16Array(memory.buffer);
    this.#kernel.configure(tables.scene);
  }

  /** Places for rays that wait. */
  get room(): number {
    return this.#room;
  }

  /** What the compiled tracer asks of TypeScript. */
  #foreign() {
    return {
      ...this.#foreignFaces(),
      ...this.#foreignScatter(),
      depositForeign: (way: number, flux: number, loss: number, source: number, wave: number) =>
        this.#deposit(way, flux, loss, this.#tables.channels[source * this.model.waves.length + wave]),
      mishap: (kind: number, a: number, b: number, x: number, y: number, z: number) => {
        const { solids } = this.model;
        const between = (b < 0 ? [a] : [a, b]).map((solid) => solids[solid].name);
        this.#sum.mishap(MISHAPS[kind], between, [x, y, z]);
      },
    };
  }

  /** Hands numbers to the compiled tracer. */
  #back(list: Float64Array, place: number, count: number): void {
    for (let k = 0; k < count; k++) this.#floats[(place >> 3) + k] = list[k];
  }

  /** Faces whose form or shares are not compiled. */
  #foreignFaces() {
    const { faces } = this.model;
    const shares: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
    const meetings = new Float64Array(MOST_MEETINGS);
    const three = new Float64Array(3);
    return {
      meetForeign: (face: number, x: number, y: number, z: number, l: number, m: number, n: number) => {
        const count = faces[face].form.meet(x, y, z, l, m, n, meetings);
        this.#back(meetings, this.#kernel.meetings(), count);
        return count;
      },
      normalForeign: (face: number, x: number, y: number, z: number) => {
        faces[face].form.normal(x, y, z, three);
        this.#back(three, this.#kernel.returned(), 3);
      },
      sharesForeign: (face: number, wave: number, n1: number, n2: number, cosine: number, outward: number) => {
        faces[face].optics[wave].shares(n1, n2, cosine, outward !== 0, shares);
        three[0] = (shares.rs + shares.rp) / 2;
        three[1] = (shares.ts + shares.tp) / 2;
        this.#back(three, this.#kernel.returned(), 2);
      },
    };
  }

  /** Laws of scatter that are not compiled. */
  #foreignScatter() {
    const three = new Float64Array(3);
    const law = (number: number) => this.#tables.laws[number];
    return {
      spreadForeign: (number: number, sine: number) => law(number).share(sine),
      /** Draws by a ray's key; the direction goes back with the count of draws behind it. */
      drawForeign: (number: number, sx: number, sy: number, keyA: number, keyB: number, draws: number) => {
        const random = this.#random;
        random.a = keyA;
        random.b = keyB;
        random.count = draws;
        law(number).draw(sx, sy, random, three);
        this.#back(three, this.#kernel.returned(), 3);
        this.#floats[(this.#kernel.returned() >> 3) + 3] = random.count;
      },
      densityForeign: (number: number, sx: number, sy: number, ox: number, oy: number) =>
        law(number).density(sx, sy, ox, oy),
    };
  }

  /** Counts what a ray loses on a way in the blocks of cells that it passes. */
  #deposit(way: number, flux: number, loss: number, channel: number): void {
    const from = this.#kernel.place() >> 3;
    const ray = this.#floats.subarray(from, from + 6);
    this.model.detectors.forEach(({ volume, size }, d) => {
      if (!volume) return;
      const map = (this.#tables.maps[d] >> 3) + channel * size.length;
      const sums = (this.#tables.sums[d] + at.SUM_SIZE * channel) >> 3;
      this.#floats[sums + (at.SUM_HITS >> 3)] += depositAlong(
        volume,
        ray,
        way,
        flux,
        loss,
        this.#floats.subarray(map, map + size.length),
        this.#floats.subarray(sums, sums + MOMENTS),
      );
    });
  }

  chunk(chunk: number, size: number, seed: number, sum: TallySum): void {
    const { sources, detectors, faces, solids, channels } = this.model;
    this.#sum = sum;
    const whole = sources.reduce((sum, { watts }) => sum + watts, 0);
    const stream = new RandomStream(seed, chunk);
    let waiting = 0;
    sources.forEach((source, s) => {
      const count = Math.max(1, Math.round((size * source.watts) / whole));
      const sequence = new ShiftedSobol(LAUNCH_DIMENSIONS, stream);
      const [a, b] = [stream.bits(), stream.bits()];
      const flux = source.watts / count;
      if (source.plain) {
        sum.ledger.launched += flux * count;
        this.#ready(s, sequence, a, b, flux);
        const table = this.#tables.sources + at.LAUNCH_SIZE * s;
        for (let from = 0; from < count;) {
          from = this.#kernel.launch(table, waiting, from, count, this.#room);
          waiting = this.#settle();
        }
      } else
        for (let from = 0; from < count; from += LAUNCHED) {
          const to = Math.min(count, from + LAUNCHED);
          for (let i = from; i < to; i++) {
            sequence.next(this.#u);
            const launched = this.#launch(waiting, s, a, mixBits(b + i), flux);
            sum.ledger.launched += launched;
            if (launched > 0) waiting++; // an aimed source sends nothing beyond its own law
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
    LEDGER.forEach((key, k) => (sum.ledger[key] += take(this.#tables.scene + at.SCENE_LEDGER + 8 * k)));
    faces.forEach((_, i) => (sum.faces[i] += take(this.#tables.faces + at.FACE_SIZE * i + at.FACE_ABSORBED)));
    solids.forEach((_, i) => (sum.solids[i] += take(this.#tables.solids + at.SOLID_SIZE * i + at.SOLID_ABSORBED)));
    sources.forEach((_, s) => (sum.met[s] += take(this.#tables.met + 8 * s)));
    const many = Math.max(1, channels.length);
    const moments = new Float64Array(many * MOMENTS);
    const hits = new Float64Array(many);
    detectors.forEach(({ size: cells }, d) => {
      const map = f.subarray(this.#tables.maps[d] >> 3, (this.#tables.maps[d] >> 3) + many * cells.length);
      for (let c = 0; c < many; c++) {
        const record = this.#tables.sums[d] + at.SUM_SIZE * c;
        for (let k = 0; k < MOMENTS; k++) moments[c * MOMENTS + k] = take(record + at.SUM_MOMENTS + 8 * k);
        hits[c] = take(record + at.SUM_HITS);
      }
      sum.addMap(d, map, moments, hits);
    });
  }

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

  /** Writes a ray of source s into the place of a waiting one; its flux. */
  #launch(place: number, s: number, keyA: number, keyB: number, whole: number): number {
    const wave = this.model.sources[s].launch(this.#u, this.#ray);
    const ray = this.#tables.end + place * at.RAY_SIZE;
    const f = ray >> 3;
    for (let k = 0; k < 6; k++) this.#floats[f + k] = this.#ray[k];
    const flux = whole * this.#ray[6];
    this.#floats[(ray + at.RAY_FLUX) >> 3] = this.#floats[(ray + at.RAY_FIRST) >> 3] = flux;
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
    return flux;
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
    if (waiting + this.#children <= this.#room) return waiting;
    const { memory } = this.#kernel;
    reach(memory, memory.buffer.byteLength + this.#room * at.RAY_SIZE);
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
