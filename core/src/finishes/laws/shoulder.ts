import { shoulderBsdf } from '../../physics/scatter-laws.ts';
import { defineScatter, pure } from './law.ts';
import { lobeLaw } from './lobe.ts';

/** BSDF b₀(1 + (|β − β₀|/l)²)^(s/2), after J. E. Harvey. */
export interface ShoulderScatter {
  readonly kind: 'shoulder';
  readonly b0: number;
  readonly l: number;
  readonly s: number;
}

const FORM = 'BSDF = b₀(1 + (|β − β₀|/l)²)^(s/2)';

export const shoulder = defineScatter<ShoulderScatter>({
  kind: 'shoulder',
  title: 'Shoulder and slope',
  meaning: 'BSDF b₀(1 + (|β − β₀|/l)²)^(s/2): flat up to a shoulder, then a straight slope on logarithmic axes.',
  first: { kind: 'shoulder', b0: 0.4, l: 0.05, s: -1.7 },
  parameters: [
    pure('b0', 'b₀', `${FORM}, per steradian: its height.`, { min: 0 }),
    pure('l', 'Shoulder l', `${FORM}: where it starts to fall.`, { above: 0 }),
    pure('s', 'Slope s', `${FORM}: slope of the tail, negative.`),
  ],
  compile: ({ b0, l, s }) =>
    lobeLaw((rho) => shoulderBsdf(b0, l, s, rho), l, { kind: 'shoulder', numbers: [b0, l, s] }),
});
