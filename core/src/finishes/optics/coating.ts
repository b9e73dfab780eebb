import { filmShares, type Film } from '../thin-film.ts';
import { defineOptics } from './optics.ts';

/** One film of a coating as the document holds it. */
export interface Layer {
  /** Index and extinction coefficient, the same at every wavelength. */
  readonly index: number;
  readonly extinction?: number;
  /** nm. */
  readonly thickness: number;
}

/** Thin films, the outermost first. */
export interface CoatingOptics {
  readonly kind: 'coating';
  readonly layers: readonly Layer[];
}

/** Behind films, at angles that the medium behind does not know, all is reflected but what the films absorb. */
export const coating = defineOptics<CoatingOptics>({
  kind: 'coating',
  title: 'Coating',
  meaning: 'Thin films, the outermost first.',
  parameters: [],
  compile({ layers }, nm) {
    const films = layers.map(({ index, extinction = 0, thickness }): Film => ({
      n: index,
      k: extinction,
      nm: thickness,
    }));
    const inside = [...films].reverse();
    return {
      opaque: false,
      shares: (n1, n2, cosine, outward, out) =>
        filmShares(nm, n1, Math.max(cosine, 1e-9), outward ? inside : films, { n: n2, k: 0 }, out),
      plain: { kind: 'films' },
    };
  },
});
