import type { Kind } from '../../math/kinds.ts';

/** A law of directions about the normal of the place where light starts, made ready. */
export interface CompiledLaw {
  /** Writes sine and cosine of the angle to the normal into `out`, drawn by a number between 0 and 1. */
  angle(u: number, out: Float64Array): void;
  /** Share of the light per steradian at a cosine to the normal. */
  density(cosine: number): number;
  /** What the compiled tracer (`kernels/scene`) needs to draw it by itself: sin θ = value √u, or cos θ = 1 − value u. */
  readonly plain?: readonly [kind: 'sine' | 'depth', value: number];
  /** Whether its directions fill no solid angle, so that there are none to choose from. */
  readonly parallel?: boolean;
}

/** Everything the rest of Ulvex knows about one law of directions. */
export interface LawDefinition<R extends { readonly kind: string }> extends Kind<R> {
  /** As it is chosen first. */
  readonly first: R;
  compile(record: R): CompiledLaw;
}

/** Types a definition by its record without naming the type twice. */
export function defineLaw<R extends { readonly kind: string }>(definition: LawDefinition<R>): LawDefinition<R> {
  return definition;
}

/** A law whose cosine is drawn; the sine follows. */
export function byCosine(
  cosine: (u: number) => number,
  density: CompiledLaw['density'],
  more: Pick<CompiledLaw, 'plain' | 'parallel'> = {},
): CompiledLaw {
  return {
    angle(u, out) {
      out[1] = cosine(u);
      out[0] = Math.sqrt(Math.max(0, 1 - out[1] * out[1]));
    },
    density,
    ...more,
  };
}
