import type { FaceShares } from '../finishes/fresnel.ts';
import type { CompiledFinish } from '../finishes/finish.ts';
import { mixBits } from '../math/random.ts';
import {
  about,
  across,
  acrossU,
  acrossV,
  reflect,
  refract,
  setDirection,
  toL,
  toM,
  toN,
} from '../physics/directions.ts';
import { ScatterAims } from './aims.ts';
import type { DetectorCounts } from './detector-counts.ts';
import { AIMED_CHILD, CHILD } from './kernel-layout.ts';
import type { NearestFace } from './nearest-face.ts';
import type { SceneModel } from './scene-model.ts';
import type { Mishap, TallySum } from './tally.ts';
import type { TracedRay, WaitingRays } from './traced-ray.ts';

/** Weaker than this no child ray is worth a draw: over the flux of its launch, or over what is scattered. */
const FAINT = 1e-30;

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

/** What the events of a trace work on together. */
export interface Bench {
  readonly model: SceneModel;
  readonly nearest: NearestFace;
  readonly ray: TracedRay;
  readonly waiting: WaitingRays;
  readonly counts: DetectorCounts;
  /** All light counts as polarised across (`s`) or in (`p`) each plane of incidence; unpolarised light when left out. */
  readonly polarised?: 's' | 'p' | undefined;
}

/**
 * What becomes of light at faces: what a ray meets shares its flux out (Fresnel, films, metals) and spreads a part (scatter). Parts are
 * numbered: 0 reflected, 1 that scattered, 2 refracted, 3 that scattered.
 */
export class FaceEvents {
  readonly #bench: Bench;
  readonly #shares: FaceShares = { rs: 0, rp: 0, ts: 0, tp: 0 };
  readonly #normal = new Float64Array(3);
  readonly #drawn = new Float64Array(3);
  readonly #parts = new Float64Array(4);
  readonly #place = new Float64Array(9);
  readonly #at = {} as Stand; // `#stand` writes all of it
  readonly #aims: ScatterAims;
  sum: TallySum;

  /** @param sum - what is booked to at first */
  constructor(bench: Bench, sum: TallySum) {
    this.#bench = bench;
    this.#aims = new ScatterAims(bench.model.aims);
    this.sum = sum;
  }

  /** Shares the ray's flux out at face i. The ray under way becomes the strongest of what goes on; false if nothing does. */
  meet(i: number): boolean {
    const { model, ray, counts, nearest } = this.#bench;
    const { flux } = ray;
    const at = this.#stand(i);
    for (const d of model.faces[i].detectors)
      if (model.detectors[d].detector.counts === 'incident') counts.onFace(d, nearest.local, flux, ray);
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
    if (!(whole > FAINT * ray.first)) {
      this.sum.ledger.cutOff += whole;
      return false;
    }
    this.#goOn(at, whole);
    return true;
  }

