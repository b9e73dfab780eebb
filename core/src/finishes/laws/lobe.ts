import { drawBeside, lift, toL, toM, toN } from '../../physics/directions.ts';
import { distanceOf, lobeDensity } from '../../physics/scatter-laws.ts';
import { RadialLobe } from '../radial-lobe.ts';
import { TRIES, type CompiledScatter, type PlainScatter } from './law.ts';

/**
 * A law made of a BSDF that depends on the distance ρ = |β − β₀| of the direction cosines alone.
 *
 * @param bsdf - per steradian over ρ
 * @param scale - the ρ about which it changes most
 * @param known - how the compiled tracer knows the same BSDF, if it does
 */
export function lobeLaw(
  bsdf: (rho: number) => number,
  scale: number,
  known?: Extract<PlainScatter, { kind: 'lobe' }>['bsdf'],
): CompiledScatter {
  const lobe = new RadialLobe(bsdf, scale);
  return {
    plain: { kind: 'lobe', totals: lobe.totals, radii: lobe.radii, ...(known && { bsdf: known }) },
    share: (sine) => Math.min(1, lobe.total(sine)),
    draw(sx, sy, random, out) {
      let above = false;
      for (let attempt = 0; !above && attempt < TRIES; attempt++) {
        const radius = lobe.radius(random.uniform());
        above = drawBeside(sx, sy, radius, random.uniform());
      }
      if (!above) lift(sx, sy);
      out[0] = toL;
      out[1] = toM;
      out[2] = toN;
    },
    density: (sx, sy, ox, oy) => lobeDensity(bsdf(distanceOf(sx, sy, ox, oy)), ox, oy, lobe.total(Math.hypot(sx, sy))),
  };
}
