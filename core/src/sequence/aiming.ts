import { KERNEL_BLOCK, traceKernel } from '../compute/kernel.ts';
import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import { launchRays, type LaunchPupil } from './launch.ts';
import type { LensModel } from './lens-model.ts';
import { splitOf, type MirrorHalf } from './pupil-sampling.ts';
import { traceBlock } from './trace.ts';

type Field = Pick<FieldPoint, 'id' | 'x' | 'y'>;
type Pair = readonly [number, number];

/** Where rays must cross the entrance-pupil plane, mm; NaN for a ray that no crossing makes go where asked. */
export interface AimedRays {
  readonly ex: Float64Array;
  readonly ey: Float64Array;
}

/** The chief ray of one field and colour: where it crosses the entrance-pupil plane, and d(stop x, y)/d(ex, ey) there. */
interface Chief {
  readonly at: Pair;
  /** Row by row: xx, xy, yx, yy. */
  readonly jacobian: readonly [number, number, number, number];
}

/** Crossings found for a set of pupil points in one colour, with d(ex, ey)/d(stop x, y) at each: the start for the next colour. */
interface Solution extends AimedRays {
  readonly wave: number;
  readonly px: ArrayLike<number>;
  readonly py: ArrayLike<number>;
  /** Four columns: xx, xy, yx, yy. */
  readonly inverse: readonly [Float64Array, Float64Array, Float64Array, Float64Array];
}

/** Relative to the stop's semi-aperture: what counts as hit, and what is taken when rounding allows no better. */
const HIT = 1e-12;
const GOOD_ENOUGH = 1e-9;
/** A miss from which one more step, when the last one gained at least the factor below, ends below `HIT`. */
const NEARLY = 1e-9;
const STEEP = 1e-3;
const SECANT_ROUNDS = 14;
const NEWTON_STEPS = 25;
const SMALLEST_STEP = 1 / 512;
/** Solutions of more rays are not kept for lenses nearby. */
const KEPT_RAYS = 1024;

/**
 * Finds the rays of a lens that go through given points of its pupil; it remembers chief rays, so keep one per lens version.
 *
 * `paraxial`: rays cross the paraxial entrance pupil at (px, py)·EPD/2. `stop`: each ray meets the stop surface (curved,
 * shifted or tilted as it is) at local x, y = (px, py)·Rs, with Rs the paraxial marginal height there, at its own wavelength.
 *
 * Aiming at the stop follows the chief ray from the axis out to the field. All other rays start from the chief ray's linear
 * map, or from the same pupil points in another colour, and are refined together by Broyden's method (C. G. Broyden,
 * Math. Comp. 19, 577, 1965), which needs one trace a round; a ray that does not settle is followed by Newton's method from
 * the chief ray out to its pupil point.
 */
export class Aimer {
  readonly model: LensModel;
  readonly pupil: LaunchPupil;
  readonly #chiefs = new Map<string, Chief | null>();
  /** The latest solution of each field. */
  readonly #solved = new Map<string, Solution>();
  /** Solutions by the column px of their pupil points, then by field and colour, those of few rays: where a lens nearby begins. */
  readonly #kept = new Map<ArrayLike<number>, Map<string, Solution>>();
  readonly #near: Aimer | null;
  readonly #scratch = scratchOf(KERNEL_BLOCK);
  /** Where rays are traced to the stop: the kernel's own block where there is one, which saves copying. */
  readonly #rays: RayBlock = traceKernel()?.block ?? rayBlock(KERNEL_BLOCK);

  /** @param near - of a lens that differs a little: its rays are where those of this one are searched first */
  constructor(model: LensModel, pupil: LaunchPupil, near: Aimer | null = null) {
    this.model = model;
    this.pupil = pupil;
    this.#near = near;
  }

  /** Entrance-pupil coordinates of the rays through pupil points (px, py). */
  aim(mode: 'paraxial' | 'stop', field: Field, wave: number, px: ArrayLike<number>, py: ArrayLike<number>): AimedRays {
    if (mode === 'stop') return this.#aimAtStop(field, wave, px, py);
    const { semi } = this.pupil;
    return {
      ex: scaled(px, semi),
      ey: scaled(py, semi),
    };
  }

