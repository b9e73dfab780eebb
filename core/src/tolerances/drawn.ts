import { distributionOf, type Distribution } from '../math/distribution.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
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
