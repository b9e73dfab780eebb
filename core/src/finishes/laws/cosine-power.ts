import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { drawCone, lift, toL, toM, toN } from '../../physics/directions.ts';
import { coneDensity } from '../../physics/scatter-laws.ts';
import { arcBelow, KeptShare } from './kept.ts';
import { defineScatter, pure, SCATTERED, TRIES } from './law.ts';

/** Intensity ∝ cosᵐ of the angle to the specular direction. */
export interface CosinePowerScatter {
  readonly kind: 'cosine_power';
  readonly share: Spectral;
  readonly power: number;
}

export const cosinePower = defineScatter<CosinePowerScatter>({
  kind: 'cosine_power',
  title: 'Power of the cosine',
  meaning: 'Intensity ∝ cosᵐ of the angle to the specular direction.',
  first: { kind: 'cosine_power', share: 1, power: 20 },
  parameters: [
    SCATTERED,
    pure('power', 'Power m', 'Intensity ∝ cosᵐ of the angle to the specular direction.', { min: 0 }),
  ],
  compile({ share: shares, power }, nm) {
    const share = spectralAt(shares, nm);
    // Of a cone of an angle γ about the specular direction, the part above the face: −cot γ cot θ bounds its azimuth.
    const kept = new KeptShare(1, (u, sine) => {
      const along = u ** (1 / (power + 1));
      return 1 - arcBelow((along * Math.sqrt(1 - sine * sine)) / (Math.sqrt(1 - along * along) * sine));
    });
    return {
      plain: { kind: 'cone', share, width: power, kept: () => kept.table },
      share: () => share,
      draw(sx, sy, random, out) {
        let above = false;
        for (let attempt = 0; !above && attempt < TRIES; attempt++) {
          const u = random.uniform();
          above = drawCone(power, sx, sy, u, random.uniform());
        }
        if (!above) lift(sx, sy);
        out[0] = toL;
        out[1] = toM;
        out[2] = toN;
      },
      density: (sx, sy, ox, oy) => coneDensity(power, sx, sy, ox, oy, kept.at(Math.hypot(sx, sy))),
    };
  },
});