  #aimAtStop(field: Field, wave: number, px: ArrayLike<number>, py: ArrayLike<number>): AimedRays {
    const count = px.length;
    const { stopSemi } = this.pupil;
    const tx = scaled(px, stopSemi);
    const ty = scaled(py, stopSemi);
    const key = fieldKey(field);
    const nearby = this.#nearby(field, wave, px, py);
    if (nearby) {
      const solution = copyOf(nearby);
      this.#shiftAsBefore(field, solution);
      if (this.#refine(field, wave, solution, tx, ty).every((one) => one === 1)) return this.#keep(key, wave, solution);
    }
    const chief = this.#chief(field, wave);
    if (!chief) return { ex: new Float64Array(count).fill(NaN), ey: new Float64Array(count).fill(NaN) };
    const known = this.#solved.get(key);
    const solution =
      known?.px === px && known.py === py ? { ...copyOf(known), wave } : linearMap(chief, wave, px, py, tx, ty);
    const settled = this.#refine(field, wave, solution, tx, ty);
    const { ex, ey } = solution;
    const lost = [...settled.keys()].filter((i) => !settled[i]);
    if (lost.length === 0) return this.#keep(key, wave, solution);
    // Inner ones first: the way to a point of the stop leads over those before it in its direction, and ends where one of them did.
    lost.sort((a, b) => tx[a] ** 2 + ty[a] ** 2 - tx[b] ** 2 - ty[b] ** 2);
    const shut = new Set<number>();
    for (const i of lost) {
      const direction = Math.round(Math.atan2(ty[i], tx[i]) * 1e9);
      if (shut.has(direction)) {
        [ex[i], ey[i]] = [NaN, NaN];
        continue;
      }
      const way = follow((t, from) => this.#newton(field, wave, from, [t * tx[i], t * ty[i]]), chief.at);
      [ex[i], ey[i]] = way ?? [NaN, NaN];
      if (!way) shut.add(direction);
    }
    return { ex, ey };
  }

  /** The rays through the same points of the nearest lens that knows them; undefined if none does. */
  #nearby(field: Field, wave: number, px: ArrayLike<number>, py: ArrayLike<number>): Solution | undefined {
    if (!this.#near) return undefined;
    const key = `${fieldKey(field)} ${wave}`;
    const near = this.#near;
    const found = near.#kept.get(px)?.get(key);
    if (found?.py === py) return found;
    // The lens nearby may be its own mirror image, and half of its rays are known.
    const split = splitOf(px);
    const half = split && near.#kept.get(split.half.px)?.get(key);
    if (!half || split.whole.py !== py) return near.#nearby(field, wave, px, py);
    const whole = mirroredRays(half, split);
    near.#remember(key, whole);
    return whole;
  }

  #remember(key: string, solution: Solution): void {
    const known = this.#kept.get(solution.px) ?? new Map<string, Solution>();
    known.set(key, solution);
    this.#kept.set(solution.px, known);
  }

