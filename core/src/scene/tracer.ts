import { MOST_MEETINGS, type FaceForm } from '../bodies/face-form.ts';
import { henyeyGreensteinCosine } from '../finishes/phase-function.ts';
import type { FaceShares } from '../finishes/fresnel.ts';
import type { CompiledFinish } from '../finishes/finish.ts';
import { aboutDirection } from '../finishes/scatter.ts';
import { KeyedRandom, mixBits, RandomStream } from '../math/random.ts';
import { ShiftedSobol } from '../math/sobol.ts';
import { ScatterAims } from './aims.ts';
import { AIMED_CHILD, BEHIND, CHILD, DEPTH, FEW, NEAR } from './kernel-layout.ts';
import { DetectorCounts } from './detector-counts.ts';
import { TallySum, type Mishap } from './tally.ts';
import { toFace, type SceneModel } from './scene-model.ts';
import { LAUNCH_DIMENSIONS } from './sources.ts';

/** One straight piece of the way of light, in the coordinates of the scene. */
export interface Stretch {
  readonly from: readonly [number, number, number];
  readonly to: readonly [number, number, number];
  /** Flux at its start over that of its launch. */
  readonly share: number;
  /** Indices of its wavelength and source, and which launch it comes from. */
  readonly wave: number;
  readonly source: number;
  readonly launch: number;
  /** Index of the face at its end; −1 where it leaves the scene. */
  readonly face: number;
}

export interface TracerOptions {
  /** Sees each stretch that rays go; what leaves the scene ends a length after its last face. */
  readonly watch?: (stretch: Stretch) => void;
  /** All light counts as polarised across (`s`) or in (`p`) each plane of incidence; unpolarised light when left out. */
  readonly polarised?: 's' | 'p';
}

/** Numbers that a waiting ray is kept in. */
const STRIDE = 15 + DEPTH;
/** Weaker than this part of the threshold no child ray is worth a draw. */
const FAINT = 1e-30;

/** A ray for `follow`: place, direction, index of its wavelength; bodies that it starts in are found. */
export interface SingleRay {
  readonly at: readonly [number, number, number];
  readonly direction: readonly [number, number, number];
  readonly wave: number;
}

/** What traces a scene in chunks. */
export interface ChunkTracer {
  readonly model: SceneModel;
  /**
   * Traces one chunk.
   *
   * @param chunk - number of the chunk; the same one gives the same result wherever it is traced
   * @param size - rays in it
   * @param seed - what the user chose
   * @param sum - what it is added to
   */
  chunk(chunk: number, size: number, seed: number, sum: TallySum): void;
}

/** How a ray stands to the face that it has come to; one object, written anew at each face. */
interface Stand {
  /** The normal on the side light goes to, in the coordinates of the scene, and the cosine of the incidence. */
  gx: number;
  gy: number;
  gz: number;
  cosine: number;
  /** Whether light goes along the normal of the face: out of its inner solid. */
  outward: boolean;
  /** Solids on both sides as the face knows them, and the one that light comes into; −1 for what is around. */
  inner: number;
  outer: number;
  there: number;
  /** Indices before and behind the face. */
  n1: number;
  n2: number;
  finish: CompiledFinish;
}

/**
 * Traces a compiled scene in chunks.
 *
 * A ray meets the nearest face; of a body, only faces that let it out of where it is or into where it is not, so that touching faces
 * and rounding confuse nothing. What it meets shares its flux out (Fresnel, films, metals), spreads a part (scatter), and what goes on
 * is followed in turn. Every chunk launches the whole flux from all sources, from a low-discrepancy sequence of its own: the spread
 * between chunks is the standard error, whatever the light did on its way.
 */
export class SceneTracer implements ChunkTracer {
  readonly model: SceneModel;
  readonly #options: TracerOptions;
  readonly #forms: readonly FaceForm[];
  readonly #poses: Float64Array;
  readonly #inner: Int32Array;
  readonly #outer: Int32Array;
  readonly #starts: readonly (readonly number[])[];

  // The ray under way, and what it met.
  readonly #ray = new Float64Array(7);
  readonly #stack = new Int32Array(DEPTH);
  #depth = 0;
  #flux = 0;
  #wave = 0;
  #events = 0;
  #hitFace = -1;
  #hitAt = 0;
  #hitRank = 0;
  readonly #local = new Float64Array(3);
  readonly #normal = new Float64Array(3);

