import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import { launchRays, type LaunchPupil } from './launch.ts';
import type { LensModel } from './lens-model.ts';
import { traceBlock } from './trace.ts';

type Field = Pick<FieldPoint, 'x' | 'y'>;

/** Where rays must cross the entrance-pupil plane, mm; NaN for a ray that no crossing makes go where asked. */
export interface AimedRays {
  readonly ex: Float64Array;
  readonly ey: Float64Array;
}

const NEWTON_STEPS = 25;
/** Relative to the stop's semi-aperture: what counts as hit, and what is taken when rounding allows no better. */
const HIT = 1e-12;
const GOOD_ENOUGH = 1e-9;
const SMALLEST_STEP = 1 / 512;

/**
 * Finds, for pupil points (px, py), the rays of a field that meet the stop surface at (px, py)·Rs, Rs being the paraxial
 * marginal height there. Exact to rounding; curved, shifted and tilted stops included.
 *
 * The chief ray is followed from the axis out to the field, then every ray is started from the chief ray's own linear
 * map and refined by Newton's method; one that does not settle is followed from the chief ray out to its pupil point.
 */
export function aimAtStop(
  model: LensModel,
  pupil: LaunchPupil,
  field: Field,
  wave: number,
  px: ArrayLike<number>,
  py: ArrayLike<number>,
): AimedRays {
  const count = px.length;
  const aimed = { ex: new Float64Array(count).fill(NaN), ey: new Float64Array(count).fill(NaN) };
  const chief = followChief(model, pupil, field, wave);
  if (!chief) return aimed;
  const { solver, ex, ey, jacobian } = chief;
  const [a, b, c, d] = jacobian;
  const det = a * d - b * c;
  const tx = Float64Array.from(px, (value) => value * pupil.stopSemi);
  const ty = Float64Array.from(py, (value) => value * pupil.stopSemi);
  const guessX = tx.map((x, i) => ex + (d * x - b * ty[i]) / det);
  const guessY = ty.map((y, i) => ey + (a * y - c * tx[i]) / det);
  const settled = solver.solve(field, guessX, guessY, tx, ty);
  for (let i = 0; i < count; i++) {
    if (settled[i]) {
      aimed.ex[i] = guessX[i];
      aimed.ey[i] = guessY[i];
    } else {
      const way = follow((t, from) => {
        const at = [Float64Array.of(from[0]), Float64Array.of(from[1])];
        const hit = solver.solve(field, at[0], at[1], [t * tx[i]], [t * ty[i]]);
        return hit[0] ? [at[0][0], at[1][0]] : null;
      }, [ex, ey]);
      if (way) [aimed.ex[i], aimed.ey[i]] = way;
    }
  }
  return aimed;
}

function followChief(model: LensModel, pupil: LaunchPupil, field: Field, wave: number) {
  const solver = new StopSolver(model, pupil, wave);
  const found = follow((t, from) => {
    const at = [Float64Array.of(from[0]), Float64Array.of(from[1])];
    const hit = solver.solve({ x: t * field.x, y: t * field.y }, at[0], at[1], [0], [0]);
    return hit[0] ? [at[0][0], at[1][0]] : null;
  }, [0, 0]);
  if (!found) return null;
  const [ex, ey] = found;
  return { solver, ex, ey, jacobian: solver.jacobian(field, ex, ey) };
}

type Point = [number, number];

/**
 * Continuation: carries a solution from parameter 0 to 1. Tries the whole way first, then ever smaller steps, each
 * started on the straight line through the last two solutions.
 */
