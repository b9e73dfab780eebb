import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { PupilSampling } from '../../sequence/pupil-sampling.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import { drift, focusDirection } from './refocus.ts';
import { fieldSpot, forEachArrival } from './spot.ts';
import { wavefront, wavefrontNumbers } from '../wavefront/wavefront.ts';

/** One number for how good an image is. */
export const QUALITIES = ['spot', 'wavefront', 'strehl'] as const;
export type Quality = (typeof QUALITIES)[number];

export interface QualityChoice {
  readonly quality: Quality;
  readonly sampling: PupilSampling;
  readonly pupil: 'full' | 'clipped';
  /** Index of the one wavelength; all by their weights when left out. */
  readonly wave?: number;
  /** How far the image surface is moved along its axis, mm. */
  readonly shift?: number;
}

/**
 * How good the image of a field is: RMS radius of the spot about its centroid (µm), RMS wavefront about its mean at each colour's own chief
 * ray (waves; of all colours √Σ w rms²), or the Strehl ratio (of all colours Σ w S).
 */
export function imageQuality(lens: LensEvaluation, field: FieldPoint, choice: QualityChoice): Outcome<number> {
  return choice.quality === 'spot' ? spotAt(lens, field, choice) : frontAt(lens, field, choice);
}

function spotAt(
  lens: LensEvaluation,
  field: FieldPoint,
  { sampling, pupil, wave, shift = 0 }: QualityChoice,
): Outcome<number> {
  if (isAfocal(lens.model.lens))
    return failure('The image lies at infinity: its spots are angles, which no shift changes.');
  const spot = fieldSpot(lens, field, { sampling, pupil }, wave);
  if (!spot.ok) return spot;
  const direction = focusDirection(lens.model);
  let [total, x, y, squares] = [0, 0, 0, 0];
  forEachArrival(spot.value.colours, (rays, i, weight) => {
    const [moveX, moveY] = drift(rays, i, direction);
    const [px, py] = [rays.x[i] + shift * moveX, rays.y[i] + shift * moveY];
    total += weight;
    x += weight * px;
    y += weight * py;
    squares += weight * (px * px + py * py);
  });
  return success(1000 * Math.sqrt(Math.max(0, squares / total - (x * x + y * y) / (total * total))));
}

function frontAt(
  lens: LensEvaluation,
  field: FieldPoint,
  { quality, sampling, pupil, wave, shift }: QualityChoice,
): Outcome<number> {
  const { wavelengths } = lens.model;
  const waves = wave === undefined ? [...wavelengths.keys()].filter((w) => wavelengths[w].weight > 0) : [wave];
  let [sum, total] = [0, 0];
  for (const one of waves) {
    const front = wavefront(lens, field, one, { sampling, pupil, ...(shift !== undefined && { shift }) });
    if (!front.ok) return front;
    const { rms, strehl } = wavefrontNumbers(front.value);
    const weight = wave === undefined ? wavelengths[one].weight : 1;
    sum += weight * (quality === 'strehl' ? strehl : rms * rms);
    total += weight;
  }
  return success(quality === 'strehl' ? sum / total : Math.sqrt(sum / total));
}
