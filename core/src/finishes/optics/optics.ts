import type { Kind } from '../../math/kinds.ts';
import type { ParameterSpec } from '../../math/parameter.ts';
import type { FaceShares } from '../fresnel.ts';
import { fixedFace } from '../../physics/fresnel.ts';
import { takeShares } from '../fresnel.ts';

/** What a face does with the flux of light at one wavelength, its spread apart. */
export interface CompiledOptics {
  /** Whether nothing is ever let through: what is behind the face does not matter. */
  readonly opaque: boolean;
  /** Shares at an incidence from a medium of index n1 to one of index n2, `outward` when light comes from the inside of the body. */
  shares(n1: number, n2: number, cosine: number, outward: boolean, out: FaceShares): void;
  /** What the compiled tracer needs to work `shares` out by itself; left out by what only its own TypeScript can. */
  readonly plain?: PlainShares;
  /** Whether what is reflected is spread evenly, whatever the finish says. */
  readonly even?: boolean;
}

/** Shares that the compiled tracer (`kernels/scene`) knows. */
export type PlainShares =
  | { readonly kind: 'fixed'; readonly reflectance: number; readonly transmittance: number }
  | { readonly kind: 'bare' }
  | { readonly kind: 'metal'; readonly index: number; readonly extinction: number }
  /** Smooth over angles: tabulated for the media before and behind; see `share-table.ts`. `key` is the same for the same films. */
  | { readonly kind: 'films'; readonly key: string }
  /** Straight between entries over degrees. */
  | {
      readonly kind: 'angles';
      readonly degrees: readonly number[];
      readonly reflectance: readonly number[];
      readonly transmittance: readonly number[];
    };

/** Everything the rest of Ulvex knows about one kind of face optics. */
export interface OpticsDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is chosen first. */
  readonly first: R;
  /** @param media - what films can be made of */
  compile(record: R, nm: number, media: FilmMedia): CompiledOptics;
}

/** Index n + ik of a material at a wavelength in nm, by its id; null if there is no such material, or none of its indices. */
export type FilmMedia = (material: string, nm: number) => { readonly n: number; readonly k: number } | null;

/** Where there are no materials. */
export const NO_MEDIA: FilmMedia = () => null;

/** Types a definition by its record without naming the type twice. */
export function defineOptics<R extends { readonly kind: string }>(
  definition: OpticsDefinition<R>,
): OpticsDefinition<R> {
  return definition;
}

/** A number from 0 to 1, at all wavelengths or over them. */
export const share = (id: string, title: string, meaning: string): ParameterSpec => ({
  id,
  title,
  meaning,
  unit: '',
  kind: 'number',
  min: 0,
  most: 1,
  transform: 'value',
  spectral: true,
});

export const REFLECTANCE = share('reflectance', 'Reflectance', 'Share of the flux that is reflected.');

/** Fixed shares; the rest is absorbed. */
export function fixed(reflectance: number, transmittance: number): CompiledOptics {
  return {
    opaque: transmittance === 0,
    shares(n1, n2, cosine, _outward, out) {
      fixedFace(reflectance, transmittance, n1, n2, cosine);
      takeShares(out);
    },
    plain: { kind: 'fixed', reflectance, transmittance },
  };
}
