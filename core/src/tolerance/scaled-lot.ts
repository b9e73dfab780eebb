import type { ValueLimits } from '../math/capability.ts';
import { composed } from './components.ts';
import type { Effects } from './effects.ts';

/** How a lot stands to its limits. */
export interface LotStand {
  readonly yield: number;
  /** How far the values are beyond their limits, on average, as shares of the limits' own size. */
  readonly excess: number;
}

/**
 * A lot by quadratic effects in which every departure can be scaled alone. With the slope gᵢ of a component at each trial, a step δ of one
 * departure changes it by δ·gᵢ + Qᵢᵢδ², and every other slope by 2Qᵢⱼδ.
 */
export class ScaledLot {
  readonly #effects: Effects;
  readonly #limits: readonly ValueLimits[];
  /** Departures at a scale of 1, by tolerance. */
  readonly #drawn: readonly Float64Array[];
  readonly #scales: Float64Array;
  /** By component: its value in every trial, and its slope there by tolerance. */
  readonly #values: readonly Float64Array[];
  readonly #slopes: readonly (readonly Float64Array[])[];
  readonly #moved: readonly Float64Array[];
  /** By measure and trial: how far it is beyond its limits, as a share of them; and the same with one departure scaled otherwise. */
  readonly #beyond: readonly Float64Array[];
  readonly #tried: readonly Float64Array[];
  readonly #acting: readonly (readonly boolean[])[];
  readonly #one: Float64Array;

  /** Every departure begins at a scale of 1. */
  constructor(effects: Effects, limits: readonly ValueLimits[], drawn: readonly Float64Array[]) {
    this.#effects = effects;
    this.#limits = limits;
    this.#drawn = drawn;
    this.#scales = new Float64Array(drawn.length);
    const trials = drawn[0]?.length ?? 0;
    const { quadratics } = effects;
    this.#values = quadratics.map(({ value }) => new Float64Array(trials).fill(value));
    this.#slopes = quadratics.map(({ slopes }) => slopes.map((slope) => new Float64Array(trials).fill(slope)));
    this.#moved = quadratics.map(() => new Float64Array(trials));
    this.#beyond = limits.map(() => new Float64Array(trials));
    this.#tried = limits.map(() => new Float64Array(trials));
    this.#one = new Float64Array(quadratics.length);
    this.#acting = quadratics.map(({ slopes, curvatures }) =>
      slopes.map((slope, i) => slope !== 0 || curvatures[i].some((curvature) => curvature !== 0)),
    );
    drawn.forEach((_, i) => this.scale(i, 1));
    this.#beyond.forEach((_, k) => this.#judge(k, this.#values, this.#beyond[k]));
  }

  /** Scales one departure in every trial. */
  scale(i: number, scale: number): void {
    const step = scale - this.#scales[i];
    this.#scales[i] = scale;
    const drawn = this.#drawn[i];
    this.#effects.quadratics.forEach(({ curvatures }, c) => {
      if (!this.#acts(i, c)) return;
      this.#values[c].set(this.#movedValues(c, i, step));
      curvatures[i].forEach((curvature, j) => {
        if (curvature === 0) return;
        const slopes = this.#slopes[c][j];
        for (let t = 0; t < drawn.length; t++) slopes[t] += 2 * curvature * step * drawn[t];
      });
    });
    this.#effects.compositions.forEach(({ of }, k) => {
      if (of.some((c) => this.#acts(i, c))) this.#judge(k, this.#values, this.#beyond[k]);
    });
  }

  stand(): LotStand {
    return standOf(this.#beyond);
  }

  /** How it would stand with another scale of one departure. */
  standWith(i: number, scale: number): LotStand {
    const step = scale - this.#scales[i];
    const values = this.#values.map((own, c) => (this.#acts(i, c) ? this.#movedValues(c, i, step) : own));
    return standOf(
      this.#effects.compositions.map(({ of }, k) =>
        of.some((c) => this.#acts(i, c)) ? this.#judge(k, values, this.#tried[k]) : this.#beyond[k],
      ),
    );
  }

  /** Whether a component depends on a departure at all. */
  #acts(i: number, c: number): boolean {
    return this.#acting[c][i];
  }

  #movedValues(c: number, i: number, step: number): Float64Array {
    const [values, slopes, moved, drawn] = [this.#values[c], this.#slopes[c][i], this.#moved[c], this.#drawn[i]];
    const curvature = this.#effects.quadratics[c].curvatures[i][i];
    for (let t = 0; t < drawn.length; t++) {
      const by = step * drawn[t];
      moved[t] = values[t] + by * (slopes[t] + curvature * by);
    }
    return moved;
  }

  /** How far a measure is beyond its limits in every trial, written into `out`. */
  #judge(k: number, components: readonly Float64Array[], out: Float64Array): Float64Array {
    const composition = this.#effects.compositions[k];
    const { min = -Infinity, max = Infinity } = this.#limits[k];
    for (let t = 0; t < out.length; t++) {
      for (const c of composition.of) this.#one[c] = components[c][t];
      const value = composed(composition, this.#one);
      const limit = value > max ? max : min;
      out[t] = value > max || value < min ? Math.abs(value - limit) / Math.max(1e-12, Math.abs(limit)) : 0;
    }
    return out;
  }
}

function standOf(beyond: readonly Float64Array[]): LotStand {
  const trials = beyond[0]?.length ?? 0;
  let [passed, excess] = [0, 0];
  for (let t = 0; t < trials; t++) {
    let sum = 0;
    for (const off of beyond) sum += off[t];
    if (sum === 0) passed++;
    excess += sum;
  }
  return { yield: passed / trials, excess: excess / trials };
}
