import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { drawBeside, gaussianRadius, lift, toL, toM, toN } from '../../physics/directions.ts';
import { gaussianDensity } from '../../physics/scatter-laws.ts';
import { arcBelow, KeptShare } from './kept.ts';
import { defineScatter, pure, SCATTERED, TRIES } from './law.ts';

/** Direction cosines spread about the specular ones as exp(−|β − β₀|²/2σ²), σ = sin(angle); the angle in degrees. */
export interface GaussianScatter {
  readonly kind: 'gaussian';
  readonly share: Spectral;
  readonly angle: number;
}

export const gaussian = defineScatter<GaussianScatter>({
  kind: 'gaussian',
  title: 'Gaussian',
  meaning: 'Direction cosines spread about the specular ones as exp(−|β − β₀|²/2σ²).',
  first: { kind: 'gaussian', share: 1, angle: 8 },
  parameters: [
    SCATTERED,
    {
      ...pure('angle', 'Spread σ', 'One standard deviation of the direction cosines is sin σ.', {
        above: 0,
        below: 90,
      }),
      unit: '°',
      kind: 'angle',
    },
  ],
  compile({ share: shares, angle }, nm) {
    const share = spectralAt(shares, nm);
    const sigma = Math.sin((angle * Math.PI) / 180);
    // Of a circle of radius r about a place s from the middle, the part in the unit disc.
    const kept = new KeptShare(1 - Math.exp(-1 / (2 * sigma * sigma)), (u, sine) => {
      const radius = gaussianRadius(sigma, u);
      return arcBelow((radius * radius + sine * sine - 1) / (2 * radius * sine));
    });
    return {
      plain: { kind: 'gaussian', share, width: sigma, kept: () => kept.table },
      share: () => share,
      draw(sx, sy, random, out) {
        let above = false;
        for (let attempt = 0; !above && attempt < TRIES; attempt++) {
          const radius = gaussianRadius(sigma, random.uniform());
          above = drawBeside(sx, sy, radius, random.uniform());
        }
        if (!above) lift(sx, sy);
        out[0] = toL;
        out[1] = toM;
        out[2] = toN;
      },
      density: (sx, sy, ox, oy) => gaussianDensity(sigma, sx, sy, ox, oy, kept.at(Math.hypot(sx, sy))),
    };
  },
});
