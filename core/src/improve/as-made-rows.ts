import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import { madeSpots, quantileOf } from '../tolerances/made-spots.ts';
import { FieldRows, noAfocal } from './field-rows.ts';

/** The share of lenses whose spot counts. */
const SHARE = 0.9;

/**
 * Rows by the spots that 90 % of lenses made within the tolerances of the project keep. Of every field its rays as drawn, focus set, then
 * what each tolerance brings to its spot; those are stretched alike so that all squares together are that of the spot wanted. They change
 * with the free numbers by derivatives of derivatives: differences do.
 *
 * Fails where there are no tolerances, or rays do not arrive or cannot be differentiated.
 */
export function asMadeRows(lens: LensEvaluation): Outcome<FieldRows> {
  const afocal = noAfocal(lens);
  if (!afocal.ok) return afocal;
  const found = madeSpots(lens);
  if (!found.ok) return found;
  const { tolerances, fields, squares } = found.value;
  return success(
    new FieldRows(
      fields.map(({ field, rows, square }, k) => {
        const deviations = Float64Array.from(tolerances, ({ distribution }, t) =>
          Math.sqrt(Math.max(0, distribution.moments.central[2] * square.curvatures[t][t])),
        );
        const drawn = rows.reduce((sum, row) => sum + row * row, 0);
        const errors = deviations.reduce((sum, one) => sum + one * one, 0);
        const stretch = errors > 0 ? Math.sqrt(Math.max(0, quantileOf(squares[k], SHARE) - drawn) / errors) : 0;
        return { field, rows, deviations: deviations.map((one) => stretch * one) };
      }),
    ),
  );
}