  /** The chief ray of the nearest lens that knows it. */
  #chiefNearby(key: string): Chief | null | undefined {
    return this.#near && (this.#near.#chiefs.get(key) ?? this.#near.#chiefNearby(key));
  }

  /**
   * Moves the rays of a lens nearby as those of the colour before moved from there to here, and takes their derivatives: colours differ
   * much less than lenses.
   */
  #shiftAsBefore(field: Field, solution: Solution): void {
    const here = this.#solved.get(fieldKey(field));
    const there = here && this.#nearby(field, here.wave, solution.px, solution.py);
    if (!there || here.px !== solution.px || here.py !== solution.py) return;
    const { ex, ey } = solution;
    for (let i = 0; i < ex.length; i++) {
      ex[i] += here.ex[i] - there.ex[i];
      ey[i] += here.ey[i] - there.ey[i];
    }
    solution.inverse.forEach((column, k) => column.set(here.inverse[k]));
  }

  #keep(key: string, wave: number, solution: Solution): AimedRays {
    this.#solved.set(key, solution);
    if (solution.ex.length <= KEPT_RAYS) this.#remember(`${key} ${wave}`, solution);
    return { ex: solution.ex, ey: solution.ey };
  }

  /** Broyden's method for all rays at once, improving a guess in place; returns 1 where it settled. */
  #refine(field: Field, wave: number, guess: Solution, tx: Float64Array, ty: Float64Array): Uint8Array {
    const settled = new Uint8Array(tx.length);
    for (let from = 0; from < tx.length; from += KERNEL_BLOCK)
      this.#refinePart(field, wave, guess, tx, ty, from, Math.min(tx.length, from + KERNEL_BLOCK), settled);
    return settled;
  }

  /** `#refine` for the rays from `from` up to `to`. Rays that are done leave the trace. */
  #refinePart(
    field: Field,
    wave: number,
    guess: Solution,
    tx: Float64Array,
    ty: Float64Array,
    from: number,
    to: number,
    settled: Uint8Array,
  ): void {
    const { ex, ey } = guess;
    const [hxx, hxy, hyx, hyy] = guess.inverse;
    const { open, tryX, tryY, missX, missY, stepX, stepY, best } = this.#scratch;
    const { stopSemi } = this.pupil;
    let left = to - from;
    for (let k = 0; k < left; k++) {
      open[k] = from + k;
      best[k] = Infinity;
    }
    for (let round = 0; round < SECANT_ROUNDS && left > 0; round++) {
      for (let k = 0; k < left; k++) {
        tryX[k] = ex[open[k]];
        tryY[k] = ey[open[k]];
      }
      const { x, y, status } = this.#toStop(field, wave, tryX, tryY, left);
      let kept = 0;
      for (let k = 0; k < left; k++) {
        const i = open[k];
        const newMissX = tx[i] - x[k];
        const newMissY = ty[i] - y[k];
        const miss = Math.sqrt(newMissX * newMissX + newMissY * newMissY) / stopSemi; // Math.hypot is slow in engines
        if (status[k] !== RAY_STATUS.alive || !(miss < 4 * best[k])) continue; // lost
        if (miss <= HIT || (miss <= GOOD_ENOUGH && miss >= best[k])) {
          settled[i] = 1;
          continue;
        }
        if (round > 0) correct(guess.inverse, i, stepX[k], stepY[k], missX[k] - newMissX, missY[k] - newMissY);
        const sx = hxx[i] * newMissX + hxy[i] * newMissY;
        const sy = hyx[i] * newMissX + hyy[i] * newMissY;
        ex[i] += sx;
        ey[i] += sy;
        if (round > 0 && miss <= NEARLY && miss < STEEP * best[k]) {
          settled[i] = 1; // the step just taken gains as much again as the one before
          continue;
        }
        open[kept] = i;
        best[kept] = Math.min(best[k], miss);
        missX[kept] = newMissX;
        missY[kept] = newMissY;
        stepX[kept] = sx;
        stepY[kept] = sy;
        kept++;
      }
      left = kept;
    }
  }

  #chief(field: Field, wave: number): Chief | null {
    const key = `${fieldKey(field)} ${wave}`;
    let chief = this.#chiefs.get(key);
    if (chief === undefined) {
      const nearby = this.#chiefNearby(key);
      const straight = nearby && this.#newton(field, wave, nearby.at, [0, 0]);
      const at =
        straight ??
        follow((t, from) => this.#newton({ ...field, x: t * field.x, y: t * field.y }, wave, from, [0, 0]), [0, 0]);
      const jacobian = at && this.#jacobian(field, wave, at);
      chief = at && jacobian && { at, jacobian };
      this.#chiefs.set(key, chief);
    }
    return chief;
  }

  /** Newton's method for one ray with difference quotients; null when it does not reach the target. */
  #newton(field: Field, wave: number, from: Pair, target: Pair): Pair | null {
    let [ex, ey] = from;
    let [stepX, stepY] = [0, 0];
    let best = Infinity;
    for (let round = 0; round < NEWTON_STEPS; round++) {
      const rays = this.#toStop(field, wave, Float64Array.of(ex), Float64Array.of(ey), 1);
      const [missX, missY] = [target[0] - rays.x[0], target[1] - rays.y[0]];
      const miss = rays.status[0] === RAY_STATUS.alive ? Math.hypot(missX, missY) / this.pupil.stopSemi : Infinity;
      if (miss <= HIT) return [ex, ey];
      if (!(miss < best)) {
        // No gain: at the level of rounding the point before is the answer, else go back half of the last step.
        if (best <= GOOD_ENOUGH) return [ex - stepX, ey - stepY];
        if (round === 0) return null; // the guess itself cannot be traced
        stepX /= 2;
        stepY /= 2;
        ex -= stepX;
        ey -= stepY;
        continue;
      }
      best = miss;
      const jacobian = this.#jacobian(field, wave, [ex, ey]);
      if (!jacobian) return null;
      const [xx, xy, yx, yy] = jacobian;
      const det = xx * yy - xy * yx;
      stepX = (yy * missX - xy * missY) / det;
      stepY = (xx * missY - yx * missX) / det;
      if (!Number.isFinite(stepX) || !Number.isFinite(stepY)) return null;
      ex += stepX;
      ey += stepY;
    }
    return null;
  }

  /** d(stop x, y)/d(ex, ey) by central differences; null when a neighbouring ray does not arrive. */
  #jacobian(field: Field, wave: number, [ex, ey]: Pair): Chief['jacobian'] | null {
    const h = 1e-6 * this.pupil.semi; // small against the pupil, large against rounding
    const { x, y, status } = this.#toStop(
      field,
      wave,
      Float64Array.of(ex + h, ex - h, ex, ex),
      Float64Array.of(ey, ey, ey + h, ey - h),
      4,
    );
    for (let i = 0; i < 4; i++) if (status[i] !== RAY_STATUS.alive) return null;
    const twice = 2 * h;
    return [(x[0] - x[1]) / twice, (x[2] - x[3]) / twice, (y[0] - y[1]) / twice, (y[2] - y[3]) / twice];
  }

  #toStop(field: Field, wave: number, ex: Float64Array, ey: Float64Array, count: number): RayBlock {
    launchRays(this.model, this.pupil, field, ex, ey, this.#rays, count);
    traceBlock(this.model, this.#rays, count, wave, { clip: false, until: this.model.stop + 1 });
    return this.#rays;
  }
}