function follow(solve: (t: number, from: Point) => Point | null, start: Point): Point | null {
  let reached = 0;
  let step = 1;
  let here = start;
  let slope: Point = [0, 0];
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

/** Newton's method on the map from the entrance-pupil plane to the stop surface, for many rays of one field at once. */
class StopSolver {
  readonly #model: LensModel;
  readonly #pupil: LaunchPupil;
  readonly #wave: number;
  #rays: RayBlock = rayBlock(0);
  #ex = new Float64Array(0);
  #ey = new Float64Array(0);

  constructor(model: LensModel, pupil: LaunchPupil, wave: number) {
    this.#model = model;
    this.#pupil = pupil;
    this.#wave = wave;
  }

  /** Step of the difference quotients, mm: small against the pupil, large against rounding. */
  get #delta(): number {
    return 1e-6 * this.#pupil.semi;
  }

  /** d(x, y at the stop)/d(ex, ey) as [xx, xy, yx, yy]. */
  jacobian(field: Field, ex: number, ey: number): readonly [number, number, number, number] {
    const h = this.#delta;
    this.#trace(field, [ex + h, ex - h, ex, ex], [ey, ey, ey + h, ey - h], 4);
    const { x, y } = this.#rays;
    const twice = 2 * h;
    return [(x[0] - x[1]) / twice, (x[2] - x[3]) / twice, (y[0] - y[1]) / twice, (y[2] - y[3]) / twice];
  }

  /** Improves the guesses `ex`, `ey` in place until each ray meets the stop at its target; returns which ones do. */
  solve(
    field: Field,
    ex: Float64Array,
    ey: Float64Array,
    targetX: ArrayLike<number>,
    targetY: ArrayLike<number>,
  ): boolean[] {
    const count = ex.length;
    const settled = new Array<boolean>(count).fill(false);
    const best = new Float64Array(count).fill(Infinity);
    let open = Array.from({ length: count }, (_, i) => i);
    const stepX = new Float64Array(count);
    const stepY = new Float64Array(count);
    for (let round = 0; round < NEWTON_STEPS && open.length > 0; round++) {
      const h = this.#delta;
      const size = open.length;
      const tripleX = open.flatMap((i) => [ex[i], ex[i] + h, ex[i]]);
      const tripleY = open.flatMap((i) => [ey[i], ey[i], ey[i] + h]);
      this.#trace(field, tripleX, tripleY, 3 * size);
      const { x, y, status } = this.#rays;
      open = open.filter((i, k) => {
        const at = 3 * k;
        const through = status[at] === RAY_STATUS.alive;
        const missX = targetX[i] - x[at];
        const missY = targetY[i] - y[at];
        const miss = through ? Math.hypot(missX, missY) / this.#pupil.stopSemi : Infinity;
        if (miss <= HIT) {
          settled[i] = true;
          return false;
        }
        if (!(miss < best[i])) {
          // No gain: at the level of rounding this is the answer, else go back half of the last step.
          if (best[i] <= GOOD_ENOUGH) {
            ex[i] -= stepX[i];
            ey[i] -= stepY[i];
            settled[i] = true;
            return false;
          }
          if (round === 0) return false; // the guess itself cannot be traced
          stepX[i] /= 2;
          stepY[i] /= 2;
          ex[i] -= stepX[i];
          ey[i] -= stepY[i];
          return true;
        }
        best[i] = miss;
        if (status[at + 1] !== RAY_STATUS.alive || status[at + 2] !== RAY_STATUS.alive) return false;
        const [xx, yx] = [(x[at + 1] - x[at]) / h, (y[at + 1] - y[at]) / h];
        const [xy, yy] = [(x[at + 2] - x[at]) / h, (y[at + 2] - y[at]) / h];
        const det = xx * yy - xy * yx;
        stepX[i] = (yy * missX - xy * missY) / det;
        stepY[i] = (xx * missY - yx * missX) / det;
        if (!Number.isFinite(stepX[i]) || !Number.isFinite(stepY[i])) return false;
        ex[i] += stepX[i];
        ey[i] += stepY[i];
        return true;
      });
    }
    return settled;
  }

  #trace(field: Field, ex: readonly number[], ey: readonly number[], count: number): void {
    if (this.#rays.capacity < count) {
      this.#rays = rayBlock(count);
      this.#ex = new Float64Array(count);
      this.#ey = new Float64Array(count);
    }
    this.#ex.set(ex);
    this.#ey.set(ey);
    launchRays(this.#model, this.#pupil, field, this.#ex, this.#ey, this.#rays, count);
    traceBlock(this.#model, this.#rays, count, this.#wave, { clip: false, until: this.#model.stop + 1 });
  }
}
