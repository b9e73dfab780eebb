import type { SolverVariable } from '../sequence/solver-variable.ts';

/** What one part of the image makes of an image goal. */
export interface ImagePart {
  readonly field: string;
  /** A wavelength in nm, the direction of a transfer, or a cause. */
  readonly of: number | 'tangential' | 'sagittal' | 'as drawn' | 'by errors';
  /** In the unit of the goal. */
  readonly value: number;
}

/** How the image stands: one value for all of it, the sum of the squares of its rows, and its parts. */
export interface RowsStand {
  readonly value: number;
  readonly square: number;
  readonly parts: readonly ImagePart[];
}

/** An image goal made ready for one version of a lens: rows whose squares sum to what it makes of the square of the merit at a weight of 1. */
export interface ImageRows {
  readonly count: number;
  /** Writes all rows from a place on; false where one has no value. */
  values(out: Float64Array, at: number): boolean;
  /** Derivatives of all rows by variables; null where rays cannot be differentiated. */
  columns(variables: readonly SolverVariable[]): Float64Array[] | null;
  /** Why there are no values, in words; null where there are. */
  missing(): string | null;
  stand(): RowsStand | null;
}

export function squareSum(values: Float64Array): number {
  let sum = 0;
  for (const value of values) sum += value * value;
  return sum;
}
