import { spectralAt, type Spectral } from '../../light/spectral.ts';
import { drawEven, toL, toM, toN } from '../../physics/directions.ts';
import { evenDensity } from '../../physics/scatter-laws.ts';
import { defineScatter, SCATTERED } from './law.ts';

/** Equal radiance into the hemisphere, whatever the incidence. */
export interface LambertianScatter {
  readonly kind: 'lambertian';
  readonly share: Spectral;
}

export const lambertian = defineScatter<LambertianScatter>({
  kind: 'lambertian',
  title: 'Lambertian',
  meaning: 'Equal radiance into the hemisphere, whatever the incidence.',
  first: { kind: 'lambertian', share: 1 },
  parameters: [SCATTERED],
  compile({ share: shares }, nm) {
    const share = spectralAt(shares, nm);
    return {
      plain: { kind: 'even', share },
      share: () => share,
      draw(_sx, _sy, random, out) {
        const u = random.uniform();
        drawEven(u, random.uniform());
        out[0] = toL;
        out[1] = toM;
        out[2] = toN;
      },
      density: (_sx, _sy, ox, oy) => evenDensity(ox, oy),
    };
  },
});
