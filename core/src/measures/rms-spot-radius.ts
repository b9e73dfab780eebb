import { failure, success, type Outcome } from '../math/outcome.ts';
import {
  fieldSpot,
  rmsOverFields,
  rmsRadius,
  weightedSpots,
  type FieldSpot,
  type SpotReference,
} from '../imaging/spot.ts';
import { defineMeasure } from './measure.ts';
import { choiceLabel, RAY_SETTINGS, rayChoice } from './ray-settings.ts';

export const rmsSpotRadius = defineMeasure({
  id: 'rms_spot_radius',
  title: 'RMS spot radius',
  unit: 'µm',
  meaning:
    '√(Σ w |r − r₀|²) over pupil and weighted wavelengths, r₀ the centroid of all colours or the chief ray of the primary one. `all`: √(Σ w_f rms_f²/Σ w_f) over the weighted fields; `worst`: the largest of them.',
  settings: {
    field: { kind: 'field', title: 'Field', also: ['all', 'worst'], fallback: 'all' },
    reference: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid' },
    ...RAY_SETTINGS,
  },
  evaluate(lens, settings) {
    const choice = rayChoice(settings);
    const reference: SpotReference = settings.reference === 'chief' ? 'chief' : 'centroid';
    const rms = ((): Outcome<number> => {
      if (settings.field === 'all' || settings.field === 'worst') {
        const spots = weightedSpots(lens, choice);
        if (!spots.ok) return spots;
        return settings.field === 'all'
          ? rmsOverFields(spots.value, reference)
          : worst(spots.value, reference);
      }
      const field = lens.field(settings.field);
      if (!field.ok) return field;
      const spot = fieldSpot(lens, field.value, choice);
      return spot.ok ? rmsRadius(spot.value, reference) : spot;
    })();
    return rms.ok ? success({ value: rms.value * 1000, how: choiceLabel(lens, choice) }) : rms;
  },
});

function worst(spots: readonly FieldSpot[], reference: SpotReference): Outcome<number> {
  let largest = -Infinity;
  for (const spot of spots) {
    const rms = rmsRadius(spot, reference);
    if (!rms.ok) return rms;
    largest = Math.max(largest, rms.value);
  }
  return largest >= 0 ? success(largest) : failure('No field point has a weight.');
}