  readonly #waiting: number[] = [];
  readonly #meetings = new Float64Array(MOST_MEETINGS);
  readonly #trial = new Float64Array(3);
  readonly #nodes = new Int32Array(128);
  readonly #entries = new Float64Array(128);
  readonly #inverse = new Float64Array(3);
  readonly #shares: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
  readonly #drawn = new Float64Array(3);
  readonly #turned = new Float64Array(3);
  readonly #parts = new Float64Array(4);
  readonly #at = {} as Stand; // `#stand` writes all of it
  readonly #random = new KeyedRandom();

  #sum: TallySum;
  readonly #counts: DetectorCounts;
  #source = 0;
  #launch = 0;
  /** Flux that its threshold counts from: of its launch, or of an aimed ray that it comes from. */
  #first = 0;
  #launched = 0;
  /** Whether it comes from an aimed ray, whose scattered light is not aimed again. */
  #aimed = false;
  readonly #aims: ScatterAims;
  readonly #place = new Float64Array(9);

  constructor(model: SceneModel, options: TracerOptions = {}) {
    this.model = model;
    this.#options = options;
    const { faces, detectors, sources } = model;
    this.#forms = faces.map(({ form }) => form);
    this.#poses = new Float64Array(12 * faces.length);
    faces.forEach((face, i) => {
      const { shift, rotation } = toFace(face);
      this.#poses.set(rotation, 12 * i);
      this.#poses.set(shift, 12 * i + 9);
    });
    this.#inner = Int32Array.from(faces, ({ inner }) => inner);
    this.#outer = Int32Array.from(faces, ({ outer }) => outer);
    this.#sum = new TallySum(detectors, faces.length, model.solids.length, sources.length);
    this.#counts = new DetectorCounts(model);
    this.#aims = new ScatterAims(model.aims);
    this.#starts = sources.map(({ origin, axis }) => {
      // From a hair in front of it: a source on a face shines from the outside of the face.
      const at = origin.map((value, i) => value + 1e-6 * axis[i]);
      return this.bodiesAt(at[0], at[1], at[2]);
    });
  }

  /** Indices of the bodies that each source stands in, the outermost first. */
  get starts(): readonly (readonly number[])[] {
    return this.#starts;
  }

  /** Indices of the solids that a point lies in, the outermost first: those whose faces a line from it crosses an odd number of times. */
  bodiesAt(x: number, y: number, z: number): number[] {
    // A direction that no drawing is aligned to.
    const [l, m, n] = [0.48178, 0.61394, 0.62529].map((value, _i, all) => value / Math.hypot(...all));
    const crossings = new Map<number, { count: number; last: number }>();
    this.model.faces.forEach((face, i) => {
      if (face.inner < 0) return;
      const many = this.#crossings(i, x, y, z, l, m, n);
      if (many) {
        if (many.count > 0) crossings.set(face.inner, many);
        return;
      }
      const count = this.#meet(i, x, y, z, l, m, n);
      for (const solid of [face.inner, face.outer]) {
        if (solid < 0) continue;
        for (let k = 0; k < count; k++) {
          if (this.#meetings[k] <= 0) continue;
          const known = crossings.get(solid) ?? { count: 0, last: 0 };
          crossings.set(solid, { count: known.count + 1, last: Math.max(known.last, this.#meetings[k]) });
        }
      }
    });
    return [...crossings.entries()]
      .filter(([, { count }]) => count % 2 === 1)
      .sort(([, a], [, b]) => b.last - a.last)
      .map(([solid]) => solid)
      .slice(0, DEPTH);
  }

  /** For a face that is crossed more often than `meet` can say, and is the whole skin of its body. */
  #crossings(i: number, x: number, y: number, z: number, l: number, m: number, n: number) {
    const p = this.#poses.subarray(12 * i, 12 * i + 12);
    return this.#forms[i].crossings?.(
      p[0] * x + p[1] * y + p[2] * z + p[9],
      p[3] * x + p[4] * y + p[5] * z + p[10],
      p[6] * x + p[7] * y + p[8] * z + p[11],
      p[0] * l + p[1] * m + p[2] * n,
      p[3] * l + p[4] * m + p[5] * n,
      p[6] * l + p[7] * m + p[8] * n,
    );
  }

  #meet(i: number, x: number, y: number, z: number, l: number, m: number, n: number): number {
    const p = this.#poses;
    const o = 12 * i;
    return this.#forms[i].meet(
      p[o] * x + p[o + 1] * y + p[o + 2] * z + p[o + 9],
      p[o + 3] * x + p[o + 4] * y + p[o + 5] * z + p[o + 10],
      p[o + 6] * x + p[o + 7] * y + p[o + 8] * z + p[o + 11],
      p[o] * l + p[o + 1] * m + p[o + 2] * n,
      p[o + 3] * l + p[o + 4] * m + p[o + 5] * n,
      p[o + 6] * l + p[o + 7] * m + p[o + 8] * n,
      this.#meetings,
    );
  }

  chunk(chunk: number, size: number, seed: number, sum: TallySum): void {
    const { sources } = this.model;
    this.#sum = sum;
    const stream = new RandomStream(seed, chunk);
    const whole = sources.reduce((sum, { watts }) => sum + watts, 0);
    const u = new Float64Array(LAUNCH_DIMENSIONS);
    let rays = 0;
    sources.forEach((source, s) => {
      const count = Math.max(1, Math.round((size * source.watts) / whole));
      const sequence = new ShiftedSobol(LAUNCH_DIMENSIONS, stream);
      const [a, b] = [stream.bits(), stream.bits()];
      const flux = source.watts / count;
      this.#source = s;
      for (let i = 0; i < count; i++) {
        sequence.next(u);
        this.#wave = source.launch(u, this.#ray);
        this.#depth = 0;
        for (const solid of this.#starts[s]) this.#stack[this.#depth++] = solid;
        this.#flux = this.#first = this.#launched = flux * this.#ray[6];
        this.#aimed = false;
        this.#events = 0;
        this.#launch = rays + i;
        this.#random.a = a | 0;
        this.#random.b = mixBits(b + i);
        this.#random.count = 0;
        sum.ledger.launched += this.#flux;
        sum.met[s] += this.#follow() ? 1 : 0;
      }
      sum.launched[s] += count;
      rays += count;
    });
    sum.chunks++;
    sum.rays += rays;
    this.#counts.moveTo(sum);
  }

  /** Follows one ray of flux 1 with all that comes of it, for drawing and tests. */
  follow({ at, direction, wave }: SingleRay, seed = 0): void {
    const length = Math.hypot(...direction);
    this.#random.a = seed | 0;
    this.#random.b = this.#random.count = 0;
    this.#ray.set([...at, ...direction.map((part) => part / length)]);
    const inside = this.bodiesAt(...at);
    this.#depth = inside.length;
    this.#stack.set(inside);
    this.#flux = this.#first = this.#launched = 1;
    this.#aimed = false;
    this.#wave = wave;
    this.#events = 0;
    this.#follow();
  }

  /** Follows the ray under way and all its children; whether it met anything. */
  #follow(): boolean {
    const { solids, faces } = this.model;
    const ray = this.#ray;
    let met = false;
    for (;;) {
      // One step of the ray under way.
      const inside = this.#depth > 0 ? this.#stack[this.#depth - 1] : -1;
      this.#nearest();
      const face = this.#hitFace;
      let way = face < 0 ? Infinity : Math.max(0, this.#hitAt);
      const scattering = inside < 0 ? 0 : solids[inside].scattering;
      const free = scattering > 0 ? -Math.log(this.#random.uniform()) / scattering : Infinity;
      const scattered = free < way;
      if (scattered) way = free;
      this.#watch(way, scattered ? -2 : face);
      this.#absorb(inside, way);
      let alive = true;
      if (scattered) {
        this.#scatter(solids[inside].asymmetry, way);
        met = true;
      } else if (face < 0) {
        this.#escape();
        alive = false;
      } else {
        met = true;
        for (let axis = 0; axis < 3; axis++) ray[axis] += this.#hitAt * ray[3 + axis];
        if (faces[face].through) {
          for (const d of faces[face].detectors) this.#counts.onFace(d, this.#local, this.#flux, this.#wave);
        } else {
          this.#events++;
          alive = this.#interact(face);
        }
      }
      alive &&= this.#goesOn();
      if (!alive && !this.#take()) return met;
    }
  }

  /** Takes what the medium absorbs on a way from the flux. */
  #absorb(inside: number, way: number): void {
    const { solids, around } = this.model;
    const loss = (inside < 0 ? around : solids[inside]).absorption[this.#wave];
    if (!(loss > 0 && way < Infinity)) return;
    const left = this.#flux * Math.exp(-loss * way);
    this.#sum.ledger.inBodies += this.#flux - left;
    if (inside >= 0) this.#sum.solids[inside] += this.#flux - left;
    this.#counts.deposit(this.#ray, way, this.#flux, loss, this.#wave);
    this.#flux = left;
  }

  /** Scatters the ray in a volume, after a way in it. */
  #scatter(asymmetry: number, way: number): void {
    const ray = this.#ray;
    for (let axis = 0; axis < 3; axis++) ray[axis] += way * ray[3 + axis];
    const cosine = henyeyGreensteinCosine(asymmetry, this.#random.uniform());
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const turn = 2 * Math.PI * this.#random.uniform();
    aboutDirection(ray[3], ray[4], ray[5], cosine, sine * Math.cos(turn), sine * Math.sin(turn), this.#turned);
    this.#aim(this.#turned[0], this.#turned[1], this.#turned[2]);
    this.#events++;
  }

  /** Whether the ray goes on after an event: not after too many, and below the threshold not at all, or by lot. */
  #goesOn(): boolean {
    const { splitting, threshold, events } = this.model.scene.sampling;
    const { ledger } = this.#sum;
    const least = threshold * this.#first;
    const weak = this.#flux < least;
    if (this.#events >= events || (weak && splitting === 'split')) {
      ledger.cutOff += this.#flux;
      return false;
    }
    if (!weak) return true;
    // Ended by lot, or strengthened so that nothing changes on the whole.
    if (this.#random.uniform() < this.#flux / least) {
      ledger.byLot -= least - this.#flux;
      this.#flux = least;
      return true;
    }
    ledger.byLot += this.#flux;
    return false;
  }

  /** The nearest face of those that the ray can meet, with place and normal in the face's coordinates. */
  #nearest(): void {
    const { first, count, order } = this.model.tree;
    this.#hitFace = -1;
    if (order.length <= FEW) {
      let nearest = Infinity;
      for (let i = 0; i < order.length; i++) nearest = this.#try(i, nearest);
      return;
    }
    const ray = this.#ray;
    this.#inverse[0] = 1 / ray[3];
    this.#inverse[1] = 1 / ray[4];
    this.#inverse[2] = 1 / ray[5];
    const nodes = this.#nodes;
    const entries = this.#entries;
    let best = Infinity;
    let top = 0;
    let node = 0;
    let entry = this.#enter(0);
    for (;;) {
      if (entry <= best + BEHIND) {
        const size = count[node];
        if (size > 0) {
          for (let k = first[node]; k < first[node] + size; k++) best = this.#try(order[k], best);
        } else {
          // The nearer box first: what it holds leaves out most of the other.
          const left = first[node];
          const a = this.#enter(left);
          const b = this.#enter(left + 1);
          const near = a <= b ? left : left + 1;
          const low = a <= b ? a : b;
          const high = a <= b ? b : a;
          if (high < Infinity) {
            nodes[top] = near === left ? left + 1 : left;
            entries[top++] = high;
          }
          if (low < Infinity) {
            node = near;
            entry = low;
            continue;
          }
        }
      }
      if (top === 0) return;
      node = nodes[--top];
      entry = entries[top];
    }
  }

  /** How far off the box of a node is met; Infinity where the ray passes it. A NaN (along a face of the box) changes nothing. */
  #enter(node: number): number {
    const boxes = this.model.tree.boxes;
    const ray = this.#ray;
    const inverse = this.#inverse;
    const o = 6 * node;
    let from = -BEHIND;
    let to = Infinity;
    for (let axis = 0; axis < 3; axis++) {
      const a = (boxes[o + axis] - ray[axis]) * inverse[axis];
      const b = (boxes[o + 3 + axis] - ray[axis]) * inverse[axis];
      const near = a < b ? a : b;
      const far = a < b ? b : a;
      if (near > from) from = near;
      if (far < to) to = far;
    }
    return from <= to ? from : Infinity;
  }

  /** Meets one face; returns the distance of the nearest meeting so far. */
  #try(i: number, best: number): number {
    const ray = this.#ray;
    const x = ray[0];
    const y = ray[1];
    const z = ray[2];
    const l = ray[3];
    const m = ray[4];
    const n = ray[5];
    const count = this.#meet(i, x, y, z, l, m, n);
    if (count === 0) return best;
    const form = this.#forms[i];
    const p = this.#poses;
    const o = 12 * i;
    const inner = this.#inner[i];
    const trial = this.#trial;
    for (let k = 0; k < count; k++) {
      const t = this.#meetings[k];
      if (t > best + BEHIND || t < -BEHIND || (inner < 0 && t < NEAR)) continue;
      const hx = x + t * l;
      const hy = y + t * m;
      const hz = z + t * n;
      const lx = p[o] * hx + p[o + 1] * hy + p[o + 2] * hz + p[o + 9];
      const ly = p[o + 3] * hx + p[o + 4] * hy + p[o + 5] * hz + p[o + 10];
      const lz = p[o + 6] * hx + p[o + 7] * hy + p[o + 8] * hz + p[o + 11];
      let rank = 0;
      if (inner >= 0) {
        form.normal(lx, ly, lz, trial);
        const cosine =
          (p[o] * l + p[o + 1] * m + p[o + 2] * n) * trial[0] +
          (p[o + 3] * l + p[o + 4] * m + p[o + 5] * n) * trial[1] +
          (p[o + 6] * l + p[o + 7] * m + p[o + 8] * n) * trial[2];
        const within = this.#inside(inner);
        const outer = this.#outer[i];
        // Out of the inner body only from inside of it; in from outside of it, or out of the one behind the face.
        const fits = cosine > 0 ? within : outer >= 0 ? this.#inside(outer) : !within;
        if (!fits) continue;
        rank = cosine > 0 ? (inner === this.#stack[this.#depth - 1] ? 2 : 1) : 0;
      }
      // Where bodies touch, a ray leaves the one it is in before it enters the next.
      const tied = this.#hitFace >= 0 && t > best - BEHIND;
      if (tied && (rank < this.#hitRank || (rank === this.#hitRank && t >= best))) continue;
      this.#hitRank = rank;
      best = t;
      this.#hitFace = i;
      this.#hitAt = t;
      this.#local[0] = lx;
      this.#local[1] = ly;
      this.#local[2] = lz;
    }
    return best;
  }

  #inside(solid: number): boolean {
    for (let k = this.#depth - 1; k >= 0; k--) if (this.#stack[k] === solid) return true;
    return false;
  }

  /** Shares the ray's flux out at a face. The ray under way becomes the strongest of what goes on; false if nothing does. */
  #interact(i: number): boolean {
    const face = this.model.faces[i];
    const flux = this.#flux;
    const at = this.#stand(i);
    for (const d of face.detectors)
      if (this.model.detectors[d].detector.counts === 'incident') this.#counts.onFace(d, this.#local, flux, this.#wave);
    const [reflected, through] = this.#sharesAt(at);
    this.#countAbsorbed(i, flux * Math.max(0, 1 - reflected - through));
    const sine = Math.sqrt(Math.max(0, 1 - at.cosine * at.cosine));
    const spreadR = reflected > 0 && at.finish.reflected ? Math.min(1, at.finish.reflected.share(sine)) : 0;
    // Behind the face the sine is that of the refracted light.
    const sineBehind = Math.min(1, (sine * at.n1) / at.n2);
    const spreadT = through > 0 && at.finish.transmitted ? Math.min(1, at.finish.transmitted.share(sineBehind)) : 0;
    const parts = this.#parts;
    parts[0] = flux * reflected * (1 - spreadR);
    parts[1] = flux * reflected * spreadR;
    parts[2] = flux * through * (1 - spreadT);
    parts[3] = flux * through * spreadT;
    const whole = parts[0] + parts[1] + parts[2] + parts[3];
    if (!(whole > FAINT * this.#first)) {
      this.#sum.ledger.cutOff += whole;
      return false;
    }
    this.#goOn(at, whole);
    return true;
  }

  /** Sends the parts of the light on: one as the ray under way, the others, if rays are split, as rays that wait. */
  #goOn(at: Stand, whole: number): void {
    const parts = this.#parts;
    const { splitting, threshold } = this.model.scene.sampling;
    const split = splitting === 'split';
    const drawAimed = this.#aims.aims.length > 0 && !this.#aimed;
    if (drawAimed) for (const k of [1, 3]) if (parts[k] > 0) this.#sendAimed(k, parts[k], at);
    let chosen = 0;
    if (split) for (let k = 1; k < 4; k++) chosen = parts[k] > parts[chosen] ? k : chosen;
    else {
      let left = this.#random.uniform() * whole;
      while (chosen < 3 && left >= parts[chosen]) left -= parts[chosen++];
    }
    /** Turns part `k` to where it goes; the flux that it keeps beside what is aimed. */
    const directed = (k: number, flux: number) => {
      this.#direct(k, at);
      const kept = drawAimed ? this.#kept(k, at) : 1;
      this.#sum.ledger.byLot += flux * (1 - kept);
      return flux * kept;
    };
    if (split && parts[chosen] < whole) {
      const least = threshold * this.#first;
      for (let k = 0; k < 4; k++) {
        if (k === chosen || parts[k] === 0) continue;
        if (parts[k] < least) this.#sum.ledger.cutOff += parts[k];
        else this.#push(directed(k, parts[k]), k, at);
      }
    }
    const flux = directed(chosen, split ? parts[chosen] : whole);
    const turned = this.#turned;
    this.#aim(turned[0], turned[1], turned[2]);
    this.#flux = flux;
    if (chosen >= 2) this.#cross(at);
  }

  /** How the ray under way stands to a face that it has come to. */
  #stand(i: number): Stand {
    const { faces, solids, around } = this.model;
    const at = this.#at;
    const ray = this.#ray;
    const p = this.#poses;
    const o = 12 * i;
    const normal = this.#normal;
    this.#forms[i].normal(this.#local[0], this.#local[1], this.#local[2], normal);
    const nx = normal[0];
    const ny = normal[1];
    const nz = normal[2];
    // The normal in the coordinates of the scene (the inverse of a rotation is its transpose), turned to the side light goes to.
    const gx = p[o] * nx + p[o + 3] * ny + p[o + 6] * nz;
    const gy = p[o + 1] * nx + p[o + 4] * ny + p[o + 7] * nz;
    const gz = p[o + 2] * nx + p[o + 5] * ny + p[o + 8] * nz;
    const cosine = ray[3] * gx + ray[4] * gy + ray[5] * gz;
    const side = cosine > 0 ? 1 : -1;
    at.outward = cosine > 0;
    at.gx = side * gx;
    at.gy = side * gy;
    at.gz = side * gz;
    at.cosine = Math.min(1, side * cosine);
    at.inner = this.#inner[i];
    at.outer = this.#outer[i];
    at.finish = faces[i].optics[this.#wave];
    const here = this.#depth > 0 ? this.#stack[this.#depth - 1] : -1;
    at.there = at.inner < 0 ? here : this.#beyond(at.inner, at.outer, at.outward);
    at.n1 = (here < 0 ? around : solids[here]).indices[this.#wave];
    at.n2 = (at.there < 0 ? around : solids[at.there]).indices[this.#wave];
    return at;
  }

  /** The shares of the flux that a face reflects and lets through, of the polarisation that is traced. */
  #sharesAt({ n1, n2, cosine, outward, finish, inner, there }: Stand): readonly [reflected: number, through: number] {
    if (!(n1 > 0) || (!finish.opaque && !(n2 > 0))) {
      // A medium without an index, or a body without a medium: the light ends here.
      if (inner >= 0 && !finish.opaque) this.#mishap('opaque', [this.model.solids[there < 0 ? inner : there].name]);
      return [0, 0];
    }
    const shares = this.#shares;
    finish.shares(n1, n2, cosine, outward, shares);
    const { polarised } = this.#options;
    if (polarised === 's') return [shares.rs, shares.ts];
    if (polarised === 'p') return [shares.rp, shares.tp];
    return [(shares.rs + shares.rp) / 2, (shares.ts + shares.tp) / 2];
  }

  /** Books what a face absorbs, and counts it where detectors count that or what leaves. */
  #countAbsorbed(i: number, absorbed: number): void {
    const { detectors } = this.model.faces[i];
    this.#sum.faces[i] += absorbed;
    for (const d of detectors) {
      const what = this.model.detectors[d].detector.counts;
      if (what === 'absorbed') this.#counts.onFace(d, this.#local, absorbed, this.#wave);
      else if (what === 'leaving') this.#counts.onFace(d, this.#local, this.#flux - absorbed, this.#wave);
    }
    this.#sum.ledger[detectors.length > 0 ? 'detected' : 'absorbed'] += absorbed;
  }

  /** The solid behind a face of `inner`; −1 for what is around. */
  #beyond(inner: number, outer: number, outward: boolean): number {
    if (!outward) return inner;
    if (outer >= 0) return outer;
    let top = this.#depth - 1;
    if (top >= 0 && this.#stack[top] === inner) top--;
    return top >= 0 ? this.#stack[top] : -1;
  }

  /** Writes where part `k` of the light goes into `#turned`: 0 reflected, 1 that scattered, 2 refracted, 3 that scattered. */
  #direct(k: number, { gx, gy, gz, cosine, n1, n2, finish: { reflected, transmitted } }: Stand): void {
    const out = this.#turned;
    const ray = this.#ray;
    const l = ray[3];
    const m = ray[4];
    const n = ray[5];
    let side: number;
    if (k < 2) {
      const twice = 2 * cosine;
      out[0] = l - twice * gx;
      out[1] = m - twice * gy;
      out[2] = n - twice * gz;
      side = -1;
    } else {
      const ratio = n1 / n2;
      const along = Math.sqrt(Math.max(0, 1 - ratio * ratio * (1 - cosine * cosine))) - ratio * cosine;
      out[0] = ratio * l + along * gx;
      out[1] = ratio * m + along * gy;
      out[2] = ratio * n + along * gz;
      side = 1;
    }
    if (k !== 1 && k !== 3) return;
    // In the frame of the face: z along the normal on the side light goes to.
    const [zx, zy, zz] = [side * gx, side * gy, side * gz];
    const sign = zz < 0 ? -1 : 1;
    const a = -1 / (sign + zz);
    const b = zx * zy * a;
    const [ax, ay, az] = [1 + sign * zx * zx * a, sign * b, -sign * zx];
    const [bx, by, bz] = [b, sign + zy * zy * a, -zy];
    const sx = out[0] * ax + out[1] * ay + out[2] * az;
    const sy = out[0] * bx + out[1] * by + out[2] * bz;
    const drawn = this.#drawn;
    (k === 1 ? reflected! : transmitted!).draw(sx, sy, this.#random, drawn);
    out[0] = drawn[0] * ax + drawn[1] * bx + drawn[2] * zx;
    out[1] = drawn[0] * ay + drawn[1] * by + drawn[2] * zy;
    out[2] = drawn[0] * az + drawn[1] * bz + drawn[2] * zz;
  }

  /** Writes where part `k` is scattered and where it would go from a smooth face into `#place`. */
  #standAt(k: number, at: Stand): void {
    const side = k < 2 ? -1 : 1;
    this.#direct(k - 1, at);
    const [x, y, z] = this.#ray;
    this.#place.set([x, y, z, side * at.gx, side * at.gy, side * at.gz, ...this.#turned]);
  }

  /** What a drawn ray of part `k` keeps of its flux beside those that are aimed. */
  #kept(k: number, at: Stand): number {
    if (k !== 1 && k !== 3) return 1;
    const [l, m, n] = this.#turned;
    this.#standAt(k, at);
    this.#turned.set([l, m, n]);
    return this.#aims.share((k === 1 ? at.finish.reflected : at.finish.transmitted)!, this.#place, l, m, n);
  }

  /** Sends what part `k` scatters into the cones of the aims, a ray each. */
  #sendAimed(k: number, part: number, at: Stand): void {
    this.#standAt(k, at);
    const place = this.#place;
    const scatter = k === 1 ? at.finish.reflected! : at.finish.transmitted!;
    const first = this.#first;
    for (let j = 0; j < this.#aims.aims.length; j++) {
      const share = this.#aims.draw(j, scatter, place, this.#random, this.#turned);
      if (!(share > 0)) continue;
      const flux = part * share;
      this.#sum.ledger.byLot -= flux;
      this.#first = flux;
      this.#aimed = true;
      this.#push(flux, k, at, Math.imul(j + 1, AIMED_CHILD));
      this.#aimed = false;
      this.#first = first;
    }
  }

  #aim(l: number, m: number, n: number): void {
    const scale = 1 / Math.sqrt(l * l + m * m + n * n);
    this.#ray[3] = l * scale;
    this.#ray[4] = m * scale;
    this.#ray[5] = n * scale;
  }

  /** Out of one body and into another, as a face between them says. */
  #cross({ inner, outer, outward }: Stand): void {
    if (inner < 0) return;
    const [left, entered] = outward ? [inner, outer] : [outer, inner];
    if (left >= 0) this.#leave(left);
    if (entered >= 0) {
      if (this.#depth < DEPTH) this.#stack[this.#depth++] = entered;
      else this.#mishap('overlap', [this.model.solids[entered].name]);
    }
  }

  #leave(solid: number): void {
    const stack = this.#stack;
    for (let k = this.#depth - 1; k >= 0; k--) {
      if (stack[k] !== solid) continue;
      if (k < this.#depth - 1) {
        const names = this.model.solids;
        this.#mishap('overlap', [names[solid].name, names[stack[this.#depth - 1]].name]);
      }
      for (let j = k; j < this.#depth - 1; j++) stack[j] = stack[j + 1];
      this.#depth--;
      return;
    }
  }

  #push(flux: number, part: number, at: Stand, apart = 0): void {
    const [depth, stack] = [this.#depth, this.#stack.slice()];
    if (part >= 2) this.#cross(at);
    const turned = this.#turned;
    const l = turned[0];
    const m = turned[1];
    const n = turned[2];
    const scale = 1 / Math.sqrt(l * l + m * m + n * n);
    const ray = this.#ray;
    // A child draws numbers of its own.
    const random = this.#random;
    const key = mixBits(random.a + Math.imul(4 * this.#events + part, CHILD) + apart);
    this.#waiting.push(
      ray[0],
      ray[1],
      ray[2],
      l * scale,
      m * scale,
      n * scale,
      flux,
      this.#wave,
      this.#events,
      this.#depth,
      key,
      random.b,
      0,
      this.#first,
      this.#aimed ? 1 : 0,
    );
    for (let k = 0; k < DEPTH; k++) this.#waiting.push(this.#stack[k]);
    this.#depth = depth;
    this.#stack.set(stack);
  }

  /** Takes the ray that waits last; false where none does. */
  #take(): boolean {
    const { length } = this.#waiting;
    if (length === 0) return false;
    const o = length - STRIDE;
    const w = this.#waiting;
    for (let k = 0; k < 6; k++) this.#ray[k] = w[o + k];
    this.#flux = w[o + 6];
    this.#wave = w[o + 7];
    this.#events = w[o + 8];
    this.#depth = w[o + 9];
    for (let k = 0; k < DEPTH; k++) this.#stack[k] = w[o + 15 + k];
    this.#random.a = w[o + 10];
    this.#random.b = w[o + 11];
    this.#random.count = w[o + 12];
    this.#first = w[o + 13];
    this.#aimed = w[o + 14] === 1;
    w.length = o;
    return true;
  }

  /** The ray meets nothing more. */
  #escape(): void {
    this.#sum.ledger.escaped += this.#flux;
    const ray = this.#ray;
    const { solids } = this.model;
    if (this.#depth > 0) this.#mishap('leak', [solids[this.#stack[this.#depth - 1]].name]);
    this.#counts.far(ray[3], ray[4], ray[5], this.#flux, this.#wave);
  }

  #mishap(kind: Mishap['kind'], between: readonly string[]): void {
    this.#sum.mishap(kind, between, [this.#ray[0], this.#ray[1], this.#ray[2]]);
  }

  #watch(way: number, face: number): void {
    const { watch } = this.#options;
    if (!watch) return;
    const [x, y, z, l, m, n] = this.#ray;
    const { box } = this.model;
    const size = box ? Math.hypot(...box.max.map((value, axis) => value - box.min[axis])) : 100;
    const length = way < Infinity ? way : size / 4;
    watch({
      from: [x, y, z],
      to: [x + length * l, y + length * m, z + length * n],
      share: this.#flux / this.#launched,
      wave: this.#wave,
      source: this.#source,
      launch: this.#launch,
      face,
    });
  }
}
