import type { RayBlock } from '../compute/ray-block.ts';
import { defineShape, type CompiledShape } from './shape.ts';

export interface PlaneRecord {
  readonly kind: 'plane';
}

export const plane = defineShape<PlaneRecord>({
  kind: 'plane',
  title: 'Plane',
  meaning: 'A flat: z = 0.',
  parameters: [],
  compile: () => compiledPlane,
});

export const compiledPlane: CompiledShape = {
  curvature: 0,
  form: { c: 0, k: 0, terms: new Float64Array(0) },
  reach: Infinity,
  derivatives: { jet: (_x, _y, out) => void out.fill(0), by: {} },
  sag: () => 0,
  intersect: intersectPlane,
  normals: normalsOfPlane,
};

function intersectPlane(rays: RayBlock, count: number): void {
  const { z, n, t } = rays;
  for (let i = 0; i < count; i++) t[i] = n[i] === 0 ? NaN : -z[i] / n[i];
}

function normalsOfPlane(rays: RayBlock, count: number): void {
  rays.nx.fill(0, 0, count);
  rays.ny.fill(0, 0, count);
  rays.nz.fill(1, 0, count);
}
