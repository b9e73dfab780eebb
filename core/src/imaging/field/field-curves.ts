import { success, type Outcome } from '../../math/outcome.ts';
import { narrowFoci } from './astigmatism.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { fieldLine } from './field-line.ts';
import { distortion, type DistortionChoice } from './image-scale.ts';
import { relativeIllumination } from './relative-illumination.ts';

/** Foci of one colour over the field; NaN where the chief ray does not arrive. */
export interface FocusCurve {
  readonly nm: number;
  /** z of the foci from the image surface, mm. */
  readonly tangential: readonly number[];
  readonly sagittal: readonly number[];
}

export interface FieldCurves {
  /** Share of the largest field, 0 to 1, along the direction of that field. */
  readonly share: readonly number[];
  /** The largest field: degrees, or mm of object or image height. */
  readonly largest: number;
  readonly unit: '°' | 'mm';
  readonly foci: readonly FocusCurve[];
  /** Percent, about the scale that is asked for; on the axis its limit; NaN if it is not defined. */
  readonly distortion: readonly number[];
  /** Share of the axial one, whole pupil and through set apertures. */
  readonly illumination: readonly number[];
  readonly vignetted: readonly number[];
  readonly aim: 'paraxial' | 'stop';
}

/** Fields that curves are drawn through. */
const STEPS = 16;
/** Directions in which edges of pencils are looked for: ratios are right to a thousandth. */
const EDGES = 72;
/**
 * Share of the largest field that stands for the axis, where distortion has a limit (other than 0 about another scale
 * than that of the surface) but no value.
 */
const NEAR_AXIS = 1e-3;

/** Field curvature and astigmatism by colour, distortion and relative illumination, from the axis to the largest field. */
export function fieldCurves(lens: LensEvaluation, about: Omit<DistortionChoice, 'aim'> = {}): Outcome<FieldCurves> {
  const { model } = lens;
  const line = fieldLine(lens, STEPS);
  if (!line.ok) return line;
  const { fields, share, largest, unit, far } = line.value;
  const valueOf = (outcome: Outcome<number>) => (outcome.ok ? outcome.value : NaN);
  const foci: FocusCurve[] = [];
  for (const [wave, { nm, weight }] of model.wavelengths.entries()) {
    if (weight === 0 && wave !== model.primary) continue;
    const found = fields.map((field) => narrowFoci(lens, field, wave));
    const failed = found.find((one) => !one.ok);
    if (failed && found.every((one) => !one.ok)) return failed as Outcome<never>;
    foci.push({
      nm,
      tangential: found.map((one) => (one.ok ? one.value.tangentialZ : NaN)),
      sagittal: found.map((one) => (one.ok ? one.value.sagittalZ : NaN)),
    });
  }
  const lit = (pupil: 'full' | 'clipped') =>
    fields.map((field) => valueOf(relativeIllumination(lens, field, pupil, model.lens.pupil.aim, EDGES)));
  const illumination = lit('full');
  // Looked for only where something can clip.
  const vignetted = model.surfaces.some(({ open }) => open !== null) ? lit('clipped') : illumination;
  return success({
    share,
    largest,
    unit,
    foci,
    distortion: fields.map((field, k) => {
      const near = { ...field, id: 'beside_axis', x: NEAR_AXIS * far.x, y: NEAR_AXIS * far.y };
      return 100 * valueOf(distortion(lens, share[k] > 0 ? field : near, about));
    }),
    illumination,
    vignetted,
    aim: model.lens.pupil.aim,
  });
}
