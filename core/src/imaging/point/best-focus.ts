import { minimumNear } from '../../math/minimum.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { imageCone, innermostField } from '../wavefront/image-cone.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import { fieldFocus } from './through-focus.ts';
import { bestFocusShift, REFOCUS_CHOICE } from './refocus.ts';
import { weightedSpots } from './spot.ts';

/** By what an image surface stands best. */
export const FOCUS_CRITERIA = ['RMS spot', 'MTF'] as const;
export type FocusBy = (typeof FOCUS_CRITERIA)[number];

/** Depths of focus by which a search for the best MTF begins. */
const FIRST_STEP = 0.2;

/**
 * How far along the axis the image surface would have to move for the smallest RMS spot or the highest mean modulation at a frequency (tangential and
 * sagittal, primary wavelength) over the weighted fields, mm; 0 where it stands best. By spots it is exact for a flat
 * image; by MTF the search starts from there, and from the depth of focus 1/(ν·2NA). Fails if rays are missing or the
 * image lies at infinity.
 */
export function bestFocus(lens: LensEvaluation, by: FocusBy, frequency: number): Outcome<number> {
  if (isAfocal(lens.model.lens)) return failure('The image of an afocal lens lies at infinity: it has no best place.');
  const spots = weightedSpots(lens, REFOCUS_CHOICE);
  if (!spots.ok) return spots;
  const spot = bestFocusShift(lens, spots.value, 'centroid');
  if (!spot.ok || by === 'RMS spot') return spot;
  // Far from the focus a wavefront has too many waves to tell of contrast: looked at where the spots are smallest.
  const near = lens.imageMoved(spot.value);
  const cone = imageCone(near, innermostField(near));
  if (!cone.ok) return cone;
  const fields = near.model.lens.fields.points.filter(({ weight }) => weight > 0);
  const found: ((shift: number) => number)[] = [];
  for (const field of fields) {
    const one = fieldFocus(near, field, frequency);
    if (!one.ok) return one;
    found.push(one.value);
  }
  const lost = (shift: number) => found.reduce((sum, one, k) => sum - fields[k].weight * one(shift), 0);
  const depth = 1 / (frequency * 2 * Math.max(...cone.value.half));
  const best = minimumNear(lost, 0, FIRST_STEP * depth, 1e-4);
  return best ? success(spot.value + best.x) : failure(`The MTF at ${frequency}/mm has no best place nearby.`);
}
