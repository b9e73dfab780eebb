import { failure, success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { Tolerance } from '../project/tolerances.ts';
import type { Composition } from './components.ts';
import type { Sampled } from './influence.ts';
import { isKnown, type Response } from './response.ts';

/** What departures do to measures: quadratic components, and how measures are made of them. */
export interface Effects {
  /** In departures from the design in the order of the tolerances. */
  readonly quadratics: readonly QuadraticResponse[];
  /** By measure. */
  readonly compositions: readonly Pick<Composition, 'of' | 'by'>[];
}

/**
 * Effects by the curves of a study one by one, added without cross terms. Fails for a curve without a fit.
 *
 * @param sampled - one for each tolerance, in their order
 * @param nominal - values of the design, by measure
 */
export function effectsOfCurves(
  tolerances: readonly Tolerance[],
  sampled: readonly Sampled[],
  nominal: readonly number[],
): Outcome<Effects> {
  const lost = sampled.findIndex(({ curves }) => nominal.some((_, k) => !curves[k].fit));
  if (lost >= 0) return failure('A tolerance has trials without a value: tighten it first.', tolerances[lost].id);
  return success({
    quadratics: nominal.map((value, k) => ({
      value,
      slopes: sampled.map(({ curves }) => curves[k].fit!.slope),
      curvatures: sampled.map(({ curves }, i) => sampled.map((_, j) => (i === j ? curves[k].fit!.curvature : 0))),
    })),
    compositions: nominal.map((_, k) => ({ of: [k], by: 'itself' })),
  });
}

/**
 * Effects by a response, products of departures included.
 *
 * @param measures - numbers of the watched measures that count; null where the response does not know one of them, or a tolerance
 */
export function effectsOfResponse(
  response: Response,
  tolerances: readonly Tolerance[],
  measures: readonly number[],
): Effects | null {
  const place = tolerances.map(({ id }) => response.tolerances.findIndex((one) => one.id === id));
  if (place.includes(-1) || measures.some((k) => k < 0 || !isKnown(response, k))) return null;
  const used = [...new Set(measures.flatMap((k) => response.compositions[k].of))];
  return {
    quadratics: used.map((c) => {
      const { value, slopes, curvatures } = response.quadratics[c]!;
      return {
        value,
        slopes: place.map((i) => slopes[i]),
        curvatures: place.map((i) => place.map((j) => curvatures[i][j])),
      };
    }),
    compositions: measures.map((k) => {
      const { of, by } = response.compositions[k];
      return { of: of.map((c) => used.indexOf(c)), by };
    }),
  };
}
