import { spectralAt, type Spectral } from '../../light/spectral.ts';
import type { ParameterSpec } from '../../math/parameter.ts';
import { pure } from '../laws/law.ts';
import { filmShares, type Film } from '../thin-film.ts';
import { defineOptics, fixed, type FilmMedia } from './optics.ts';

/** One film of a coating as the document holds it: of a material, or of an index. */
export interface Layer {
  readonly id: string;
  /** Id of a material of the project. */
  readonly material?: string;
  /** Index and extinction coefficient of a film that names no material. */
  readonly index?: Spectral;
  readonly extinction?: Spectral;
  /** nm. */
  readonly thickness: number;
}

/** Thin films, the outermost first. */
export interface CoatingOptics {
  readonly kind: 'coating';
  readonly layers: readonly Layer[];
}

const THICKNESS = pure('thickness', 'Thickness', 'Geometric thickness of the film.', { unit: 'nm', above: 0 });
const INDEX = pure('index', 'Index n', 'Real part of the index of the film, n + ik.', { above: 0, spectral: true });
const EXTINCTION = pure('extinction', 'Extinction k', 'Imaginary part of the index of the film, n + ik.', {
  min: 0,
  fallback: 0,
  spectral: true,
});

/** The numbers of a film: an index of its own only if it names no material. */
export function layerSpecs({ material }: Pick<Layer, 'material'>): readonly ParameterSpec[] {
  return material === undefined ? [INDEX, EXTINCTION, THICKNESS] : [THICKNESS];
}

/** A film at a wavelength; null if its material is not there, or has no index at it. */
export function filmOf({ material, index = NaN, extinction = 0, thickness }: Layer, nm: number, media: FilmMedia) {
  const own = { n: spectralAt(index, nm), k: spectralAt(extinction, nm) };
  const found = material === undefined ? own : media(material, nm);
  return found && found.n > 0 ? ({ ...found, nm: thickness } satisfies Film) : null;
}

/**
 * Behind films, at angles that the medium behind does not know, all is reflected but what the films absorb. A coating with a film that has no
 * index at the wavelength absorbs all light of it.
 */
export const coating = defineOptics<CoatingOptics>({
  kind: 'coating',
  title: 'Coating',
  meaning: 'Thin films, the outermost first.',
  first: { kind: 'coating', layers: [{ id: 'f1', index: 1.38, thickness: 99.64 }] },
  parameters: [],
  compile({ layers }, nm, media) {
    const films: Film[] = [];
    for (const layer of layers) {
      const film = filmOf(layer, nm, media);
      if (!film) return fixed(0, 0);
      films.push(film);
    }
    const inside = [...films].reverse();
    return {
      opaque: false,
      shares: (n1, n2, cosine, outward, out) =>
        filmShares(nm, n1, Math.max(cosine, 1e-9), outward ? inside : films, { n: n2, k: 0 }, out),
      plain: { kind: 'films', key: films.map(({ n, k, nm: thick }) => `${n} ${k} ${thick}`).join(' ') },
    };
  },
});
