import type { ValueLimits } from '../math/capability.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { RandomStream } from '../math/random.ts';
import { atOnce } from '../math/steps.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { DepartureDraws, drawnTolerances } from '../tolerances/drawn.ts';
import { composed } from './components.ts';
import type { Effects } from './effects.ts';
import { keeps } from './lot-summary.ts';
import { ScaledLot, type LotStand } from './scaled-lot.ts';

/** What limits are suggested for. */
export interface SuggestionWish {
  /** The wanted yield, above 0 and below 1. */
  readonly yield: number;
  /** Lots by the effects: how many trials, and their seed. */
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
  /** Yield by the effects: as it is, and as suggested. */
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

/** A lot with the level of every tolerance. */
class LevelledLot {
  readonly levels: number[];
  readonly #lot: ScaledLot;

  constructor(lot: ScaledLot, tolerances: number) {
    this.#lot = lot;
    this.levels = new Array<number>(tolerances).fill(AS_IT_IS);
  }

  set(i: number, level: number): void {
    this.levels[i] = level;
    this.#lot.scale(i, FACTORS[level]);
  }

  stand(): LotStand {
    return this.#lot.stand();
  }

  standWith(i: number, level: number): LotStand {
    return this.#lot.standWith(i, FACTORS[level]);
  }

  get cost(): number {
    return this.levels.reduce((sum, level) => sum + costOf(level), 0);
  }
}

/** Numbers that a lot may keep for its slopes; a large one has fewer trials. */
const MOST_SLOPES = 8e6;

/**
 * The loosest limits that keep a wanted yield: from the widest on, what gains most yield for its cost is tightened; then what can be loosened
 * again is. All limits stay multiples of the present ones, rounded to two digits when applied. Yields after each step.
 *
 * Fails where the yield cannot be estimated: the design misses a limit, no limits, a wish that is no share.
 *
 * @param effects - of the tolerances, in their order
 * @param limits - what is allowed, by measure
 */
export function* suggestingLimits(
  tolerances: readonly Tolerance[],
  effects: Effects,
  limits: readonly ValueLimits[],
  wish: SuggestionWish,
): Generator<void, Outcome<Suggestion>, void> {
  if (!(wish.yield > 0 && wish.yield < 1)) return failure('The wanted yield must be above 0 and below 100 %.');
  if (limits.every(({ min, max }) => min === undefined && max === undefined))
    return failure('Nothing that is watched has a limit.');
  const drawn = drawnTolerances(tolerances);
  if (!drawn.ok) return drawn;
  if (drawn.value.length === 0) return failure('Nothing has a tolerance.');
  const { quadratics, compositions } = effects;
  const nominal = quadratics.map(({ value }) => value);
  if (compositions.some((one, k) => !keeps(composed(one, nominal), limits[k])))
    return failure('The design itself misses a limit when made: no tolerance is tight enough for it.');
  const slopes = Math.max(1, quadratics.length * tolerances.length);
  const { trials = Math.max(500, Math.min(TRIALS, Math.floor(MOST_SLOPES / slopes))), seed = 1 } = wish;
  const departures = drawn.value.map(() => new Float64Array(trials));
  const draws = new DepartureDraws(drawn.value);
  for (let t = 0; t < trials; t++) draws.draw(new RandomStream(seed, t), (i, by) => (departures[i][t] = by));
  const lot = new LevelledLot(new ScaledLot(effects, limits, departures), tolerances.length);
  const before = lot.stand().yield;
  yield* tighten(lot, wish.yield);
  yield* loosen(lot, wish.yield);
  const { yield: after } = lot.stand();
  return success({
    before,
    after,
    met: after >= wish.yield,
    cost: lot.cost,
    changes: changesOf(tolerances, lot, after),
  });
}

/** `suggestingLimits` in one go. */
export function suggestLimits(...input: Parameters<typeof suggestingLimits>): Outcome<Suggestion> {
  return atOnce(suggestingLimits(...input));
}

/** From the widest limits on: again and again the step that gains most for its cost, until the wish is met or all is at its finest. */
function* tighten(lot: LevelledLot, wanted: number): Generator<void> {
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
    yield;
  }
}

/** What can be looser with the wish still met, dearest first. */
function* loosen(lot: LevelledLot, wanted: number): Generator<void> {
  for (let changed = true; changed;) {
    changed = false;
    const dearest = [...lot.levels.keys()].sort((a, b) => lot.levels[b] - lot.levels[a]);
    for (const i of dearest) {
      yield;
      if (lot.levels[i] === 0 || lot.standWith(i, lot.levels[i] - 1).yield < wanted) continue;
      lot.set(i, lot.levels[i] - 1);
      changed = true;
    }
  }
}

function changesOf(tolerances: readonly Tolerance[], lot: LevelledLot, after: number): SuggestedLimits[] {
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
