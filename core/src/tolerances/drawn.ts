import { distributionOf, type Distribution } from '../math/distribution.ts';
import { normalBelow, normalQuantile } from '../math/normal-distribution.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { RandomStream } from '../math/random.ts';
import type { Tolerance } from '../project/tolerances.ts';

/** A tolerance that counts, with the distribution of its departure. */
export interface DrawnTolerance {
  readonly tolerance: Tolerance;
  readonly distribution: Distribution;
}

/** The distribution of a tolerance's departure, uniform if it names none. Fails for limits and numbers that make no distribution. */
export function departureDistribution({ lower, upper, distribution }: Tolerance): Outcome<Distribution> {
  return distributionOf(distribution ?? { kind: 'uniform' }, lower, upper);
}

/** The tolerances that are not off, with their distributions. Fails at the first one that has none, with its id. */
export function drawnTolerances(tolerances: readonly Tolerance[]): Outcome<DrawnTolerance[]> {
  const drawn: DrawnTolerance[] = [];
  for (const tolerance of tolerances) {
    if (tolerance.off) continue;
    const found = departureDistribution(tolerance);
    if (!found.ok) return failure(`${tolerance.id}: ${found.reason}`, tolerance.id);
    drawn.push({ tolerance, distribution: found.value });
  }
  return success(drawn);
}

/**
 * Draws the departures of made lenses. Those of a group go together by a Gaussian copula with one factor: zᵢ = λᵢ g + √(1 − λᵢ²) eᵢ with
 * independent standard normal g and eᵢ, and the departure is the quantile of its distribution at Φ(zᵢ) (R. B. Nelsen, An Introduction to
 * Copulas, section 2.3).
 */
export class DepartureDraws {
  readonly #drawn: readonly DrawnTolerance[];
  readonly #shares: Float64Array;
  readonly #groups: readonly (readonly Member[])[];

  constructor(drawn: readonly DrawnTolerance[]) {
    this.#drawn = drawn;
    this.#shares = new Float64Array(drawn.length);
    this.#groups = [...membersByGroup(drawn).values()];
  }

  /** Takes one lens from a stream, and hands out the departure of each tolerance by its place. */
  draw(stream: RandomStream, take: (i: number, by: number) => void): void {
    const shares = this.#shares;
    for (let i = 0; i < shares.length; i++) shares[i] = stream.uniform();
    for (const members of this.#groups) {
      const common = normalQuantile(stream.uniform());
      for (const { at, correlation } of members) {
        const own = Math.abs(correlation) < 1 ? Math.sqrt(1 - correlation ** 2) * normalQuantile(shares[at]) : 0;
        shares[at] = normalBelow(correlation * common + own);
      }
    }
    for (let i = 0; i < shares.length; i++) take(i, this.#drawn[i].distribution.quantile(shares[i]));
  }
}

/** A tolerance of a group by its place, with its correlation with what the group has in common. */
export interface Member {
  readonly at: number;
  readonly correlation: number;
}

/** Tolerances that depart together, by the name of their group. */
export function membersByGroup(drawn: readonly DrawnTolerance[]): ReadonlyMap<string, readonly Member[]> {
  const groups = new Map<string, Member[]>();
  for (const [at, { tolerance }] of drawn.entries()) {
    const { group, correlation = 1 } = tolerance.with ?? { group: null };
    if (group === null) continue;
    groups.set(group, [...(groups.get(group) ?? []), { at, correlation }]);
  }
  return groups;
}
