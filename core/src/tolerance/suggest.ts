import type { ValueLimits } from '../math/capability.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { RandomStream } from '../math/random.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import type { Sampled } from './influence.ts';
import { keeps } from './lot-summary.ts';

/** What limits are suggested for. */
export interface SuggestionWish {
  /** The wanted yield, above 0 and below 1. */
  readonly yield: number;
  /** Lots on the curves: how many trials, and their seed. */
  readonly trials?: number;
  readonly seed?: number;
}

/** A suggested change of a tolerance. */
export interface SuggestedLimits {
  readonly tolerance: string;
  readonly lower: number;
  readonly upper: number;
  /** By how much the limits are wider than they are. */
  readonly factor: number;
  /** What the yield would lose if this one alone stayed as it was; negative where it would gain. */
  readonly gain: number;
  /** How much less it costs to make, in units of a number at its present limits; negative for more. */
  readonly saved: number;
}

/** Limits for a wanted yield. */
export interface Suggestion {
  /** Yield by the curves: as it is, and as suggested. */
  readonly before: number;
  readonly after: number;
  /** Whether the wish is met; if not, the finest limits do not suffice. */
  readonly met: boolean;
  /** Cost of all numbers, in units of one at its present limits. */
  readonly cost: number;
  /** Those that change, what buys most yield first, then what saves most. */
  readonly changes: readonly SuggestedLimits[];
}

/** Multiples of the present limits that are offered, widest first. */
const FACTORS = [2, 1.4, 1, 0.7, 0.5, 0.35, 0.25] as const;
const AS_IT_IS = FACTORS.indexOf(1);
const TRIALS = 2000;

/** A number costs in proportion to 1/limit (G. H. Sutherland and B. Roth, J. Eng. Ind. 97, 1975). */
const costOf = (level: number) => 1 / FACTORS[level];

/** A lot on the curves, one value for each trial and measure, with the level of every tolerance. */
class CurveLot {
  readonly levels: number[];
  readonly #limits: readonly ValueLimits[];
  /** Slope and curvature by tolerance and measure. */
  readonly #fits: readonly (readonly (readonly [slope: number, curvature: number])[])[];
  /** Departures at the present limits, by tolerance. */
  readonly #drawn: readonly Float64Array[];
  /** By measure. */
  readonly #values: readonly Float64Array[];

