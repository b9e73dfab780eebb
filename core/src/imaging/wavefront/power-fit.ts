import { fitLeastSquares } from '../../math/linear-fit.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { fieldLine } from '../field/field-line.ts';
import { wavefront } from './wavefront.ts';

/** A term Wklm hᵏ ρˡ cosᵐφ with its value at the edge of field and pupil, waves. */
export interface PowerTerm {
  readonly k: number;
  readonly l: number;
  readonly m: number;
  readonly value: number;
}

/** What terms are called: H. H. Hopkins, Wave Theory of Aberrations (1950). */
export const ABERRATION_KEYS: Readonly<Record<string, string>> = {
  '020': 'focus',
  '040': 'spherical',
  '131': 'coma',
  '222': 'astigmatism',
  '220': 'field curvature',
  '060': 'fifth-order spherical',
  '151': 'linear coma',
  '242': 'oblique spherical, tangential',
  '240': 'oblique spherical',
  '333': 'elliptical coma',
  '331': 'oblique coma',
  '422': 'fifth-order astigmatism',
  '420': 'fifth-order field curvature',
};

/** Terms that a chief-ray reference leaves: those of ρ² and above, and tilt, which the real chief ray takes off, left out. */
const TERMS: readonly (readonly [k: number, l: number, m: number])[] = [
  [0, 2, 0],
  [0, 4, 0],
  [1, 3, 1],
  [2, 2, 2],
  [2, 2, 0],
  [0, 6, 0],
  [1, 5, 1],
  [2, 4, 2],
  [2, 4, 0],
  [3, 3, 3],
  [3, 3, 1],
  [4, 2, 2],
  [4, 2, 0],
];

export interface PowerFit {
  readonly terms: readonly PowerTerm[];
  /** RMS of what they leave, and of the wavefront itself about its mean in each field, waves. */
  readonly residual: number;
  readonly total: number;
}

/**
 * The wavefront over pupil and field as a power series to the sixth power, by least squares over real rays of fields from the axis to the
 * largest; φ from the field's direction. Each field keeps its own piston and tilt, which are no aberration about its chief ray's image point.
 *
 * Fails where there is no field beside the axis, and where the lens is not its own mirror image across the field's
 * direction: such a series is none of it.
 *
 * @param fields - how many
 */
export function powerFit(lens: LensEvaluation, wave: number, fields: number): Outcome<PowerFit> {
  const line = fieldLine(lens, fields - 1);
  if (!line.ok) return line;
  const { far, share } = line.value;
  if (!lens.model.surfaces.every(({ entry }) => entry === null))
    return failure('A power series needs a lens of revolution: surfaces are tilted or shifted.');
  const size = Math.hypot(far.x, far.y);
  const [cx, cy] = [far.x / size, far.y / size];
  const rows: number[][] = [];
  const [values, weights]: [number[], number[]] = [[], []];
  const sums = share.map(() => [0, 0, 0]);
  for (const [index, field] of line.value.fields.entries()) {
    const front = wavefront(lens, field, wave, { sampling: { kind: 'polar', rings: 12, arms: 24 }, pupil: 'full' });
    if (!front.ok) return front;
    const {
      points: { px, py, weight },
      w,
    } = front.value;
    const h = share[index];
    for (let i = 0; i < w.length; i++) {
      if (Number.isNaN(w[i])) continue;
      const [along, across] = [px[i] * cx + py[i] * cy, px[i] * cy - py[i] * cx];
      const square = along * along + across * across;
      const piston = share.flatMap((_, k) => (k === index ? [1, along] : [0, 0]));
      rows.push([...TERMS.map(([k, l, m]) => h ** k * square ** ((l - m) / 2) * along ** m), ...piston]);
      values.push(w[i]);
      weights.push(weight[i]);
      const sum = sums[index];
      sum[0] += weight[i];
      sum[1] += weight[i] * w[i];
      sum[2] += weight[i] * w[i] * w[i];
    }
  }
  const c = fitLeastSquares(rows, values, weights);
  if (!c) return failure('The terms cannot be told apart: give a larger field.');
  let left = 0;
  rows.forEach(
    (row, i) => (left += weights[i] * (values[i] - row.reduce((sum, value, k) => sum + value * c[k], 0)) ** 2),
  );
  const total = weights.reduce((sum, value) => sum + value, 0);
  return success({
    terms: TERMS.map(([k, l, m], i) => ({ k, l, m, value: c[i] })),
    residual: Math.sqrt(left / total),
    total: Math.sqrt(sums.reduce((sum, [weight, mean, squares]) => sum + squares - (mean * mean) / weight, 0) / total),
  });
}
