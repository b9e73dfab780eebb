import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { defineScatter, pure } from './law.ts';
import { lobeLaw } from './lobe.ts';

/** BSDF that falls off exponentially, exp(−|β − β₀|/w): what blasted and etched faces do. */
export interface ExponentialScatter {
  readonly kind: 'exponential';
  readonly share: Spectral;
  readonly width: number;
}

export const exponential = defineScatter<ExponentialScatter>({
  kind: 'exponential',
  title: 'Exponential',
  meaning: 'BSDF ∝ exp(−|β − β₀|/w), of blasted and etched faces.',
  first: { kind: 'exponential', share: 0.5, width: 0.1 },
  parameters: [
    pure(
      'share',
      'Scattered share',
      'Share of the light that is spread, at normal incidence; the rest stays specular.',
      {
        min: 0,
        most: 1,
        spectral: true,
      },
    ),
    pure('width', 'Width w', 'Distance of direction cosines over which the BSDF falls by e.', { min: 1e-3, most: 10 }),
  ],
  compile({ share, width }, nm) {
    // ∫ exp(−ρ/w) 2πρ dρ from 0 to 1, in closed form.
    const whole = 2 * Math.PI * width * width * (1 - (1 + 1 / width) * Math.exp(-1 / width));
    return lobeLaw((rho) => (spectralAt(share, nm) / whole) * Math.exp(-rho / width), width);
  },
});
