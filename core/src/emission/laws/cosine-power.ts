import { byCosine, defineLaw } from './law.ts';

/** Intensity by a power of the cosine. */
export interface CosinePower {
  readonly kind: 'cosine_power';
  readonly power: number;
}

export const cosinePower = defineLaw<CosinePower>({
  kind: 'cosine_power',
  title: 'Cosine power',
  meaning: 'Intensity ∝ cosᵐ of the angle to the normal: 1 is Lambertian, higher is narrower.',
  parameters: [
    {
      id: 'power',
      title: 'Power m',
      meaning: 'Intensity ∝ cosᵐ of the angle to the normal.',
      unit: '',
      kind: 'number',
      transform: 'value',
      min: 0,
      most: 1e6,
    },
  ],
  first: { kind: 'cosine_power', power: 4 },
  compile: ({ power }) =>
    byCosine(
      (u) => u ** (1 / (power + 1)),
      (cosine) => (cosine > 0 ? ((power + 1) / (2 * Math.PI)) * cosine ** power : 0),
    ),
});
