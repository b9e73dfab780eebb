import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { conicChanges, conicJet } from './conic.ts';
import { rootQuotient, rootQuotientChange, sagSurface } from './sag-surface.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';

export interface ToroidRecord {
  readonly kind: 'toroid';
  /** Of the y–z section. */
  readonly radius: Extent;
  readonly conic?: number;
  /** Of the x–z section: the distance from the vertex to the axis about which the profile turns. */
  readonly radius_x: Extent;
}

export interface CylinderRecord {
  readonly kind: 'cylinder';
  readonly radius: Extent;
  readonly conic?: number;
}

export const RADIUS_X: ParameterSpec = {
  ...RADIUS,
  id: 'radius_x',
  title: 'Radius in x',
  meaning: 'Radius of curvature of the x–z section at the vertex; infinite for none.',
};

export const toroid = defineShape<ToroidRecord>({
  kind: 'toroid',
  title: 'Toroid',
  meaning:
    'A conic profile in y, turned about a line parallel to y at the radius in x: z = R − √((R − f(y))² − x²), R the radius in x.',
  parameters: [RADIUS, CONIC, RADIUS_X],
  compile: (record) => compileToroid(curvatureOf(record.radius), record.conic ?? 0, curvatureOf(record.radius_x)),
});

export const cylinder = defineShape<CylinderRecord>({
  kind: 'cylinder',
  title: 'Cylinder',
  meaning: 'A conic profile in y, drawn out along x. A tilt of 90° about z lays it the other way.',
  parameters: [RADIUS, CONIC],
  compile: (record) => compileToroid(curvatureOf(record.radius), record.conic ?? 0, 0),
});

/**
 * With the profile f(y) and cx = 1/R: N = 2f − cx f² + cx x², D = (1 − cx f)² − cx² x², z = N/(1 + √D), which stays finite as cx → 0.
 *
 * @param c - curvature of the profile, 1/mm
 * @param k - its conic constant
 * @param cx - curvature in x, 1/mm
 */
export function compileToroid(c: number, k: number, cx: number): CompiledShape {
  const profile = conicJet(c, k);
  const changes = conicChanges(c, k);
  const f = new Float64Array(3);
  const g = new Float64Array(2);
  const [n, d, dn, dd] = [new Float64Array(6), new Float64Array(6), new Float64Array(3), new Float64Array(3)];
  /** N and D at a point, and the profile with its derivatives by y in `f`. */
  const prepare = (x: number, y: number) => {
    profile(y * y, f);
    const [s, sy, syy] = [f[0], 2 * y * f[1], 2 * f[1] + 4 * y * y * f[2]];
    const rest = 1 - cx * s;
    n.set([2 * s - cx * s * s + cx * x * x, 2 * cx * x, 2 * rest * sy, 2 * cx, 0, 2 * rest * syy - 2 * cx * sy * sy]);
    d.set([
      rest * rest - cx * cx * x * x,
      -2 * cx * cx * x,
      -2 * cx * rest * sy,
      -2 * cx * cx,
      0,
      2 * cx * cx * sy * sy - 2 * cx * rest * syy,
    ]);
    f.set([s, sy, syy]);
  };
  /** How z changes as the profile changes by `of`. */
  const byProfile = (of: (u: number, out: Float64Array) => void) => (x: number, y: number, out: Float64Array) => {
    prepare(x, y);
    of(y * y, g);
    const [s, sy] = f;
    const [sp, syp] = [g[0], 2 * y * g[1]];
    const rest = 1 - cx * s;
    dn.set([2 * rest * sp, 0, 2 * rest * syp - 2 * cx * sp * sy]);
    dd.set([-2 * cx * rest * sp, 0, 2 * cx * cx * sp * sy - 2 * cx * rest * syp]);
    rootQuotientChange(n, d, dn, dd, out);
  };
  return sagSurface({
    curvature: c,
    reach: Math.min(
      (1 + k) * c * c > 0 ? 1 / (Math.abs(c) * Math.sqrt(1 + k)) : Infinity,
      cx === 0 ? Infinity : 1 / Math.abs(cx),
    ),
    derivatives: {
      jet(x, y, out) {
        prepare(x, y);
        rootQuotient(n, d, out);
      },
      by: {
        radius: byProfile(changes.radius),
        conic: byProfile(changes.conic),
        radius_x(x, y, out) {
          prepare(x, y);
          const [s, sy] = f;
          const rest = 1 - cx * s;
          dn.set([x * x - s * s, 2 * x, -2 * s * sy]);
          dd.set([-2 * s * rest - 2 * cx * x * x, -4 * cx * x, -2 * sy * rest + 2 * cx * s * sy]);
          rootQuotientChange(n, d, dn, dd, out);
        },
      },
    },
  });
}
