import { defineOptics, fixed, REFLECTANCE, share } from './optics.ts';

/** Fixed shares; the rest is absorbed. */
export interface SplitOptics {
  readonly kind: 'split';
  readonly reflectance: number;
  readonly transmittance: number;
}

/** What a splitter sends on of the light that meets it: more than 1 cannot be, and counts as 1 with both shares in proportion. */
export function splitSum(optics: SplitOptics): number {
  const sum = optics.reflectance + optics.transmittance;
  return sum > 1 + 1e-12 ? sum : Math.min(1, sum);
}

export const split = defineOptics<SplitOptics>({
  kind: 'split',
  title: 'Beam splitter',
  meaning: 'Fixed shares reflected and transmitted; the rest is absorbed.',
  parameters: [REFLECTANCE, share('transmittance', 'Transmittance', 'Share of the flux that is let through.')],
  compile(optics) {
    const sum = Math.max(1, splitSum(optics));
    return fixed(optics.reflectance / sum, optics.transmittance / sum);
  },
});
