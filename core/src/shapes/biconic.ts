import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { rootQuotient, rootQuotientChange, sagSurface } from './sag-surface.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';
import { RADIUS_X } from './toroid.ts';

export interface BiconicRecord {
  readonly kind: 'biconic';
  readonly radius: Extent;
  readonly conic?: number;
  readonly radius_x: Extent;
  readonly conic_x?: number;
}

const CONIC_X: ParameterSpec = {
  ...CONIC,
  id: 'conic_x',
  title: 'Conic in x',
  meaning: 'Conic constant of the x–z section.',
};

export const biconic = defineShape<BiconicRecord>({
  kind: 'biconic',
  title: 'Biconic',
  meaning: 'Conics of their own in x and y: z = (cx x² + cy y²)/(1 + √(1 − (1+kx) cx² x² − (1+ky) cy² y²)).',
  parameters: [RADIUS, CONIC, RADIUS_X, CONIC_X],
  compile: (record) =>
    compileBiconic(curvatureOf(record.radius), record.conic ?? 0, curvatureOf(record.radius_x), record.conic_x ?? 0),
});

/** A biconic from curvatures (1/mm) and conic constants in y and x. */
export function compileBiconic(cy: number, ky: number, cx: number, kx: number): CompiledShape {
  const [px, py] = [(1 + kx) * cx * cx, (1 + ky) * cy * cy];
  const [n, d, dn, dd] = [new Float64Array(6), new Float64Array(6), new Float64Array(3), new Float64Array(3)];
  const prepare = (x: number, y: number) => {
    n.set([cx * x * x + cy * y * y, 2 * cx * x, 2 * cy * y, 2 * cx, 0, 2 * cy]);
    d.set([1 - px * x * x - py * y * y, -2 * px * x, -2 * py * y, -2 * px, 0, -2 * py]);
  };
  const change = (fill: (x: number, y: number) => void) => (x: number, y: number, out: Float64Array) => {
    prepare(x, y);
    fill(x, y);
    rootQuotientChange(n, d, dn, dd, out);
  };
  const ends = (p: number) => (p > 0 ? 1 / Math.sqrt(p) : Infinity);
  return sagSurface({
    curvature: cy,
    reach: Math.min(ends(px), ends(py)),
    derivatives: {
      jet(x, y, out) {
        prepare(x, y);
        rootQuotient(n, d, out);
      },
      by: {
        radius: change((_x, y) => {
          dn.set([y * y, 0, 2 * y]);
          dd.set([-2 * (1 + ky) * cy * y * y, 0, -4 * (1 + ky) * cy * y]);
        }),
        conic: change((_x, y) => {
          dn.fill(0);
          dd.set([-cy * cy * y * y, 0, -2 * cy * cy * y]);
        }),
        radius_x: change((x) => {
          dn.set([x * x, 2 * x, 0]);
          dd.set([-2 * (1 + kx) * cx * x * x, -4 * (1 + kx) * cx * x, 0]);
        }),
        conic_x: change((x) => {
          dn.fill(0);
          dd.set([-cx * cx * x * x, -2 * cx * cx * x, 0]);
        }),
      },
    },
  });
}
