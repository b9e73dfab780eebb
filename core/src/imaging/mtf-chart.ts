import { failure, success, type Outcome } from '../math/outcome.ts';
import { atOnce } from '../math/steps.ts';
import type { Detail } from './diffraction-pupil.ts';
import type { LensEvaluation } from './evaluation.ts';
import { fieldMtfSteps, modulation, type MtfMethod } from './mtf.ts';

export interface MtfChartChoice {
  readonly method: MtfMethod;
  /** Highest frequency, cycles per mm; null for the cutoff of a perfect lens or a fifth of it. */
  readonly highest: number | null;
  /** `draft`: sums over cells, good to some thousandths, for while a number is turned. */
  readonly detail: Detail;
  /** All weighted wavelengths, or the primary one. */
  readonly colours: 'all' | 'primary';
}

export interface MtfCurves {
  readonly field: string;
  /** Modulation by frequency. */
  readonly tangential: readonly number[];
  readonly sagittal: readonly number[];
  /** RMS that fitted polynomials leave of a phase, waves. */
  readonly residual: number;
}

export interface MtfChart {
  /** Cycles per mm, or per mrad for an image at infinity. */
  readonly unit: 'mm' | 'mrad';
  readonly frequencies: readonly number[];
  readonly fields: readonly { readonly field: string; readonly curves: Outcome<MtfCurves> }[];
  /** Of a perfect lens of the axial working F-number and primary wavelength, obscuration counted. */
  readonly limit: readonly number[];
  readonly cutoff: number;
  readonly detail: Detail;
  readonly aim: 'paraxial' | 'stop';
}

const STEPS = 20;

/**
 * Modulation of a perfect lens at a share of its cutoff: of a circular pupil 2/π (acos s − s√(1 − s²)); with a central obscuration ε
 * after E. L. O'Neill (J. Opt. Soc. Am. 46, 285, 1956).
 *
 * @param s - frequency over cutoff
 */
export function perfectModulation(s: number, obscuration: number): number {
  const lens = (x: number) => (x >= 1 ? 0 : (2 / Math.PI) * (Math.acos(x) - x * Math.sqrt(1 - x * x)));
  const e = obscuration;
  if (e === 0) return lens(s);
  // Overlap of two unit-area pupils: whole discs, less twice disc and hole, plus both holes.
  const crossed = discOverlap(2 * s, 1, e) / Math.PI;
  return (lens(s) - 2 * crossed + e * e * lens(s / e)) / (1 - e * e);
}

/** Area that two discs of radii a ≥ b have in common, their centres d apart. */
function discOverlap(d: number, a: number, b: number): number {
  if (d >= a + b) return 0;
  if (d <= a - b) return Math.PI * b * b;
  const p = (d * d + a * a - b * b) / (2 * d * a);
  const q = (d * d + b * b - a * a) / (2 * d * b);
  const root = Math.sqrt((-d + a + b) * (d + a - b) * (d - a + b) * (d + a + b));
  return a * a * Math.acos(p) + b * b * Math.acos(q) - root / 2;
}

/** Modulation transfer of all fields over frequency, with the limit of diffraction. */
export function mtfChart(lens: LensEvaluation, choice: MtfChartChoice): Outcome<MtfChart> {
  return atOnce(mtfChartSteps(lens, choice));
}

/** The same, yielding after each colour of each field. */
export function* mtfChartSteps(given: LensEvaluation, choice: MtfChartChoice): Generator<void, Outcome<MtfChart>, void> {
  const lens = given.inFocus();
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { model } = lens;
  const { points } = model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  const mm = model.wavelengths[model.primary].nm * 1e-6;
  const cutoff = 1 / (mm * primary.value.workingFNumber);
  if (!Number.isFinite(cutoff) || !(cutoff > 0)) return failure('The lens forms no image at a finite distance.');
  const highest = choice.highest ?? niceBelow(cutoff / 4);
  const frequencies = Array.from({ length: STEPS + 1 }, (_, k) => (highest * k) / STEPS);
  const { obscuration } = model.lens.pupil;
  const fields: { field: string; curves: Outcome<MtfCurves> }[] = [];
  for (const field of points) {
    const found = yield* fieldMtfSteps(lens, field, {
      method: choice.method,
      frequencies,
      detail: choice.detail,
      ...(choice.colours === 'primary' && { wave: model.primary }),
    });
    const curves: Outcome<MtfCurves> = found.ok
      ? success({ field: field.id, tangential: found.value.tangential.map(modulation), sagittal: found.value.sagittal.map(modulation), residual: found.value.residual })
      : found;
    fields.push({ field: field.id, curves });
  }
  const limit = frequencies.map((nu) => perfectModulation(nu / cutoff, obscuration));
  return success({ unit: lens === given ? 'mm' : 'mrad', frequencies, fields, limit, cutoff, detail: choice.detail, aim: model.lens.pupil.aim });
} // prettier-ignore

/** The largest of 1, 2 and 5 times a power of ten that does not pass a number. */
function niceBelow(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  return [5, 2, 1].map((digit) => digit * power).find((value) => value <= most) ?? power;
}
