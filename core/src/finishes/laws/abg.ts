import { abgBsdf } from '../../physics/scatter-laws.ts';
import { defineScatter, pure } from './law.ts';
import { lobeLaw } from './lobe.ts';

/** BSDF A/(B + |β − β₀|ᵍ). */
export interface AbgScatter {
  readonly kind: 'abg';
  readonly a: number;
  readonly b: number;
  readonly g: number;
}

export const abg = defineScatter<AbgScatter>({
  kind: 'abg',
  title: 'ABg',
  meaning: 'BSDF A/(B + |β − β₀|ᵍ), of polished faces.',
  first: { kind: 'abg', a: 0.001, b: 0.001, g: 2 },
  parameters: [
    pure('a', 'A', 'BSDF = A/(B + |β − β₀|ᵍ), per steradian.', { min: 0 }),
    pure('b', 'B', 'BSDF = A/(B + |β − β₀|ᵍ): the knee lies at B^(1/g).', { above: 0 }),
    pure('g', 'g', 'BSDF = A/(B + |β − β₀|ᵍ): slope of the tail.', { min: 0 }),
  ],
  compile: ({ a, b, g }) =>
    lobeLaw((rho) => abgBsdf(a, b, g, rho), b > 0 ? b ** (1 / Math.max(g, 0.1)) : 1e-4, {
      kind: 'abg',
      numbers: [a, b, g],
    }),
});
