import { curvatureOf, type Extent } from '../math/parameter.ts';
import { compileEvenAsphere, coefficientSpec } from './even-asphere.ts';
import { compileConic } from './conic.ts';
import { CONIC, RADIUS, defineShape } from './shape.ts';

const ORDERS = [4, 6, 8, 10] as const;

export type FresnelRecord = {
  readonly kind: 'fresnel';
  readonly radius: Extent;
  readonly conic?: number;
} & { readonly [key in `a${(typeof ORDERS)[number]}`]?: number };

/** A flat surface of infinitely fine facets, each as steep as the surface it stands for is at its height. */
export const fresnel = defineShape<FresnelRecord>({
  kind: 'fresnel',
  title: 'Fresnel surface',
  meaning:
    'A plane of very fine facets with the slopes of z = c r²/(1 + √(1 − (1+k) c² r²)) + Σ Aₚ rᵖ: rays ' +
    'turn as there. Steps between facets are not traced; paths are those to the plane.',
  parameters: [RADIUS, CONIC, ...ORDERS.map(coefficientSpec)],
  compile(record) {
    const flat = compileConic(0, 0);
    const facets = compileEvenAsphere(curvatureOf(record.radius), record.conic ?? 0, [
      0,
      ...ORDERS.map((order) => record[`a${order}`] ?? 0),
    ]);
    const jet = new Float64Array(6);
    return {
      curvature: facets.curvature,
      reach: facets.reach,
      derivatives: {
        jet: (x, y, out) => void out.fill(x * x + y * y <= facets.reach * facets.reach ? 0 : NaN),
        by: Object.fromEntries(Object.keys(facets.derivatives.by).map((id) => [id, (_x, _y, out) => void out.fill(0)])),
      },
      facets: facets.derivatives,
      sag: (x, y) => (x * x + y * y <= facets.reach * facets.reach ? 0 : NaN),
      intersect(rays, count) {
        flat.intersect(rays, count);
        const { x, y, l, m, t } = rays;
        const most = facets.reach * facets.reach;
        for (let i = 0; i < count; i++) if (!((x[i] + t[i] * l[i]) ** 2 + (y[i] + t[i] * m[i]) ** 2 < most)) t[i] = NaN;
      },
      normals(rays, count) {
        const { x, y, nx, ny, nz } = rays;
        for (let i = 0; i < count; i++) {
          facets.derivatives.jet(x[i], y[i], jet);
          const scale = 1 / Math.sqrt(1 + jet[1] * jet[1] + jet[2] * jet[2]);
          nx[i] = -jet[1] * scale;
          ny[i] = -jet[2] * scale;
          nz[i] = scale;
        }
      },
    };
  },
});
