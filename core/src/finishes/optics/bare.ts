import { bareShares } from '../fresnel.ts';
import { defineOptics } from './optics.ts';

/** The step in index alone, after Fresnel. */
export interface BareOptics {
  readonly kind: 'bare';
}

export const bare = defineOptics<BareOptics>({
  kind: 'bare',
  title: 'Bare',
  meaning: 'The step in index alone, after Fresnel.',
  first: { kind: 'bare' },
  parameters: [],
  compile: () => ({
    opaque: false,
    shares: (n1, n2, cosine, _outward, out) => bareShares(n1, n2, cosine, out),
    plain: { kind: 'bare' },
  }),
});
