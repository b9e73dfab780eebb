import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LinearChange } from './linear-changes.ts';
import { dot, spotChanges, type SpotChanges } from './spot-changes.ts';

/**
 * How focus is set after making: `fixed`: not at all; `best`: for the least sum of squares over the weighted fields; numbers: change of the
 * last distance per
 * unit of each departure, mm.
 */
export type FocusRule = 'fixed' | 'best' | readonly number[];

/** Mean square spots as functions of departures. */
export interface SpotResponse {
  /** By weighted field: the mean square about the centroid of all colours, mm². */
  readonly fields: readonly { readonly field: FieldPoint; readonly square: QuadraticResponse }[];
  /** Change of the last distance per unit of each departure, mm. */
  readonly focus: readonly number[];
}

/**
 * Mean square spots by first derivatives of rays: |r + Σ x d|² over all rays, exact in the squares as far as rays go linearly with departures
 * (J. Meiron, J.
 * Opt. Soc. Am. 55, 1105 (1965)).
 *
 * Fails where a ray does not arrive, or rays are not differentiated.
 *
 * @param departures - what each departure changes of the lens
 */
export function spotResponse(
  lens: LensEvaluation,
  departures: readonly (readonly LinearChange[])[],
  rule: FocusRule,
): Outcome<SpotResponse> {
  const found = spotChanges(lens, departures);
  if (!found.ok) return found;
  const focus =
    rule === 'best' ? bestFocus(found.value, departures.length) : rule === 'fixed' ? departures.map(() => 0) : rule;
  const fields = found.value.map((one) => {
    const moved = one.changes.map((change, t) => change.map((value, i) => value + focus[t] * one.focus[i]));
    const curvatures = moved.map(() => new Array<number>(moved.length).fill(0));
    for (let s = 0; s < moved.length; s++)
      for (let t = 0; t <= s; t++) curvatures[s][t] = curvatures[t][s] = dot(moved[s], moved[t]);
    const square = {
      value: dot(one.rows, one.rows),
      slopes: moved.map((change) => 2 * dot(one.rows, change)),
      curvatures,
    };
    return { field: one.field, square };
  });
  return success({ fields, focus });
}

/** −Σ w f·d/Σ w f·f for each departure: what takes from its rows all that focus can. */
function bestFocus(fields: readonly SpotChanges[], departures: number): number[] {
  const over = (pick: (one: SpotChanges) => number) =>
    fields.reduce((sum, one) => sum + one.field.weight * pick(one), 0);
  const own = over(({ focus }) => dot(focus, focus));
  return Array.from({ length: departures }, (_, t) =>
    own > 0 ? -over(({ focus, changes }) => dot(focus, changes[t])) / own : 0,
  );
}
