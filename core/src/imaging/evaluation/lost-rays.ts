import { RAY_STATUS, statusReason } from '../../compute/ray-block.ts';
import type { LensEvaluation, RayChoice } from './lens-evaluation.ts';
import { surfaceTitle } from '../../project/lens-edits.ts';

/** Rays of the weighted fields that end by themselves: not those that set apertures are meant to stop. */
export interface LostRays {
  /** Share of the rays that were launched, 0 to 1. */
  readonly share: number;
  /** Where and why most of them end, in words. */
  readonly mostly: string;
}

/** A tenth of the rays lost: what is measured of the others no longer tells of the lens. */
export const MANY_LOST = 0.1;

/** What is lost of all weighted fields and colours. */
export function lostRays(lens: LensEvaluation, choice: RayChoice): LostRays {
  const { model } = lens;
  let [launched, lost] = [0, 0];
  const ends = new Map<string, number>();
  for (const field of model.lens.fields.points) {
    if (field.weight === 0) continue;
    for (const [wave, { weight }] of model.wavelengths.entries()) {
      if (weight === 0) continue;
      const bundle = lens.bundle(field, wave, choice);
      if (!bundle.ok) continue;
      const { status, at, capacity } = bundle.value.rays;
      launched += capacity;
      for (let i = 0; i < capacity; i++) {
        if (status[i] === RAY_STATUS.alive || status[i] === RAY_STATUS.clipped) continue;
        lost++;
        const key = `at ${surfaceTitle(model.lens, at[i])} the ray ${statusReason(status[i])}`;
        ends.set(key, (ends.get(key) ?? 0) + 1);
      }
    }
  }
  const [mostly] = [...ends.entries()].sort((a, b) => b[1] - a[1]).map(([words]) => words);
  return { share: launched > 0 ? lost / launched : 0, mostly: mostly ?? '' };
}

/** Why nothing is judged by the rays that are left; null if few are missing. */
export function tooFewRays(lens: LensEvaluation, choice: RayChoice): string | null {
  const { share, mostly } = lostRays(lens, choice);
  return share > MANY_LOST
    ? `${Math.round(100 * share)} % of the rays do not reach the image (${mostly}): mend that first, the others would tell of another lens.`
    : null;
}
