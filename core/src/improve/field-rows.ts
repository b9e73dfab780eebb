import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { expectedSquare, type ExpectedField } from '../measures/as-built.ts';
import { squareSum, type ImageRows, type RowsStand } from './image-rows.ts';

/** mm to µm. */
const UNIT = 1000;

/** Rows of every field: its rays as drawn, with focus set, then what each error of making brings to its spot. */
export class FieldRows implements ImageRows {
  readonly #fields: readonly ExpectedField[];
  readonly #weights: number;

  constructor(fields: readonly ExpectedField[]) {
    this.#fields = fields;
    this.#weights = fields.reduce((sum, { field }) => sum + field.weight, 0);
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

/** Fails where the image lies at infinity. */
export function noAfocal(lens: LensEvaluation): Outcome<null> {
  return isAfocal(lens.model.lens)
    ? failure('The image lies at infinity: the effect of manufacturing errors is not computed yet.')
    : success(null);
}
