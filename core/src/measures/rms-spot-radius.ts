import { RAY_STATUS, statusReason } from '../compute/ray-block.ts';
import type { LensEvaluation, RayChoice } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldSpot, rmsOverFields, rmsRadius, weightedSpots, type FieldSpot } from '../imaging/point/spot.ts';
import type { SpotReference } from '../imaging/point/spot.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { defineMeasure, type Measured, type SettingValues } from './measure.ts';
import { choiceLabel, RAY_SETTINGS, rayChoice } from './ray-settings.ts';

const SETTINGS = {
  field: { kind: 'field', title: 'Field', also: ['all', 'worst'], fallback: 'all' },
  reference: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid' },
  ...RAY_SETTINGS,
} as const;

export const rmsSpotRadius = defineMeasure({
  id: 'rms_spot_radius',
  title: 'RMS spot radius',
  unit: 'µm',
  meaning:
    '√(Σ w |r − r₀|²) over pupil and weighted wavelengths, r₀ the centroid of all colours or the chief ' +
    'ray of the primary one. `all`: √(Σ w_f rms_f²/Σ w_f) over the weighted fields; `worst`: the largest ' +
    'of them.',
  settings: SETTINGS,
  evaluate: (lens, settings) =>
    isAfocal(lens.model.lens)
      ? failure('The image lies at infinity: ask for the RMS spot angle.')
      : rmsSpot(lens, settings),
});

export const rmsSpotAngle = defineMeasure({
  id: 'rms_spot_angle',
  title: 'RMS spot angle',
  unit: 'mrad',
  meaning:
    'The RMS spot radius of an image at infinity, in the angles θx = atan(L/N), θy = atan(M/N) of the rays after the lens.',
  settings: SETTINGS,
  evaluate: (lens, settings) =>
    isAfocal(lens.model.lens)
      ? rmsSpot(lens, settings)
      : failure('The image lies near: ask for the RMS spot radius, or make the image space afocal in the Brief.'),
});

function rmsSpot(lens: LensEvaluation, settings: SettingValues<typeof SETTINGS>): Outcome<Measured> {
  const choice = rayChoice(settings);
  const reference: SpotReference = settings.reference === 'chief' ? 'chief' : 'centroid';
  const spots = spotsOf(lens, settings.field, choice);
  if (!spots.ok) return spots;
  const combine = settings.field === 'worst' ? worst : rmsOverFields;
  const rms = combine(spots.value, reference);
  if (!rms.ok) return rms;
  const caution = lossCaution(spots.value);
  return success({ value: rms.value * 1000, how: choiceLabel(lens, choice), ...(caution && { caution }) });
}

/** The spots that a field setting means; a single field counts whatever its weight. */
function spotsOf(lens: LensEvaluation, field: string, choice: RayChoice): Outcome<readonly FieldSpot[]> {
  if (field === 'all' || field === 'worst') return weightedSpots(lens, choice);
  const point = lens.field(field);
  if (!point.ok) return point;
  const spot = fieldSpot(lens, { ...point.value, weight: 1 }, choice);
  return spot.ok ? success([spot.value]) : spot;
}

/** What to say of rays that no set aperture stopped and that yet did not arrive; null when there are none. */
function lossCaution(spots: readonly FieldSpot[]): string | null {
  const launched = spots.reduce((sum, spot) => sum + spot.launched, 0);
  const lost = spots
    .flatMap((spot) => spot.losses)
    .filter((loss) => loss.reason !== statusReason(RAY_STATUS.clipped))
    .reduce((sum, loss) => sum + loss.count, 0);
  return lost === 0 ? null : `Only of the rays that arrive: ${lost} of ${launched} fail on their way.`;
}

function worst(spots: readonly FieldSpot[], reference: SpotReference): Outcome<number> {
  let largest = 0;
  for (const spot of spots) {
    const rms = rmsRadius(spot, reference);
    if (!rms.ok) return rms;
    largest = Math.max(largest, rms.value);
  }
  return success(largest);
}
