import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import {
  expectedFields,
  expectedSquare,
  inexactNumbers,
  WORKSHOP_GRADES,
  type ExpectedField,
} from '../measures/as-built.ts';
import type { ImageGoal } from '../project/improve.ts';
import { squareSum, type ImageRows, type RowsStand } from './image-rows.ts';

/** mm to µm. */
const UNIT = 1000;

/**
 * Rows by the spot that is to be expected after manufacture: of every field its rays as drawn, with focus set, then what each error brings to its
 * spot. So least squares sees what the one number of the measure is made of. They change with the free numbers by derivatives of derivatives:
 * differences do.
 */
export class AsBuiltRows implements ImageRows {
  readonly #fields: readonly ExpectedField[];
  readonly #weights: number;

  private constructor(fields: readonly ExpectedField[]) {
    this.#fields = fields;
    this.#weights = fields.reduce((sum, { field }) => sum + field.weight, 0);
  }

  /** Fails where rays do not arrive or cannot be differentiated. */
  static of(goal: ImageGoal, lens: LensEvaluation): Outcome<AsBuiltRows> {
    if (isAfocal(lens.model.lens))
      return failure('The image lies at infinity: the effect of manufacturing errors is not computed yet.');
    const fields = expectedFields(lens, inexactNumbers(lens.model, WORKSHOP_GRADES[goal.workshop!]));
    return fields.ok ? success(new AsBuiltRows(fields.value)) : fields;
  }

  get count(): number {
    return this.#fields.reduce((sum, { rows, deviations }) => sum + rows.length + deviations.length, 0);
  }

  values(out: Float64Array, at: number): boolean {
    let row = at;
    for (const { field, rows, deviations } of this.#fields) {
      const factor = UNIT * Math.sqrt(field.weight / this.#weights);
      for (const values of [rows, deviations]) for (const value of values) out[row++] = factor * value;
    }
    return true;
  }

  columns(): null {
    return null;
  }

  missing(): null {
    return null;
  }

  /** The expected RMS over the weighted fields, and of each field what is drawn and what is made. */
  stand(): RowsStand {
    const mean = this.#fields.reduce((sum, one) => sum + (one.field.weight / this.#weights) * expectedSquare(one), 0);
    return {
      value: UNIT * Math.sqrt(mean),
      square: UNIT * UNIT * mean,
      parts: this.#fields.flatMap(({ field, rows, deviations }) => [
        { field: field.id, of: 'as drawn' as const, value: UNIT * Math.sqrt(squareSum(rows)) },
        { field: field.id, of: 'by errors' as const, value: UNIT * Math.sqrt(squareSum(deviations)) },
      ]),
    };
  }
}
