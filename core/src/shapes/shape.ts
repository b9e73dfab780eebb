import type { Kind } from '../math/kinds.ts';
import type { KernelForm } from '../compute/kernel.ts';
import type { RayBlock } from '../compute/ray-block.ts';
import type { ParameterSpec } from '../math/parameter.ts';

/**
 * A surface shape made ready for tracing. Vertex at the origin, axis +z.
 * The kernels work on whole blocks, never allocate and never throw; entries of dead rays may be anything.
 */
export interface CompiledShape {
  /** Vertex curvature for the paraxial trace, 1/mm. */
  readonly curvature: number;
  /** Largest distance from the axis at which the surface exists, mm; Infinity for unbounded ones. */
  readonly reach: number;
  /** Set for shapes that the compiled kernel traces; `intersect` and `normals` do the same in TypeScript. */
  readonly form?: KernelForm | undefined;
  readonly derivatives: SagDerivatives;
  /** Set where normals are those of another sag than the one that rays meet: facets on a plane. */
  readonly facets?: SagDerivatives;
  /** Set for an ideal thin lens: its power, 1/mm, and one over its object distance. Rays turn by them, not by Snell's law. */
  readonly ideal?: { readonly power: number; readonly nearness: number };
  /** Whether it is its own mirror image in x = 0; it is when this is left out. */
  readonly mirrorX?: boolean;
  /** Sag in mm at (x, y); NaN where the surface does not exist. */
  sag(x: number, y: number): number;
  /** Writes the distance in mm along each ray to the surface into `rays.t`; NaN where the ray misses. */
  intersect(rays: RayBlock, count: number): void;
  /** Writes the unit normal, pointing to +z at the vertex, at each ray's position on the surface. */
  normals(rays: RayBlock, count: number): void;
}

/** Derivatives of a sag z(x, y), for derivatives of rays. Written into `out`; NaN where the surface does not exist. */
export interface SagDerivatives {
  /** z, ∂z/∂x, ∂z/∂y, ∂²z/∂x², ∂²z/∂x∂y, ∂²z/∂y². */
  jet(x: number, y: number, out: Float64Array): void;
  /**
   * ∂z/∂p, ∂²z/∂x∂p, ∂²z/∂y∂p for each parameter by its id, as solvers see it: by the curvature for a radius, by the number itself
   * otherwise.
   */
  readonly by: Readonly<Record<string, (x: number, y: number, out: Float64Array) => void>>;
}

/** Everything the rest of Ulvex knows about one kind of shape. */
export interface ShapeDefinition<R extends { readonly kind: string }> extends Kind<R> {
  compile(record: R): CompiledShape;
}

/** Types a definition by its record without naming the type twice. */
export function defineShape<R extends { readonly kind: string }>(definition: ShapeDefinition<R>): ShapeDefinition<R> {
  return definition;
}

export const RADIUS: ParameterSpec = {
  id: 'radius',
  title: 'Radius',
  meaning:
    'Radius of curvature at the vertex; positive when the centre of curvature lies toward +z, infinite for a flat.',
  unit: 'mm',
  kind: 'length',
  allowInfinity: true,
  transform: 'reciprocal',
};

export const CONIC: ParameterSpec = {
  id: 'conic',
  title: 'Conic constant',
  meaning:
    'k in z = c r²/(1 + √(1 − (1+k) c² r²)): 0 sphere, −1 paraboloid, below −1 hyperboloid, between −1 and 0 prolate and above 0 oblate ellipsoid.',
  unit: '',
  kind: 'number',
  fallback: 0,
  transform: 'value',
};