  /** Sends the parts of the light on: one as the ray under way, the others, if rays are split, as rays that wait. */
  #goOn(at: Stand, whole: number): void {
    const parts = this.#parts;
    const { ray, model } = this.#bench;
    const { splitting, threshold } = model.scene.sampling;
    const split = splitting === 'split';
    const drawAimed = this.#aims.aims.length > 0 && !ray.aimed;
    const least = FAINT * ray.first;
    if (drawAimed) for (const k of [1, 3]) if (parts[k] > least) this.#sendAimed(k, parts[k], at);
    let chosen = 0;
    if (split) for (let k = 1; k < 4; k++) chosen = parts[k] > parts[chosen] ? k : chosen;
    else {
      let left = ray.random.uniform() * whole;
      while (chosen < 3 && left >= parts[chosen]) left -= parts[chosen++];
      // Rounding may leave a hair of it behind the last part that there is.
      while (parts[chosen] === 0) chosen--;
    }
    /** Turns part `k` to where it goes; the flux that it keeps beside what is aimed. */
    const directed = (k: number, flux: number) => {
      this.#direct(k, at);
      const kept = drawAimed ? this.#kept(k, at) : 1;
      this.sum.ledger.byLot += flux * (1 - kept);
      return flux * kept;
    };
    if (split && parts[chosen] < whole) {
      const weakest = threshold * ray.first;
      for (let k = 0; k < 4; k++) {
        if (k === chosen || parts[k] === 0) continue;
        if (parts[k] < weakest) this.sum.ledger.cutOff += parts[k];
        else this.#push(directed(k, parts[k]), k, at);
      }
    }
    ray.flux = directed(chosen, split ? parts[chosen] : whole);
    ray.turn(toL, toM, toN);
    if (chosen >= 2) this.#cross(at);
  }

  /** How the ray under way stands to a face that it has come to. */
  #stand(i: number): Stand {
    const { model, nearest, ray } = this.#bench;
    const { solids, around } = model;
    const { inner, outer, form, optics } = model.faces[i];
    const at = this.#at;
    const normal = this.#normal;
    form.normal(nearest.local[0], nearest.local[1], nearest.local[2], normal);
    const [nx, ny, nz] = normal;
    // The normal in the coordinates of the scene (the inverse of a rotation is its transpose), turned to the side light goes to.
    const p = nearest.poses;
    const o = 12 * i;
    const gx = p[o] * nx + p[o + 3] * ny + p[o + 6] * nz;
    const gy = p[o + 1] * nx + p[o + 4] * ny + p[o + 7] * nz;
    const gz = p[o + 2] * nx + p[o + 5] * ny + p[o + 8] * nz;
    const cosine = ray.at[3] * gx + ray.at[4] * gy + ray.at[5] * gz;
    const side = cosine > 0 ? 1 : -1;
    at.outward = cosine > 0;
    at.gx = side * gx;
    at.gy = side * gy;
    at.gz = side * gz;
    at.cosine = Math.min(1, side * cosine);
    at.inner = inner;
    at.outer = outer;
    at.finish = optics[ray.wave];
    const here = ray.innermost;
    at.there = inner < 0 ? here : ray.beyond(inner, outer, at.outward);
    at.n1 = (here < 0 ? around : solids[here]).indices[ray.wave];
    at.n2 = (at.there < 0 ? around : solids[at.there]).indices[ray.wave];
    return at;
  }

  /** The shares of the flux that a face reflects and lets through, of the polarisation that is traced. */
  #sharesAt({ n1, n2, cosine, outward, finish, inner, there }: Stand): readonly [reflected: number, through: number] {
    if (!(n1 > 0) || (!finish.opaque && !(n2 > 0))) {
      // A medium without an index, or a body without a medium: the light ends here.
      const { solids } = this.#bench.model;
      if (inner >= 0 && !finish.opaque) this.#mishap('opaque', [solids[there < 0 ? inner : there].name]);
      return [0, 0];
    }
    const shares = this.#shares;
    finish.shares(n1, n2, cosine, outward, shares);
    const { polarised } = this.#bench;
    if (polarised === 's') return [shares.rs, shares.ts];
    if (polarised === 'p') return [shares.rp, shares.tp];
    return [(shares.rs + shares.rp) / 2, (shares.ts + shares.tp) / 2];
  }

  /** Books what a face absorbs, and counts it where detectors count that or what leaves. */
  #countAbsorbed(i: number, absorbed: number): void {
    const { model, counts, nearest, ray } = this.#bench;
    const { detectors } = model.faces[i];
    this.sum.faces[i] += absorbed;
    for (const d of detectors) {
      const what = model.detectors[d].detector.counts;
      if (what === 'absorbed') counts.onFace(d, nearest.local, absorbed, ray);
      else if (what === 'leaving') counts.onFace(d, nearest.local, ray.flux - absorbed, ray);
    }
    this.sum.ledger[detectors.length > 0 ? 'detected' : 'absorbed'] += absorbed;
  }

  /** Finds where part `k` of the light goes. */
  #direct(k: number, { gx, gy, gz, cosine, n1, n2, finish: { reflected, transmitted } }: Stand): void {
    const { at, random } = this.#bench.ray;
    if (k < 2) reflect(at[3], at[4], at[5], gx, gy, gz, cosine);
    else refract(at[3], at[4], at[5], gx, gy, gz, cosine, n1 / n2);
    if (k !== 1 && k !== 3) return;
    // In the frame of the face: z along the normal on the side light goes to.
    const side = k === 1 ? -1 : 1;
    const [zx, zy, zz] = [side * gx, side * gy, side * gz];
    across(zx, zy, zz, toL, toM, toN);
    const drawn = this.#drawn;
    (k === 1 ? reflected! : transmitted!).draw(acrossU, acrossV, random, drawn);
    about(zx, zy, zz, drawn[2], drawn[0], drawn[1]);
  }

  /** Writes where part `k` is scattered and where it would go from a smooth face into `#place`. */
  #standAt(k: number, at: Stand): void {
    const side = k < 2 ? -1 : 1;
    this.#direct(k - 1, at);
    const [x, y, z] = this.#bench.ray.at;
    this.#place.set([x, y, z, side * at.gx, side * at.gy, side * at.gz, toL, toM, toN]);
  }

  /** What a drawn ray of part `k` keeps of its flux beside those that are aimed. */
  #kept(k: number, at: Stand): number {
    if (k !== 1 && k !== 3) return 1;
    const [l, m, n] = [toL, toM, toN];
    this.#standAt(k, at);
    setDirection(l, m, n);
    return this.#aims.share((k === 1 ? at.finish.reflected : at.finish.transmitted)!, this.#place, l, m, n);
  }

  /** Sends what part `k` scatters into the cones of the aims, a ray each. */
  #sendAimed(k: number, part: number, at: Stand): void {
    this.#standAt(k, at);
    const { ray } = this.#bench;
    const scatter = k === 1 ? at.finish.reflected! : at.finish.transmitted!;
    const { first } = ray;
    for (let j = 0; j < this.#aims.aims.length; j++) {
      const share = this.#aims.draw(j, scatter, this.#place, ray.random, this.#drawn);
      if (!(share > FAINT)) continue;
      const flux = part * share;
      this.sum.ledger.byLot -= flux;
      ray.first = flux;
      ray.aimed = true;
      setDirection(this.#drawn[0], this.#drawn[1], this.#drawn[2]);
      this.#push(flux, k, at, Math.imul(j + 1, AIMED_CHILD));
      ray.aimed = false;
      ray.first = first;
    }
  }

  /** Lets a child of the ray wait, on the way found last. Its key sets its draws apart from those of others. */
  #push(flux: number, part: number, at: Stand, apart = 0): void {
    const { ray, waiting } = this.#bench;
    const [depth, stack] = [ray.depth, ray.stack.slice()];
    if (part >= 2) this.#cross(at);
    const key = mixBits(ray.random.a + Math.imul(4 * ray.events + part, CHILD) + apart);
    waiting.push(ray, flux, toL, toM, toN, key);
    ray.depth = depth;
    ray.stack.set(stack);
  }

  /** Out of one body and into another, as a face between them says. */
  #cross({ inner, outer, outward }: Stand): void {
    if (inner < 0) return;
    const { ray, model } = this.#bench;
    const { solids } = model;
    const [left, entered] = outward ? [inner, outer] : [outer, inner];
    const overlapping = left >= 0 ? ray.leave(left) : -1;
    if (overlapping >= 0) this.#mishap('overlap', [solids[left].name, solids[overlapping].name]);
    if (entered >= 0 && !ray.enter(entered)) this.#mishap('overlap', [solids[entered].name]);
  }

  #mishap(kind: Mishap['kind'], between: readonly string[]): void {
    const { at } = this.#bench.ray;
    this.sum.mishap(kind, between, [at[0], at[1], at[2]]);
  }
}
