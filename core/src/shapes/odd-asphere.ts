import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { conicChanges, conicJet, compileConic } from './conic.ts';
import { sagSurface } from './sag-surface.ts';
import { radialDerivatives } from './sag-newton.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';

/** Powers of r that an odd asphere may carry: all of them, from the cone on. */
const ORDERS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] as const;

export type OddAsphereRecord = {
  readonly kind: 'odd_asphere';
  readonly radius: Extent;
  readonly conic?: number;
} & { readonly [key in `a${(typeof ORDERS)[number]}`]?: number };

const coefficient = (order: number): ParameterSpec => ({
  id: `a${order}`,
  title: `A${order}`,
  meaning: `Coefficient of r^${order} in the sag, added to the conic.`,
  unit: order === 1 ? '' : `mm^${1 - order}`,
  kind: 'number',
  fallback: 0,
  transform: 'value',
  power: order,
});

export const oddAsphere = defineShape<OddAsphereRecord>({
  kind: 'odd_asphere',
  title: 'Odd asphere',
  meaning:
    'A conic with all powers of r: z = c r²/(1 + √(1 − (1+k) c² r²)) + Σ Aₚ rᵖ, p = 1, 2, 3 …; A₁ alone is a cone.',
  parameters: [RADIUS, CONIC, ...ORDERS.map(coefficient)],
  compile: (record) =>
    compileOddAsphere(
      curvatureOf(record.radius),
      record.conic ?? 0,
      ORDERS.map((order) => record[`a${order}`] ?? 0),
    ),
});

/** Nearer to the axis than this, mm², odd powers are taken as they are there: their derivatives have no limit on it. */
const AXIS = 1e-24;

/** An odd asphere; `coefficients[i]` belongs to r^(i+1), in mm^(−i). */
export function compileOddAsphere(c: number, k: number, coefficients: readonly number[]): CompiledShape {
  const conic = conicJet(c, k);
  return sagSurface({
    curvature: c + 2 * coefficients[1],
    reach: compileConic(c, k).reach,
    derivatives: radialDerivatives(
      (u, out) => {
        conic(u, out);
        const r = Math.sqrt(Math.max(u, AXIS));
        coefficients.forEach((a, i) => {
          if (a === 0) return;
          const p = i + 1;
          out[0] += a * Math.sqrt(u) ** p;
          out[1] += (p / 2) * a * r ** (p - 2);
          out[2] += (p / 2) * (p / 2 - 1) * a * r ** (p - 4);
        });
      },
      {
        ...conicChanges(c, k),
        ...Object.fromEntries(
          ORDERS.map((p) => [
            `a${p}`,
            (u: number, out: Float64Array) => {
              out[0] = Math.sqrt(u) ** p;
              out[1] = (p / 2) * Math.sqrt(Math.max(u, AXIS)) ** (p - 2);
            },
          ]),
        ),
      },
    ),
  });
}
