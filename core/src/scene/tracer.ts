import { mixBits, RandomStream } from '../math/random.ts';
import { ShiftedSobol } from '../math/sobol.ts';
import { drawTurned, toL, toM, toN } from '../physics/directions.ts';
import { freePath, volumeCosine } from '../physics/scatter-laws.ts';
import { DetectorCounts } from './detector-counts.ts';
import { FaceEvents } from './face-events.ts';
import { NearestFace } from './nearest-face.ts';
import type { SceneModel } from './scene-model.ts';
import { LAUNCH_DIMENSIONS } from './sources.ts';
import { TallySum } from './tally.ts';
import { TracedRay, WaitingRays } from './traced-ray.ts';

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

/**
 * Traces a compiled scene in chunks, ray by ray: what `BlockTracer` is tested against, and what draws rays.
 *
 * Every chunk launches the whole flux from all sources, from a low-discrepancy sequence of its own: the spread between chunks is the
 * standard error, whatever the light did on its way.
 */
export class SceneTracer implements ChunkTracer {
  readonly model: SceneModel;
  readonly #watcher: TracerOptions['watch'];
  readonly #starts: readonly (readonly number[])[];
  readonly #nearest: NearestFace;
  readonly #ray = new TracedRay();
  readonly #waiting = new WaitingRays();
  readonly #counts: DetectorCounts;
  readonly #events: FaceEvents;
  #sum: TallySum;

  constructor(model: SceneModel, { watch, polarised }: TracerOptions = {}) {
    this.model = model;
    this.#watcher = watch;
    const { faces, detectors, sources, solids } = model;
    this.#nearest = new NearestFace(model);
    this.#sum = new TallySum(detectors, faces.length, solids.length, sources.length);
    this.#counts = new DetectorCounts(model);
    const [nearest, ray, waiting, counts] = [this.#nearest, this.#ray, this.#waiting, this.#counts];
    this.#events = new FaceEvents({ model, nearest, ray, waiting, counts, polarised }, this.#sum);
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

  /** Indices of the solids that a point lies in, the outermost first: see `NearestFace`. */
  bodiesAt(x: number, y: number, z: number): number[] {
    return this.#nearest.bodiesAt(x, y, z);
  }

  chunk(chunk: number, size: number, seed: number, sum: TallySum): void {
    const { sources } = this.model;
    this.#sum = this.#events.sum = sum;
    const stream = new RandomStream(seed, chunk);
    const whole = sources.reduce((sum, { watts }) => sum + watts, 0);
    const u = new Float64Array(LAUNCH_DIMENSIONS);
    const ray = this.#ray;
    let rays = 0;
    sources.forEach((source, s) => {
      const count = Math.max(1, Math.round((size * source.watts) / whole));
      const sequence = new ShiftedSobol(LAUNCH_DIMENSIONS, stream);
      const [a, b] = [stream.bits(), stream.bits()];
      const flux = source.watts / count;
      ray.source = s;
      for (let i = 0; i < count; i++) {
        sequence.next(u);
        ray.wave = source.launch(u, ray.at);
        if (!(ray.at[6] > 0)) continue; // an aimed source sends nothing beyond its own law
        ray.launch = rays + i;
        this.#begin(flux * ray.at[6], this.#starts[s], a | 0, mixBits(b + i));
        sum.ledger.launched += ray.flux;
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
    const ray = this.#ray;
    ray.at.set([...at, ...direction.map((part) => part / length)]);
    ray.wave = wave;
    this.#begin(1, this.bodiesAt(...at), seed | 0, 0);
    this.#follow();
  }

  /** Makes the ray under way one that is launched here and now. */
  #begin(flux: number, inside: readonly number[], keyA: number, keyB: number): void {
    const ray = this.#ray;
    ray.flux = ray.first = ray.launched = flux;
    ray.standIn(inside);
    ray.aimed = false;
    ray.events = 0;
    ray.random.a = keyA;
    ray.random.b = keyB;
    ray.random.count = 0;
  }

  /** Follows the ray under way and all its children; whether it met anything. */
  #follow(): boolean {
    const { solids, faces } = this.model;
    const ray = this.#ray;
    const nearest = this.#nearest;
    let met = false;
    for (;;) {
      // One step of the ray under way.
      const inside = ray.innermost;
      nearest.find(ray);
      const { face } = nearest;
      let way = face < 0 ? Infinity : Math.max(0, nearest.far);
      const scattering = inside < 0 ? 0 : solids[inside].scattering;
      const free = scattering > 0 ? freePath(scattering, ray.random.uniform()) : Infinity;
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
        ray.move(nearest.far);
        if (faces[face].through) {
          for (const d of faces[face].detectors) this.#counts.onFace(d, nearest.local, ray.flux, ray);
        } else {
          ray.events++;
          alive = this.#events.meet(face);
        }
      }
      alive &&= this.#goesOn();
      if (!alive && !this.#waiting.take(ray)) return met;
    }
  }

  /** Takes what the medium absorbs on a way from the flux. */
  #absorb(inside: number, way: number): void {
    const ray = this.#ray;
    const { solids, around } = this.model;
    const loss = (inside < 0 ? around : solids[inside]).absorption[ray.wave];
    if (!(loss > 0 && way < Infinity)) return;
    const left = ray.flux * Math.exp(-loss * way);
    this.#sum.ledger.inBodies += ray.flux - left;
    if (inside >= 0) this.#sum.solids[inside] += ray.flux - left;
    this.#counts.deposit(ray, way, loss);
    ray.flux = left;
  }

  /** Scatters the ray in a volume, after a way in it. */
  #scatter(asymmetry: number, way: number): void {
    const ray = this.#ray;
    const { at, random } = ray;
    ray.move(way);
    const cosine = volumeCosine(asymmetry, random.uniform());
    drawTurned(at[3], at[4], at[5], cosine, random.uniform());
    ray.turn(toL, toM, toN);
    ray.events++;
  }

  /** Whether the ray goes on after an event: not after too many, and below the threshold not at all, or by lot. */
  #goesOn(): boolean {
    const ray = this.#ray;
    const { splitting, threshold, events } = this.model.scene.sampling;
    const { ledger } = this.#sum;
    const least = threshold * ray.first;
    const weak = ray.flux < least;
    if (ray.events >= events || (weak && splitting === 'split')) {
      ledger.cutOff += ray.flux;
      return false;
    }
    if (!weak) return true;
    // Ended by lot, or strengthened so that nothing changes on the whole.
    if (ray.random.uniform() < ray.flux / least) {
      ledger.byLot -= least - ray.flux;
      ray.flux = least;
      return true;
    }
    ledger.byLot += ray.flux;
    return false;
  }

  /** The ray meets nothing more. */
  #escape(): void {
    const { at, flux, innermost } = this.#ray;
    this.#sum.ledger.escaped += flux;
    if (innermost >= 0) this.#sum.mishap('leak', [this.model.solids[innermost].name], [at[0], at[1], at[2]]);
    this.#counts.far(this.#ray);
  }

  #watch(way: number, face: number): void {
    if (!this.#watcher) return;
    const ray = this.#ray;
    const [x, y, z, l, m, n] = ray.at;
    const { box } = this.model;
    const size = box ? Math.hypot(...box.max.map((value, axis) => value - box.min[axis])) : 100;
    const length = way < Infinity ? way : size / 4;
    this.#watcher({
      from: [x, y, z],
      to: [x + length * l, y + length * m, z + length * n],
      share: ray.flux / ray.launched,
      wave: ray.wave,
      source: ray.source,
      launch: ray.launch,
      face,
    });
  }
}