  constructor(
    nominal: readonly number[],
    limits: readonly ValueLimits[],
    fits: readonly (readonly (readonly [number, number])[])[],
    drawn: readonly Float64Array[],
    trials: number,
  ) {
    this.#limits = limits;
    this.#fits = fits;
    this.#drawn = drawn;
    this.#values = nominal.map((value) => new Float64Array(trials).fill(value));
    this.levels = fits.map(() => AS_IT_IS);
    fits.forEach((_, i) => this.#add(i, this.levels[i], 1));
  }

  set(i: number, level: number): void {
    this.#add(i, this.levels[i], -1);
    this.#add(i, level, 1);
    this.levels[i] = level;
  }

  get cost(): number {
    return this.levels.reduce((sum, level) => sum + costOf(level), 0);
  }

  /** The yield, and how far the values are beyond their limits, on average, as shares of the limits' own size. */
  stand(): { readonly yield: number; readonly excess: number } {
    const trials = this.#values[0].length;
    let passed = 0;
    let excess = 0;
    for (let t = 0; t < trials; t++) {
      let kept = true;
      for (const [k, { min = -Infinity, max = Infinity }] of this.#limits.entries()) {
        const value = this.#values[k][t];
        const beyond = Math.max(0, min - value, value - max);
        if (beyond > 0) {
          kept = false;
          excess += beyond / Math.max(1e-12, Math.abs(value > max ? max : min));
        }
      }
      if (kept) passed++;
    }
    return { yield: passed / trials, excess: excess / trials };
  }

  /** How it would stand with another level of one tolerance. */
  standWith(i: number, level: number): ReturnType<CurveLot['stand']> {
    const before = this.levels[i];
    const values = this.#values.map((column) => column.slice());
    this.set(i, level);
    const stand = this.stand();
    this.levels[i] = before;
    values.forEach((column, k) => this.#values[k].set(column));
    return stand;
  }

  #add(i: number, level: number, sign: 1 | -1): void {
    const factor = FACTORS[level];
    const drawn = this.#drawn[i];
    for (const [k, [slope, curvature]] of this.#fits[i].entries()) {
      const values = this.#values[k];
      for (let t = 0; t < drawn.length; t++) {
        const x = factor * drawn[t];
        values[t] += sign * x * (slope + curvature * x);
      }
    }
  }
}

/**
 * The loosest limits that keep a wanted yield, by the curves of a study one by one: from the widest on, what gains most yield for its cost is
 * tightened; then what can be loosened again is. All limits stay multiples of the present ones, rounded to two digits when applied. Effects are
 * added without cross terms: a lot that is made shows what they take.
 *
 * Fails where the yield cannot be estimated: a tolerance or the design without a value, no limits, a wish that is no share.
 *
 * @param sampled - one for each tolerance, in their order
 * @param nominal - values of the design, by watched measure
 * @param limits - what is allowed, by watched measure
 */
export function suggestLimits(
  tolerances: readonly Tolerance[],
  sampled: readonly Sampled[],
  nominal: readonly number[],
  limits: readonly ValueLimits[],
  wish: SuggestionWish,
): Outcome<Suggestion> {
  if (!(wish.yield > 0 && wish.yield < 1)) return failure('The wanted yield must be above 0 and below 100 %.');
  if (limits.every(({ min, max }) => min === undefined && max === undefined))
    return failure('Nothing that is watched has a limit.');
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  const missed = nominal.findIndex((value, k) => !keeps(value, limits[k]));
  if (missed >= 0) return failure('The design itself misses a limit when made: no tolerance is tight enough for it.');
  const fits: (readonly [number, number])[][] = [];
  for (const [i, { curves }] of sampled.entries()) {
    const row = curves.map(({ fit }) => fit && ([fit.slope, fit.curvature] as const));
    if (row.some((fit) => fit === null))
      return failure('A tolerance has trials without a value: tighten it first.', tolerances[i].id);
    fits.push(row as (readonly [number, number])[]);
  }
  const { trials = TRIALS, seed = 1 } = wish;
  const departures = drawn.value.map(() => new Float64Array(trials));
  for (let t = 0; t < trials; t++) {
    const stream = new RandomStream(seed, t);
    drawn.value.forEach(({ distribution }, i) => (departures[i][t] = distribution.quantile(stream.uniform())));
  }
  const lot = new CurveLot(nominal, limits, fits, departures, trials);
  const before = lot.stand().yield;
  tighten(lot, wish.yield);
  loosen(lot, wish.yield);
  const { yield: after } = lot.stand();
  return success({
    before,
    after,
    met: after >= wish.yield,
    cost: lot.cost,
    changes: changesOf(tolerances, lot, after),
  });
}

/** From the widest limits on: again and again the step that gains most for its cost, until the wish is met or all is at its finest. */
function tighten(lot: CurveLot, wanted: number): void {
  lot.levels.forEach((_, i) => lot.set(i, 0));
  for (let stand = lot.stand(); stand.yield < wanted;) {
    let [best, most] = [-1, -Infinity];
    for (const [i, level] of lot.levels.entries()) {
      if (level === FACTORS.length - 1) continue;
      const next = lot.standWith(i, level + 1);
      // Where no trial passes yet, what brings them nearer counts.
      const gain = next.yield - stand.yield + 0.1 * (stand.excess - next.excess);
      const worth = gain / (costOf(level + 1) - costOf(level));
      if (worth > most) [best, most] = [i, worth];
    }
    if (best < 0) return;
    lot.set(best, lot.levels[best] + 1);
    stand = lot.stand();
  }
}

/** What can be looser with the wish still met, dearest first. */
function loosen(lot: CurveLot, wanted: number): void {
  for (let changed = true; changed;) {
    changed = false;
    const dearest = [...lot.levels.keys()].sort((a, b) => lot.levels[b] - lot.levels[a]);
    for (const i of dearest) {
      if (lot.levels[i] === 0 || lot.standWith(i, lot.levels[i] - 1).yield < wanted) continue;
      lot.set(i, lot.levels[i] - 1);
      changed = true;
    }
  }
}

function changesOf(tolerances: readonly Tolerance[], lot: CurveLot, after: number): SuggestedLimits[] {
  const rounded = (value: number) => Number(value.toPrecision(2));
  return tolerances
    .flatMap(({ id, lower, upper }, i) => {
      const level = lot.levels[i];
      if (level === AS_IT_IS) return [];
      const factor = FACTORS[level];
      return [
        {
          tolerance: id,
          lower: rounded(lower * factor),
          upper: rounded(upper * factor),
          factor,
          gain: after - lot.standWith(i, AS_IT_IS).yield,
          saved: costOf(AS_IT_IS) - costOf(level),
        },
      ];
    })
    .sort((a, b) => Math.sign(a.factor - 1) - Math.sign(b.factor - 1) || b.gain - a.gain || b.saved - a.saved);
}
