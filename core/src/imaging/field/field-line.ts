import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** Fields on the way from the axis to the largest one. */
export interface FieldLine {
  readonly fields: readonly FieldPoint[];
  /** Share of the largest field, 0 to 1, and the field itself: degrees, or mm of object or image height. */
  readonly share: readonly number[];
  readonly at: readonly number[];
  readonly largest: number;
  readonly unit: '°' | 'mm';
  readonly far: FieldPoint;
}

/**
 * Fields on the way from the axis to the largest one, evenly.
 *
 * @param steps - how many parts the way has
 */
export function fieldLine({ model }: LensEvaluation, steps: number): Outcome<FieldLine> {
  const { points, kind } = model.lens.fields;
  const far = [...points].sort((a, b) => Math.hypot(b.x, b.y) - Math.hypot(a.x, a.y)).at(0);
  const largest = far ? Math.hypot(far.x, far.y) : 0;
  if (!far || largest === 0) return failure('There is no field beside the axis: add one in the Brief.');
  const share = Array.from({ length: steps + 1 }, (_, k) => k / steps);
  return success({
    fields: share.map((s) => ({ id: `at_${s}`, x: s * far.x, y: s * far.y, weight: 1 })),
    share,
    at: share.map((s) => s * largest),
    largest,
    unit: kind === 'angle' ? '°' : 'mm',
    far,
  });
}
