import { KeyedRandom } from '../math/random.ts';
import { DEPTH } from './kernel-layout.ts';

/** A ray under way: where it is, what it carries, which bodies it is in. */
export class TracedRay {
  /** Place and direction, and the flux of its launch over that of a ray of even shares. */
  readonly at = new Float64Array(7);
  /** Indices of the bodies that it is in, the innermost last. */
  readonly stack = new Int32Array(DEPTH);
  depth = 0;
  /** W. */
  flux = 0;
  /** Flux that its threshold counts from: of its launch, or of an aimed ray that it comes from. */
  first = 0;
  /** Flux of its launch. */
  launched = 0;
  /** Indices of its wavelength and source, and the number of its launch. */
  wave = 0;
  source = 0;
  launch = 0;
  events = 0;
  /** Whether it comes from an aimed ray, whose scattered light is not aimed again. */
  aimed = false;
  readonly random = new KeyedRandom();

  /** The innermost body; −1 outside of all. */
  get innermost(): number {
    return this.depth > 0 ? this.stack[this.depth - 1] : -1;
  }

  isIn(solid: number): boolean {
    for (let k = this.depth - 1; k >= 0; k--) if (this.stack[k] === solid) return true;
    return false;
  }

  /** The solid behind a face between `inner` and `outer`; −1 for what is around. */
  beyond(inner: number, outer: number, outward: boolean): number {
    if (!outward) return inner;
    if (outer >= 0) return outer;
    let top = this.depth - 1;
    if (top >= 0 && this.stack[top] === inner) top--;
    return top >= 0 ? this.stack[top] : -1;
  }

  /** Goes into a body; false where it is in too many already. */
  enter(solid: number): boolean {
    if (this.depth === DEPTH) return false;
    this.stack[this.depth++] = solid;
    return true;
  }

  /** Goes out of a body. Returns the innermost one where that is another: the two overlap; −1 where all is well. */
  leave(solid: number): number {
    const { stack, depth } = this;
    for (let k = depth - 1; k >= 0; k--) {
      if (stack[k] !== solid) continue;
      const overlapping = k < depth - 1 ? stack[depth - 1] : -1;
      for (let j = k; j < depth - 1; j++) stack[j] = stack[j + 1];
      this.depth--;
      return overlapping;
    }
    return -1;
  }

  /** Begins outside or inside of bodies, the outermost first. */
  standIn(solids: readonly number[]): void {
    this.depth = solids.length;
    this.stack.set(solids);
  }

  move(way: number): void {
    const { at } = this;
    for (let axis = 0; axis < 3; axis++) at[axis] += way * at[3 + axis];
  }

  /** Takes a direction, which is made a unit vector. */
  turn(l: number, m: number, n: number): void {
    const scale = 1 / Math.sqrt(l * l + m * m + n * n);
    this.at[3] = l * scale;
    this.at[4] = m * scale;
    this.at[5] = n * scale;
  }
}

/** Numbers that a waiting ray is kept in. */
const STRIDE = 15 + DEPTH;

/** Rays that wait until the one under way has ended, the last come first. */
export class WaitingRays {
  readonly #kept: number[] = [];

  /**
   * Adds a child of a ray: at its place, in the bodies that it is in.
   *
   * @param key - of the random numbers of the child
   */
  push(ray: TracedRay, flux: number, l: number, m: number, n: number, key: number): void {
    const scale = 1 / Math.sqrt(l * l + m * m + n * n);
    const { at, random } = ray;
    this.#kept.push(at[0], at[1], at[2], l * scale, m * scale, n * scale);
    this.#kept.push(flux, ray.wave, ray.events, ray.depth, key, random.b, 0, ray.first, ray.aimed ? 1 : 0);
    for (let k = 0; k < DEPTH; k++) this.#kept.push(ray.stack[k]);
  }

  /** Makes the last one the ray under way; false where none waits. */
  take(ray: TracedRay): boolean {
    const w = this.#kept;
    if (w.length === 0) return false;
    const o = w.length - STRIDE;
    for (let k = 0; k < 6; k++) ray.at[k] = w[o + k];
    ray.flux = w[o + 6];
    ray.wave = w[o + 7];
    ray.events = w[o + 8];
    ray.depth = w[o + 9];
    ray.random.a = w[o + 10];
    ray.random.b = w[o + 11];
    ray.random.count = w[o + 12];
    ray.first = w[o + 13];
    ray.aimed = w[o + 14] === 1;
    for (let k = 0; k < DEPTH; k++) ray.stack[k] = w[o + 15 + k];
    w.length = o;
    return true;
  }
}
