import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';

/** Index of a wavelength by its id; `primary` for the primary one. */
export function waveOf({ model }: LensEvaluation, id: string): Outcome<number> {
  if (id === 'primary' || id === '') return success(model.primary);
  const wave = model.wavelengths.findIndex((one) => one.id === id);
  return wave >= 0
    ? success(wave)
    : failure(`There is no wavelength “${id}”; there are ${model.wavelengths.map((one) => one.id).join(', ')}.`);
}
