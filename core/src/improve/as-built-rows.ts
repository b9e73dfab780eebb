import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import { expectedFields, inexactNumbers, WORKSHOP_GRADES } from '../measures/as-built.ts';
import type { WorkshopName } from '../project/improve.ts';
import { FieldRows, noAfocal } from './field-rows.ts';

/**
 * Rows by the spot that is to be expected after manufacture of a grade, see `FieldRows`. So least squares sees what the one number of the
 * measure is made of. They change with the free numbers by derivatives of derivatives: differences do.
 *
 * Fails where rays do not arrive or cannot be differentiated.
 */
export function asBuiltRows(workshop: WorkshopName, lens: LensEvaluation): Outcome<FieldRows> {
  const afocal = noAfocal(lens);
  if (!afocal.ok) return afocal;
  const fields = expectedFields(lens, inexactNumbers(lens.model, WORKSHOP_GRADES[workshop]));
  return fields.ok ? success(new FieldRows(fields.value)) : fields;
}
