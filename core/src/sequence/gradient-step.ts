import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { CompiledGradient } from '../materials/gradient.ts';
import { AT_REST, compose, inverse, movePoint, shifted, turnDirection, type Rigid } from '../math/rigid.ts';
import type { CompiledShape } from '../shapes/shape.ts';

/** A medium with an index that changes inside it, between two surfaces. */
export interface GradientMedium {
  readonly field: CompiledGradient;
  /** From the frame of the surface in front to that of the field; null where they are the same. */
  readonly toField: Rigid | null;
}

/** Position, n·direction and optical path of a ray: what the steps carry on. */
const SIZE = 7;
/** Error per step that is let pass, mm and the like. */
const TOLERANCE = 1e-12;
/** Near enough to the surface, mm. */
const MET = 1e-13;
const MOST_STEPS = 20_000;

/** J. R. Dormand and P. J. Prince, A family of embedded Runge-Kutta formulae, J. Comput. Appl. Math. 6, 19 (1980): orders 5 and 4. */
const A = [
  [1 / 5],
  [3 / 40, 9 / 40],
  [44 / 45, -56 / 15, 32 / 9],
  [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
  [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
  [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
] as const;
const FOURTH = [5179 / 57600, 0, 7571 / 16695, 393 / 640, -92097 / 339200, 187 / 2100, 1 / 40] as const;

/**
 * Rays through gradient-index media: dr/dτ = T, dT/dτ = ½∇n², T = n·direction (A. Sharma, D. V. Kumar and A. K. Ghatak, Appl. Opt. 21,
 * 984 (1982)), by Runge–Kutta steps with error control; the path grows by n²dτ.
 */
class Steps {
  readonly #field: CompiledGradient;
  readonly #base: number;
  readonly #slopes = Array.from({ length: 7 }, () => new Float64Array(SIZE));
  readonly #at = new Float64Array(SIZE);
  readonly #local = new Float64Array(4);

  constructor(field: CompiledGradient, base: number) {
    this.#field = field;
    this.#base = base;
  }

  /** n² at a place. */
  square(x: number, y: number, z: number): number {
    this.#field.evaluate(x, y, z, this.#local);
    return this.#base + this.#local[0];
  }

  #slope(state: Float64Array, out: Float64Array): void {
    const square = this.square(state[0], state[1], state[2]);
    out[0] = state[3];
    out[1] = state[4];
    out[2] = state[5];
    out[3] = this.#local[1] / 2;
    out[4] = this.#local[2] / 2;
    out[5] = this.#local[3] / 2;
    out[6] = square;
  }

  /** Writes the state a step of τ later into `out`; returns the estimate of its error over what is let pass. */
  take(state: Float64Array, tau: number, out: Float64Array): number {
    const slopes = this.#slopes;
    this.#slope(state, slopes[0]);
    for (let stage = 0; stage < 6; stage++) {
      const target = stage === 5 ? out : this.#at;
      for (let k = 0; k < SIZE; k++) {
        let sum = 0;
        for (let s = 0; s <= stage; s++) sum += A[stage][s] * slopes[s][k];
        target[k] = state[k] + tau * sum;
      }
      this.#slope(target, slopes[stage + 1]);
    }
    let error = 0;
    for (let k = 0; k < SIZE; k++) {
      let fourth = 0;
      for (let s = 0; s < 7; s++) fourth += FOURTH[s] * slopes[s][k];
      const scale = TOLERANCE * Math.max(1, Math.abs(out[k]));
      error = Math.max(error, Math.abs(out[k] - (state[k] + tau * fourth)) / scale);
    }
    return error;
  }
}

/**
 * Brings living rays from behind one surface onto the next, through a gradient, in the frame of the next one. Those that do not get
 * there end with a reason.
 *
 * @param base - n₀² of the medium at the wavelength
 * @param entry - from the frame of the surface in front to that of the next
 * @param along - sees the places a ray goes through, in the frame of the surface in front
 */
export function crossGradient(
  rays: RayBlock,
  count: number,
  medium: GradientMedium,
  base: number,
  entry: Rigid,
  shape: CompiledShape,
  surface: number,
  along?: (ray: number, x: number, y: number, z: number) => void,
): void {
  const { field, toField } = medium;
  const steps = new Steps(field, base);
  const here = toField ?? AT_REST;
  const toNext = toField ? compose(entry, inverse(toField)) : entry;
  const back = inverse(here);
  const { x, y, z, l, m, n, path, status, at } = rays;
  const end = (i: number, reason: number) => {
    status[i] = reason;
    at[i] = surface;
  };
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const start = movePoint(here, [x[i], y[i], z[i]]);
    const way = turnDirection(here, [l[i], m[i], n[i]]);
    const index = Math.sqrt(steps.square(...start));
    let state: Float64Array | null = null;
    if (index > 0) {
      const first = Float64Array.of(...start, way[0] * index, way[1] * index, way[2] * index, 0);
      const look = along && ((p: Float64Array) => along(i, ...movePoint(back, [p[0], p[1], p[2]])));
      state = follow(steps, first, toNext, shape, look);
    }
    if (!state) {
      const place = movePoint(entry, [x[i], y[i], z[i]]);
      const direction = turnDirection(entry, [l[i], m[i], n[i]]);
      [x[i], y[i], z[i]] = place;
      [l[i], m[i], n[i]] = direction;
      end(i, index > 0 ? RAY_STATUS.missed : RAY_STATUS.noIndex);
      continue;
    }
    const place = movePoint(toNext, [state[0], state[1], state[2]]);
    const length = Math.hypot(state[3], state[4], state[5]);
    const direction = turnDirection(toNext, [state[3] / length, state[4] / length, state[5] / length]);
    [x[i], y[i], z[i]] = place;
    [l[i], m[i], n[i]] = direction;
    path[i] += state[6];
  }
}

/** Steps until the ray meets the next surface; null where it does not. */
function follow(
  steps: Steps,
  first: Float64Array,
  toNext: Rigid,
  shape: CompiledShape,
  look: ((state: Float64Array) => void) | undefined,
): Float64Array | null {
  let state = first;
  let step = 0.1; // of τ, mm
  for (let count = 0; count < MOST_STEPS; count++) {
    const t = straightWay(state, toNext, shape);
    if (Math.abs(t) <= MET * Math.max(1, Math.abs(state[0]), Math.abs(state[1]), Math.abs(state[2])))
      return state;
    const squared = state[3] * state[3] + state[4] * state[4] + state[5] * state[5];
    // A ray that bends may find the surface later; until then it goes on.
    const wanted = Number.isNaN(t) ? Infinity : t / Math.sqrt(squared);
    const tau = Math.sign(wanted) * Math.min(Math.abs(wanted), step);
    const next = new Float64Array(SIZE);
    const error = steps.take(state, tau, next);
    if (!Number.isFinite(error) || !(steps.square(next[0], next[1], next[2]) > 0)) return null;
    const factor = error === 0 ? 4 : Math.min(4, Math.max(0.2, 0.9 * error ** -0.2));
    if (error > 1) {
      step = Math.abs(tau) * factor;
      continue;
    }
    if (Math.abs(wanted) > step) step *= factor;
    state = next;
    look?.(state);
    if (Math.abs(state[0]) + Math.abs(state[1]) + Math.abs(state[2]) > 1e6) return null;
  }
  return null;
}

const PROBE = rayBlock(1);

/** Distance to the surface along the present direction; NaN where that misses it. */
function straightWay(state: Float64Array, toNext: Rigid, shape: CompiledShape): number {
  const length = Math.hypot(state[3], state[4], state[5]);
  [PROBE.x[0], PROBE.y[0], PROBE.z[0]] = movePoint(toNext, [state[0], state[1], state[2]]);
  const [l, m, n] = turnDirection(toNext, [state[3], state[4], state[5]]);
  [PROBE.l[0], PROBE.m[0], PROBE.n[0]] = [l / length, m / length, n / length];
  PROBE.status[0] = RAY_STATUS.alive;
  shape.intersect(PROBE, 1);
  return PROBE.t[0];
}

/** The index of a gradient at a place in the frame of its surface in front; NaN where there is none. */
export function gradientIndex(
  medium: GradientMedium,
  base: number,
  place: readonly [number, number, number],
): number {
  const out = new Float64Array(4);
  medium.field.evaluate(...movePoint(medium.toField ?? AT_REST, place), out);
  return Math.sqrt(base + out[0]);
}

/** The step over a gap as a motion. */
export function gapMotion(gap: number): Rigid {
  return shifted(0, 0, -gap);
}