function scratchOf(size: number) {
  const column = () => new Float64Array(size);
  return {
    open: new Int32Array(size),
    tryX: column(),
    tryY: column(),
    missX: column(),
    missY: column(),
    stepX: column(),
    stepY: column(),
    best: column(),
  };
}

function fieldKey(field: Field): string {
  return `${field.id} ${field.x} ${field.y}`;
}

function copyOf(known: Solution): Solution {
  const [xx, xy, yx, yy] = known.inverse;
  return {
    ...known,
    ex: known.ex.slice(),
    ey: known.ey.slice(),
    inverse: [xx.slice(), xy.slice(), yx.slice(), yy.slice()],
  };
}

/** The rays of a whole pupil of which one half is known, the other being its mirror image in x = 0. */
function mirroredRays({ wave, ex, ey, inverse }: Solution, { whole, source, mirrored }: MirrorHalf): Solution {
  const all = (column: Float64Array, odd: boolean) =>
    Float64Array.from(source, (from, i) => (odd && mirrored[i] ? -column[from] : column[from]));
  const [xx, xy, yx, yy] = inverse;
  return {
    wave,
    px: whole.px,
    py: whole.py,
    ex: all(ex, true),
    ey: all(ey, false),
    inverse: [all(xx, false), all(xy, true), all(yx, true), all(yy, false)],
  };
}

/** Guesses for stop points (tx, ty) from the chief ray and the map around it. */
function linearMap(
  { at, jacobian: [xx, xy, yx, yy] }: Chief,
  wave: number,
  px: ArrayLike<number>,
  py: ArrayLike<number>,
  tx: Float64Array,
  ty: Float64Array,
): Solution {
  const det = xx * yy - xy * yx;
  const inverse = [yy / det, -xy / det, -yx / det, xx / det] as const;
  const count = tx.length;
  const ex = new Float64Array(count);
  const ey = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    ex[i] = at[0] + inverse[0] * tx[i] + inverse[1] * ty[i];
    ey[i] = at[1] + inverse[2] * tx[i] + inverse[3] * ty[i];
  }
  const column = (value: number) => new Float64Array(count).fill(value);
  return {
    wave,
    px,
    py,
    ex,
    ey,
    inverse: [column(inverse[0]), column(inverse[1]), column(inverse[2]), column(inverse[3])],
  };
}

function scaled(values: ArrayLike<number>, factor: number): Float64Array {
  const result = new Float64Array(values.length);
  for (let i = 0; i < result.length; i++) result[i] = values[i] * factor;
  return result;
}

/**
 * Continuation: carries a solution from parameter 0 to 1. Tries the whole way first, then ever smaller steps, each
 * started on the straight line through the last two solutions.
 */
function follow(solve: (t: number, from: Pair) => Pair | null, start: Pair): Pair | null {
  let reached = 0;
  let step = 1;
  let here = start;
  let slope: Pair = [0, 0];
  while (reached < 1) {
    const next = Math.min(1, reached + step);
    const ahead = next - reached;
    const found = solve(next, [here[0] + slope[0] * ahead, here[1] + slope[1] * ahead]);
    if (found) {
      slope = [(found[0] - here[0]) / ahead, (found[1] - here[1]) / ahead];
      here = found;
      reached = next;
      step *= 2;
    } else {
      step /= 2;
      if (step < SMALLEST_STEP) return null;
    }
  }
  return here;
}

/** Broyden's correction of the inverse Jacobian H of ray `i`: the step s moved the stop point by y, H += (s − Hy) sᵀH/(sᵀHy). */
function correct(inverse: Solution['inverse'], i: number, sx: number, sy: number, yx: number, yy: number): void {
  const [hxx, hxy, hyx, hyy] = inverse;
  const hyX = hxx[i] * yx + hxy[i] * yy;
  const hyY = hyx[i] * yx + hyy[i] * yy;
  const scale = sx * hyX + sy * hyY;
  if (scale === 0) return;
  const shX = (sx * hxx[i] + sy * hyx[i]) / scale;
  const shY = (sx * hxy[i] + sy * hyy[i]) / scale;
  hxx[i] += (sx - hyX) * shX;
  hxy[i] += (sx - hyX) * shY;
  hyx[i] += (sy - hyY) * shX;
  hyy[i] += (sy - hyY) * shY;
}
