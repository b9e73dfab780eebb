import type { Kind } from '../math/kinds.ts';
import type { ParameterSpec } from '../math/parameter.ts';

/**
 * A phase that a surface adds to light, made ready for tracing: m·φ(x, y) in cycles, on top of refraction or reflection. The optical
 * path grows by λmφ, and the tangential part of n·d by λm∇φ (the grating equation in vectors).
 */
export interface CompiledPhase {
  /** m·∂²φ/∂y² at the vertex, cycles/mm²: −λ times it is the power the phase adds. */
  readonly bend: number;
  /** Whether it is its own mirror image in x = 0. */
  readonly mirrorX: boolean;
  /** mφ, m∂φ/∂x, m∂φ/∂y, m∂²φ/∂x², m∂²φ/∂x∂y, m∂²φ/∂y², written into `out`. */
  jet(x: number, y: number, out: Float64Array): void;
  /** The first three of them differentiated by each parameter but the order, which is a whole number. */
  readonly by: Readonly<Record<string, (x: number, y: number, out: Float64Array) => void>>;
}

/** Everything the rest of Ulvex knows about one kind of phase. */
export interface PhaseDefinition<R extends { readonly kind: string }> extends Kind<R> {
  compile(record: R): CompiledPhase;
}

/** Types a definition by its record without naming the type twice. */
export function definePhase<R extends { readonly kind: string }>(definition: PhaseDefinition<R>): PhaseDefinition<R> {
  return definition;
}

export const ORDER: ParameterSpec = {
  id: 'order',
  title: 'Order',
  meaning: 'Diffraction order m; all light is taken to go into it. 0 leaves the surface as it is.',
  unit: '',
  kind: 'number',
  fallback: 1,
  whole: true,
  transform: 'value',
};
