import type { Kind } from '../../math/kinds.ts';
import type { ParameterSpec } from '../../math/parameter.ts';
import type { UniformSource } from '../../math/random.ts';

/** A scatter law made ready. Directions in the frame of the face: z along the normal on the side that light goes to. */
export interface CompiledScatter {
  /** What the compiled tracer needs to work the law out by itself; left out by what only its own TypeScript can. */
  readonly plain?: PlainScatter;
  /** Share of the light sent on that is scattered, by the sine of incidence; the rest goes on as if the face were smooth. */
  share(sine: number): number;
  /**
   * Draws the direction of scattered light into `out` (unit, z > 0).
   *
   * @param sx - specular direction, x and y cosines
   */
  draw(sx: number, sy: number, random: UniformSource, out: Float64Array): void;
  /** Probability of a direction per steradian, given that light is scattered; for aiming and for tests. */
  density(sx: number, sy: number, ox: number, oy: number): number;
}

/** A law as the compiled tracer (`kernels/scene`) knows it. */
export type PlainScatter =
  | { readonly kind: 'even'; readonly share: number }
  /** `kept` makes the shares of draws above the face, by `grazingPlace`. */
  | {
      readonly kind: 'gaussian' | 'cone';
      readonly share: number;
      readonly width: number;
      readonly kept: () => Float64Array;
    }
  /** A lobe over the distance of direction cosines, and its BSDF where the tracer has that, too. */
  | {
      readonly kind: 'lobe';
      readonly totals: Float64Array;
      readonly radii: Float64Array;
      readonly bsdf?: { readonly kind: 'abg' | 'shoulder'; readonly numbers: readonly [number, number, number] };
    };

/** Everything the rest of Ulvex knows about one law of scatter. */
export interface ScatterDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is chosen first. */
  readonly first: R;
  /** @param nm - the wavelength that it is made ready for */
  compile(record: R, nm: number): CompiledScatter;
}

/** Types a definition by its record without naming the type twice. */
export function defineScatter<R extends { readonly kind: string }>(
  definition: ScatterDefinition<R>,
): ScatterDefinition<R> {
  return definition;
}

/** A pure number of a law. */
export const pure = (id: string, title: string, meaning: string, more: Partial<ParameterSpec> = {}): ParameterSpec => ({
  id,
  title,
  meaning,
  unit: '',
  kind: 'number',
  transform: 'value',
  ...more,
});

export const SCATTERED: ParameterSpec = pure(
  'share',
  'Scattered share',
  'Share of the light sent on that is spread; the rest stays specular.',
  { min: 0, most: 1, spectral: true },
);

/** How often a direction below the face is drawn anew before the specular one is taken. */
export const TRIES = 64;
