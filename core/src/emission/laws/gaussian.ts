import { degrees, radians } from '../../math/length-specs.ts';
import { defineLaw } from './law.ts';

/** Intensity exp(−2θ²/θ₀²) for small angles: the far field of a waist. */
export interface Gaussian {
  readonly kind: 'gaussian';
  readonly half: number;
}

export const gaussian = defineLaw<Gaussian>({
  kind: 'gaussian',
  title: 'Gaussian',
  meaning: 'Intensity exp(−2θ²/θ₀²), the far field of a Gaussian waist.',
  parameters: [degrees('half', 'Angle θ₀', 'Intensity exp(−2θ²/θ₀²).', 30)],
  first: { kind: 'gaussian', half: 1 },
  compile({ half }) {
    const width = Math.sin(radians(half));
    const square = width * width;
    return {
      angle(u, out) {
        out[0] = Math.min(1, width * Math.sqrt(-Math.log(u) / 2));
        out[1] = Math.sqrt(1 - out[0] * out[0]);
      },
      // Of sin²θ, drawn by its own exponential law; dΩ = π d(sin²θ)/cos θ.
      density: (cosine) =>
        cosine > 0 ? (2 / (Math.PI * square)) * Math.exp((-2 * (1 - cosine * cosine)) / square) * cosine : 0,
    };
  },
});
