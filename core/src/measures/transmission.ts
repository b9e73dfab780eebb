import { transmission, TRANSMISSION_SAMPLING } from '../imaging/transmission/transmission.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { samplingLabel } from '../sequence/pupil-sampling.ts';
import { defineMeasure, type Measured } from './measure.ts';
import { waveOf } from './wave-setting.ts';

export const transmissionMeasure = defineMeasure({
  id: 'transmission',
  title: 'Transmission',
  unit: '%',
  meaning:
    'Share of the light of a field that comes through the lens to the image: less what its surfaces reflect, as their coatings make ' +
    'them, and what its media absorb. Mean over the rays that arrive; of all colours by their weights, or of one.',
  settings: {
    field: { kind: 'field', title: 'Field', also: [], fallback: null },
    wavelength: { kind: 'wavelength', title: 'Wavelength', also: ['all', 'primary'], fallback: 'all' },
  },
  evaluate(lens, settings): Outcome<Measured> {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const one = settings.wavelength === 'all' ? null : waveOf(lens, settings.wavelength);
    if (one && !one.ok) return one;
    const waves = one ? [one.value] : [...lens.model.wavelengths.keys()];
    const clear = new Set<string>();
    let [sum, whole] = [0, 0];
    for (const wave of waves) {
      const weight = one ? 1 : lens.model.wavelengths[wave].weight;
      if (weight === 0) continue;
      const found = transmission(lens, field.value, wave, TRANSMISSION_SAMPLING);
      if (!found.ok) return found;
      found.value.takenClear.forEach((label) => clear.add(label));
      sum += weight * found.value.share;
      whole += weight;
    }
    if (whole === 0) return failure('Every wavelength has weight 0.');
    return success({
      value: (100 * sum) / whole,
      how: `${samplingLabel(TRANSMISSION_SAMPLING)}, unpolarised at every surface`,
      ...(clear.size > 0 && { caution: `No record of absorption, taken as clear: ${[...clear].join(', ')}.` }),
    });
  },
});
