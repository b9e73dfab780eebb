import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LinearChange } from './linear-changes.ts';
import { dot, spotChanges, type SpotChanges } from './spot-changes.ts';

/** How far the last distance is set, mm: of the design, and per unit of each departure. */
export interface FocusShifts {
  readonly design: number;
  readonly departures: readonly number[];
}

/**
 * How focus is set after making: `fixed`: not at all; `best`: for the least sum of squares over the weighted fields; or by so much.
 */
export type FocusRule = 'fixed' | 'best' | FocusShifts;

/** The spot of one field. */
export interface FieldResponse {
  readonly field: FieldPoint;
  /** Of the design, focused: √weight times what each ray misses its centroid by, mm. */
  readonly rows: Float64Array;
  /** The mean square about the centroid of all colours, mm². */
  readonly square: QuadraticResponse;
}

/** Mean square spots as functions of departures. */
export interface SpotResponse {
  /** By weighted field. */
  readonly fields: readonly FieldResponse[];
  readonly focus: FocusShifts;
}

/**
 * Mean square spots by first derivatives of rays: |r + Σ x d|² over all rays, exact in the squares as far as rays go linearly with
 * departures (J. Meiron, J. Opt. Soc. Am. 55, 1105 (1965)).
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
    rule === 'best'
      ? bestFocus(found.value, departures.length)
      : rule === 'fixed'
        ? fixedFocus(departures.length)
        : rule;
  const fields = found.value.map((one) => {
    const focused = (column: Float64Array, by: number) => column.map((value, i) => value + by * one.focus[i]);
    const rows = focused(one.rows, focus.design);
    const moved = one.changes.map((change, t) => focused(change, focus.departures[t]));
    const curvatures = moved.map(() => new Array<number>(moved.length).fill(0));
    for (let s = 0; s < moved.length; s++)
      for (let t = 0; t <= s; t++) curvatures[s][t] = curvatures[t][s] = dot(moved[s], moved[t]);
    const square = { value: dot(rows, rows), slopes: moved.map((change) => 2 * dot(rows, change)), curvatures };
    return { field: one.field, rows, square };
  });
  return success({ fields, focus });
}

const fixedFocus = (departures: number): FocusShifts => ({
  design: 0,
  departures: new Array<number>(departures).fill(0),
});

/** −Σ w f·d/Σ w f·f, of the design and of each departure: what takes from its rows all that focus can. */
function bestFocus(fields: readonly SpotChanges[], departures: number): FocusShifts {
  const over = (pick: (one: SpotChanges) => Float64Array) =>
    fields.reduce((sum, one) => sum + one.field.weight * dot(one.focus, pick(one)), 0);
  const own = over(({ focus }) => focus);
  const shift = (pick: (one: SpotChanges) => Float64Array) => (own > 0 ? -over(pick) / own : 0);
  return {
    design: shift(({ rows }) => rows),
    departures: Array.from({ length: departures }, (_, t) => shift(({ changes }) => changes[t])),
  };
}
