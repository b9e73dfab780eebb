import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fitLeastSquares } from '../math/linear-fit.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LinearChange } from './linear-changes.ts';
import { dot, spotChanges, type SpotChanges } from './spot-changes.ts';

/** How far something is set after making, in its unit: of the design, and per unit of each departure. */
export interface Settings {
  readonly design: number;
  readonly departures: readonly number[];
}

/**
 * How focus is set after making: `fixed`: not at all; `best`: for the least sum of squares over the weighted fields; or by so much.
 */
export type FocusRule = 'fixed' | 'best' | Settings;

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
  readonly focus: Settings;
  /** By adjustment. */
  readonly adjusted: readonly Settings[];
}

/**
 * Mean square spots by first derivatives of rays: |r + Σ x d|² over all rays, exact in the squares as far as rays go linearly with
 * departures (J. Meiron, J. Opt. Soc. Am. 55, 1105 (1965)).
 *
 * Fails where a ray does not arrive, or rays are not differentiated.
 *
 * @param departures - what each departure changes of the lens
 * @param adjustments - what else is set for the least sum of squares over the weighted fields: what each changes of the lens. How far they can
 *   go is not looked at.
 */
export function spotResponse(
  lens: LensEvaluation,
  departures: readonly (readonly LinearChange[])[],
  rule: FocusRule,
  adjustments: readonly (readonly LinearChange[])[] = [],
): Outcome<SpotResponse> {
  const found = spotChanges(lens, [...departures, ...adjustments]);
  if (!found.ok) return found;
  const count = departures.length;
  const free = (one: SpotChanges) => [...(rule === 'best' ? [one.focus] : []), ...one.changes.slice(count)];
  const given = typeof rule === 'string' ? null : rule;
  const fields = given ? found.value.map((one) => focusedBy(one, given)) : found.value;
  const best = bestSettings(fields, free, count);
  const moved = fields.map((one) => {
    const columns = free(one);
    const set = (column: Float64Array, pick: (settings: Settings) => number) =>
      column.map((value, i) => columns.reduce((sum, by, k) => sum + pick(best[k]) * by[i], value));
    const rows = set(one.rows, ({ design }) => design);
    const changes = one.changes.slice(0, count).map((change, t) => set(change, ({ departures: by }) => by[t]));
    return { field: one.field, rows, square: squareOf(rows, changes) };
  });
  const adjusted = rule === 'best' ? best.slice(1) : best;
  return success({ fields: moved, focus: given ?? (rule === 'best' ? best[0] : notSet(count)), adjusted });
}

/** |r + Σ x d|². */
function squareOf(rows: Float64Array, changes: readonly Float64Array[]): QuadraticResponse {
  const curvatures = changes.map(() => new Array<number>(changes.length).fill(0));
  for (let s = 0; s < changes.length; s++)
    for (let t = 0; t <= s; t++) curvatures[s][t] = curvatures[t][s] = dot(changes[s], changes[t]);
  return { value: dot(rows, rows), slopes: changes.map((change) => 2 * dot(rows, change)), curvatures };
}

const notSet = (departures: number): Settings => ({ design: 0, departures: new Array<number>(departures).fill(0) });

/** Rows and changes with the last distance set as given, adjustments too: the last departures. */
function focusedBy(one: SpotChanges, { design, departures }: Settings): SpotChanges {
  const set = (column: Float64Array, by: number) => column.map((value, i) => value + by * one.focus[i]);
  return {
    ...one,
    rows: set(one.rows, design),
    changes: one.changes.map((change, t) => set(change, departures[t])),
  };
}

/** By column: what takes from the rows of the design, and from each change, all that the columns together can. */
function bestSettings(
  fields: readonly SpotChanges[],
  free: (one: SpotChanges) => readonly Float64Array[],
  departures: number,
): readonly Settings[] {
  const design = leastSquareSteps(fields, free, ({ rows }) => rows);
  const steps = Array.from({ length: departures }, (_, t) =>
    leastSquareSteps(fields, free, ({ changes }) => changes[t]),
  );
  return Array.from(design, (own, k) => ({ design: own, departures: steps.map((by) => by[k]) }));
}

/**
 * Steps a along columns that make Σ w |values + Σ a·columns|² least over the weighted fields, by the normal equations. A column without effect
 * has no step; those that do the same share it.
 */
export function leastSquareSteps(
  fields: readonly SpotChanges[],
  free: (one: SpotChanges) => readonly Float64Array[],
  values: (one: SpotChanges) => Float64Array,
): Float64Array {
  const columns = fields.map(free);
  const count = columns[0].length;
  const over = (i: number, other: (f: number) => Float64Array) =>
    fields.reduce((sum, { field }, f) => sum + field.weight * dot(columns[f][i], other(f)), 0);
  const normal = Array.from({ length: count }, (_, i) =>
    Array.from({ length: count }, (_, j) => over(i, (f) => columns[f][j])),
  );
  const right = Array.from({ length: count }, (_, i) => -over(i, (f) => values(fields[f])));
  const scales = normal.map((row, i) => (row[i] > 0 ? 1 / Math.sqrt(row[i]) : 0));
  const rows = normal.map((row, i) =>
    row.map((entry, j) => entry * scales[i] * scales[j] + (i === j ? (scales[i] > 0 ? 1e-12 : 1) : 0)),
  );
  const solved =
    count > 0
      ? fitLeastSquares(
          rows,
          right.map((entry, i) => entry * scales[i]),
        )
      : null;
  return Float64Array.from(scales, (scale, i) => scale * (solved?.[i] ?? 0));
}
