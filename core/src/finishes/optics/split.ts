import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { defineOptics, fixed, REFLECTANCE, share } from './optics.ts';

/** Fixed shares; the rest is absorbed. */
export interface SplitOptics {
  readonly kind: 'split';
  readonly reflectance: Spectral;
  readonly transmittance: Spectral;
}

/** What a splitter sends on of the light of a wavelength that meets it: more than 1 cannot be, and counts as 1 with both shares in proportion. */
export function splitSum(optics: SplitOptics, nm: number): number {
  const sum = spectralAt(optics.reflectance, nm) + spectralAt(optics.transmittance, nm);
  return sum > 1 + 1e-12 ? sum : Math.min(1, sum);
}

export const split = defineOptics<SplitOptics>({
  kind: 'split',
  title: 'Beam splitter',
  meaning: 'Fixed shares reflected and transmitted; the rest is absorbed.',
  first: { kind: 'split', reflectance: 0.5, transmittance: 0.5 },
  parameters: [REFLECTANCE, share('transmittance', 'Transmittance', 'Share of the flux that is let through.')],
  compile(optics, nm) {
    const sum = Math.max(1, splitSum(optics, nm));
    return fixed(spectralAt(optics.reflectance, nm) / sum, spectralAt(optics.transmittance, nm) / sum);
  },
});
