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
const MOST_STEPS = 2000;

/** Numbers of substeps whose results are extrapolated, one after the other until they agree. */
const SUBSTEPS = [2, 4, 6, 8, 10, 12, 14, 16] as const;
/** A step that agrees with so few of them was short, one that needs more is long enough. */
const EARLY = 5;
/** Stretches that a drawn way is made of, at least. */
const DRAWN = 24;

/**
 * Rays through gradient-index media: dr/dτ = T, dT/dτ = ½∇n², T = n·direction (A. Sharma, D. V. Kumar and A. K. Ghatak, Appl. Opt. 21,
 * 984 (1982)); the path grows by n²dτ. Steps by the modified
 * midpoint rule, extrapolated to none (W. B. Gragg, SIAM J. Numer. Anal. 2, 384 (1965); R. Bulirsch and J. Stoer, Numer. Math. 8, 1
 * (1966)): what light does in a smooth medium takes a few long steps.
 */
class Steps {
  readonly #field: CompiledGradient;
  readonly #base: number;
  readonly #table = SUBSTEPS.map(() => new Float64Array(SIZE));
  readonly #start = new Float64Array(SIZE);
  readonly #slopes = new Float64Array(SIZE);
  #before = new Float64Array(SIZE);
  #at = new Float64Array(SIZE);
  readonly #left = new Float64Array(SIZE);
  readonly #above = new Float64Array(SIZE);
  /** How many results the last step was extrapolated from. */
  rows = 0;
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

  /** The modified midpoint rule over a step of τ in so many substeps. */
  #midpoint(state: Float64Array, tau: number, substeps: number, out: Float64Array): void {
    const h = tau / substeps;
    this.#before.set(state);
    for (let k = 0; k < SIZE; k++) this.#at[k] = state[k] + h * this.#start[k];
    for (let step = 1; step < substeps; step++) {
      this.#slope(this.#at, this.#slopes);
      for (let k = 0; k < SIZE; k++) this.#before[k] += 2 * h * this.#slopes[k];
      [this.#before, this.#at] = [this.#at, this.#before];
    }
    this.#slope(this.#at, this.#slopes);
    for (let k = 0; k < SIZE; k++) out[k] = (this.#at[k] + this.#before[k] + h * this.#slopes[k]) / 2;
  }

  /** Writes the state a step of τ later into `out`; returns the estimate of its error over what is let pass. */
  take(state: Float64Array, tau: number, out: Float64Array): number {
    const table = this.#table;
    this.#slope(state, this.#start);
    let error = Infinity;
    for (let row = 0; row < SUBSTEPS.length && error > 1; row++) {
      this.#midpoint(state, tau, SUBSTEPS[row], out);
      // Aitken's and Neville's scheme in h²: table[j] holds the last row, from its plain result on.
      const [left, above] = [this.#left, this.#above];
      left.set(out);
      for (let column = 1; column <= row; column++) {
        const weight = 1 / ((SUBSTEPS[row] / SUBSTEPS[row - column]) ** 2 - 1);
        above.set(table[column - 1]);
        table[column - 1].set(left);
        for (let k = 0; k < SIZE; k++) out[k] = left[k] + weight * (left[k] - above[k]);
        if (column === row) {
          error = 0;
          for (let k = 0; k < SIZE; k++)
            error = Math.max(error, Math.abs(out[k] - left[k]) / (TOLERANCE * Math.max(1, Math.abs(out[k]))));
        }
        left.set(out);
      }
      table[row].set(left);
      this.rows = row + 1;
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
  let step = 1; // of τ, mm
  let drawn = Infinity;
  for (let count = 0; count < MOST_STEPS; count++) {
    const t = straightWay(state, toNext, shape);
    if (Math.abs(t) <= MET * Math.max(1, Math.abs(state[0]), Math.abs(state[1]), Math.abs(state[2]))) return state;
    const squared = state[3] * state[3] + state[4] * state[4] + state[5] * state[5];
    // A ray that bends may find the surface later; until then it goes on.
    const wanted = Number.isNaN(t) ? Infinity : t / Math.sqrt(squared);
    if (look && count === 0 && Number.isFinite(wanted)) drawn = Math.abs(wanted) / DRAWN;
    const tau = Math.sign(wanted) * Math.min(Math.abs(wanted), step, drawn);
    const next = new Float64Array(SIZE);
    const error = steps.take(state, tau, next);
    if (!Number.isFinite(error) || !(steps.square(next[0], next[1], next[2]) > 0)) return null;
    if (error > 1) {
      step = Math.abs(tau) / 2;
      continue;
    }
    if (Math.abs(wanted) > step && steps.rows <= EARLY) step *= 2;
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
export function gradientIndex(medium: GradientMedium, base: number, place: readonly [number, number, number]): number {
  const out = new Float64Array(4);
  medium.field.evaluate(...movePoint(medium.toField ?? AT_REST, place), out);
  return Math.sqrt(base + out[0]);
}

/** The step over a gap as a motion. */
export function gapMotion(gap: number): Rigid {
  return shifted(0, 0, -gap);
}
