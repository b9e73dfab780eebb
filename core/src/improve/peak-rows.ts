import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { ImageGoal } from '../project/improve.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import type { ImagePart, ImageRows, RowsStand } from './image-rows.ts';
import { WAVES_PER_UNIT, type RayRows } from './ray-rows.ts';

/** Power of the mean that stands for the largest: smooth, and within a third of it. */
export const PEAK_POWER = 8;
const Q = PEAK_POWER / 2 - 1;

/** Rays of one field and colour with what a peak is made of. */
interface Peak {
  /** From which row, how many rays, and the root of weight and share that rays have in their own rows. */
  readonly from: number;
  readonly roots: Float64Array;
  /** Misses by ray: of wavefronts from the middle between extremes, as the power has it. */
  readonly misses: Float64Array;
  /** Length of each miss, and the mean of power `PEAK_POWER`, times the number of rays. */
  readonly lengths: Float64Array;
  readonly size: number;
  /** Root of the share, doubled for wavefronts: their peak and valley lie on both sides of the middle. */
  readonly scale: number;
}

/**
 * Rows by the largest miss in place of the RMS: what a ray misses times (miss/N)^(p/2 − 1), N = (Σ missᵖ)^(1/p), so that squares sum to N². N nears
 * the largest from above as p grows; all of it is smooth, with derivatives from those of the rays.
 */
export class PeakRows implements ImageRows {
  readonly #goal: ImageGoal;
  readonly #lens: LensEvaluation;
  readonly #rays: RayRows;

  constructor(goal: ImageGoal, lens: LensEvaluation, rays: RayRows) {
    this.#goal = goal;
    this.#lens = lens;
    this.#rays = rays;
  }

  get count(): number {
    return this.#rays.count;
  }

  missing(): string | null {
    return this.#rays.missing();
  }

  values(out: Float64Array, at: number): boolean {
    const peaks = this.#peaks();
    if (!peaks) return false;
    const { each } = this.#rays;
    for (const { from, misses, lengths, size, scale } of peaks)
      for (let i = 0; i < misses.length; i++)
        out[at + from + i] = scale * misses[i] * power(lengths[Math.floor(i / each)] / size);
    return true;
  }

  columns(variables: readonly SolverVariable[]): Float64Array[] | null {
    const peaks = this.#peaks();
    const columns = peaks && this.#rays.columns(variables);
    if (!columns) return null;
    for (const column of columns) for (const peak of peaks) this.#turn(peak, column);
    return columns;
  }

  /** The largest distance of a ray in µm, or peak to valley in waves, of each field and colour; the largest of all. */
  stand(): RowsStand | null {
    const peaks = this.#peaks();
    const rows = new Float64Array(this.count);
    if (!peaks || !this.values(rows, 0)) return null;
    const { wavelengths } = this.#lens.model;
    const wavefront = this.#goal.what === 'wavefront';
    const parts = this.#rays.owners().map(({ field, wave }, p): ImagePart => {
      const { misses, lengths } = peaks[p];
      const value = wavefront ? WAVES_PER_UNIT * (Math.max(...misses) - Math.min(...misses)) : Math.max(...lengths);
      return { field, of: wavelengths[wave].nm, value };
    });
    return {
      value: Math.max(...parts.map(({ value }) => value)),
      square: rows.reduce((sum, value) => sum + value * value, 0),
      parts,
    };
  }

  #peaks(): Peak[] | null {
    const rows = new Float64Array(this.count);
    if (!this.#rays.values(rows, 0)) return null;
    const { each } = this.#rays;
    let from = 0;
    return this.#rays.owners().map(({ rows: count, share, weight }): Peak => {
      const roots = Float64Array.from({ length: count }, (_, i) => Math.sqrt(share * weight[Math.floor(i / each)]));
      const misses = roots.map((root, i) => rows[from + i] / root);
      if (each === 1) {
        const middle = middleOf(misses);
        misses.forEach((miss, i) => (misses[i] = miss - middle));
      }
      const lengths = Float64Array.from({ length: count / each }, (_, i) =>
        each === 1 ? Math.abs(misses[i]) : Math.hypot(misses[2 * i], misses[2 * i + 1]),
      );
      const largest = Math.max(...lengths, 1e-300);
      const size =
        largest * lengths.reduce((sum, length) => sum + (length / largest) ** PEAK_POWER, 0) ** (1 / PEAK_POWER);
      const peak = { from, roots, misses, lengths, size, scale: (each === 1 ? 2 : 1) * Math.sqrt(share) };
      from += count;
      return peak;
    });
  }

  /** Makes a column of rows by the RMS one of rows by the peak. */
  #turn({ from, roots, misses, lengths, size, scale }: Peak, column: Float64Array): void {
    const { each } = this.#rays;
    const count = misses.length;
    const change = roots.map((root, i) => column[from + i] / root);
    const shares = lengths.map((length) => (length / size) ** (PEAK_POWER - 2));
    if (each === 1) {
      // The middle moves so that Σ |miss|^(p−1)·sign stays 0.
      const all = shares.reduce((sum, one) => sum + one, 0) || 1;
      const moved = change.reduce((sum, one, i) => sum + shares[i] * one, 0) / all;
      change.forEach((one, i) => (change[i] = one - moved));
    }
    const turned = new Float64Array(count / each); // miss · change
    for (let i = 0; i < count; i++) turned[Math.floor(i / each)] += misses[i] * change[i];
    const grown = turned.reduce((sum, one, i) => sum + shares[i] * one, 0) / (size * size);
    for (let i = 0; i < count; i++) {
      const ray = Math.floor(i / each);
      const square = lengths[ray] * lengths[ray];
      const own = square > 0 ? turned[ray] / square : 0;
      column[from + i] = scale * power(lengths[ray] / size) * (change[i] + misses[i] * Q * (own - grown));
    }
  }
}

const power = (ratio: number) => ratio ** Q;

/** The c that makes Σ |value − c|ᵖ least: between the extremes and near their middle, by halving on the sign of the slope. */
function middleOf(values: Float64Array): number {
  let [low, high] = [Math.min(...values), Math.max(...values)];
  const scale = high - low || 1;
  for (let round = 0; round < 60 && high - low > 1e-15 * scale; round++) {
    const c = (low + high) / 2;
    let slope = 0;
    for (const value of values) slope += Math.sign(value - c) * (Math.abs(value - c) / scale) ** (PEAK_POWER - 1);
    if (slope > 0) low = c;
    else high = c;
  }
  return (low + high) / 2;
}
