import { failure, success, type Outcome } from '../../math/outcome.ts';
import { atOnce } from '../../math/steps.ts';
import type { Detail } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { cutoffOf, imageCone } from '../wavefront/image-cone.ts';
import { fieldMtfSteps, modulation, type MtfMethod } from './mtf.ts';

export interface MtfChartChoice {
  readonly method: MtfMethod;
  /** Highest frequency, cycles per mm; null for the one that suits the image's own limit. */
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
  /** What the same pupils would pass without aberration. */
  readonly limits: { readonly tangential: readonly number[]; readonly sagittal: readonly number[] };
  /** RMS that fitted polynomials leave of a phase, waves. */
  readonly residual: number;
}

export interface MtfChart {
  /** Cycles per mm, or per mrad for an image at infinity. */
  readonly unit: 'mm' | 'mrad';
  readonly frequencies: readonly number[];
  readonly fields: readonly { readonly field: string; readonly curves: Outcome<MtfCurves> }[];
  /** Frequency beyond which no field passes anything in the primary wavelength, and a round one that shows a good part of it. */
  readonly cutoff: number;
  readonly suggested: number;
  readonly detail: Detail;
  readonly aim: 'paraxial' | 'stop';
}

const STEPS = 20;

/** Modulation transfer of all fields over frequency, with the limit of diffraction. */
export function mtfChart(lens: LensEvaluation, choice: MtfChartChoice): Outcome<MtfChart> {
  return atOnce(mtfChartSteps(lens, choice));
}

/** The same, yielding after each colour of each field. */
export function* mtfChartSteps(
  given: LensEvaluation,
  choice: MtfChartChoice,
): Generator<void, Outcome<MtfChart>, void> {
  const lens = given.inFocus();
  const { model } = lens;
  const { points } = model.lens.fields;
  if (points.length === 0) return failure('No field point is given.');
  const cones = points.map((field) => imageCone(lens, field));
  const cutoff = Math.max(
    ...cones.map((cone) => (cone.ok ? Math.max(cutoffOf(cone.value, 0), cutoffOf(cone.value, 1)) : 0)),
  );
  if (!(cutoff > 0)) return cones[0] as Outcome<never>;
  const suggested = roundBelow(cutoff / 4);
  const highest = choice.highest ?? suggested;
  const frequencies = Array.from({ length: STEPS + 1 }, (_, k) => (highest * k) / STEPS);
  const fields: { field: string; curves: Outcome<MtfCurves> }[] = [];
  for (const field of points) {
    const found = yield* fieldMtfSteps(lens, field, {
      method: choice.method,
      frequencies,
      detail: choice.detail,
      ...(choice.colours === 'primary' && { wave: model.primary }),
    });
    const curves: Outcome<MtfCurves> = found.ok
      ? success({
          field: field.id,
          tangential: found.value.tangential.map(modulation),
          sagittal: found.value.sagittal.map(modulation),
          limits: found.value.limits,
          residual: found.value.residual,
        })
      : found;
    fields.push({ field: field.id, curves });
  }
  return success({
    unit: lens === given ? 'mm' : 'mrad',
    frequencies,
    fields,
    cutoff,
    suggested,
    detail: choice.detail,
    aim: model.lens.pupil.aim,
  });
}

/** The largest of 1, 2 and 5 times a power of ten that does not pass a number. */
export function roundBelow(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most));
  return [5, 2, 1].map((digit) => digit * power).find((value) => value <= most) ?? power;
}
