import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { compileConic, conicChanges, conicJet } from './conic.ts';
import { intersectBySag, normalsBySag, radialDerivatives, type RadialSag } from './sag-newton.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape, type SagDerivatives } from './shape.ts';

/** Orders of r that an even asphere may carry. */
const ORDERS = [2, 4, 6, 8, 10, 12, 14, 16, 18, 20] as const;

type CoefficientKey = `a${(typeof ORDERS)[number]}`;

export type EvenAsphereRecord = {
  readonly kind: 'even_asphere';
  readonly radius: Extent;
  readonly conic?: number;
} & { readonly [key in CoefficientKey]?: number };

/** The parameter of the coefficient of a power of r. */
export function coefficientSpec(order: number): ParameterSpec {
  return {
    id: `a${order}`,
    title: `A${order}`,
    meaning: `Coefficient of r^${order} in the sag, added to the conic.`,
    unit: `mm^${1 - order}`,
    kind: 'number',
    fallback: 0,
    transform: 'value',
    power: order,
  };
}

export const evenAsphere = defineShape<EvenAsphereRecord>({
  kind: 'even_asphere',
  title: 'Even asphere',
  meaning: 'A conic with even powers of r: z = c r²/(1 + √(1 − (1+k) c² r²)) + Σ Aₚ rᵖ, p = 2, 4, 6 …',
  parameters: [RADIUS, CONIC, ...ORDERS.map(coefficientSpec)],
  compile: (record) =>
    compileEvenAsphere(
      curvatureOf(record.radius),
      record.conic ?? 0,
      ORDERS.map((order) => record[`a${order}`] ?? 0),
    ),
});

/**
 * An even asphere; `coefficients[i]` belongs to r^(2i+2), in mm^(−1−2i).
 *
 * The r² term counts in the vertex curvature. Without any coefficient the exact conic is returned.
 */
export function compileEvenAsphere(c: number, k: number, coefficients: readonly number[]): CompiledShape {
  const base = compileConic(c, k);
  const last = coefficients.findLastIndex((value) => value !== 0);
  const derivatives = evenDerivatives(c, k, coefficients);
  if (last < 0) return { ...base, derivatives };
  const a = Float64Array.from(coefficients.slice(0, last + 1));
  const squeeze = (1 + k) * c * c;
  const surface: RadialSag = {
    evaluate(radiusSq, out) {
      const root = Math.sqrt(1 - squeeze * radiusSq);
      let sag = 0;
      let slope = 0;
      // Horner's scheme for the polynomial in r² and its derivative together.
      for (let i = last; i >= 0; i--) {
        slope = slope * radiusSq + sag;
        sag = sag * radiusSq + a[i];
      }
      slope = slope * radiusSq + sag;
      out[0] = (c * radiusSq) / (1 + root) + sag * radiusSq;
      out[1] = c / (2 * root) + slope;
    },
  };
  const scratch = new Float64Array(2);
  return {
    curvature: c + 2 * a[0],
    form: { c, k, terms: a },
    derivatives,
    reach: base.reach,
    sag(x, y) {
      surface.evaluate(x * x + y * y, scratch);
      return scratch[0];
    },
    intersect(rays, count) {
      base.intersect(rays, count);
      intersectBySag(rays, count, surface);
    },
    normals: (rays, count) => normalsBySag(rays, count, surface),
  };
}

function evenDerivatives(c: number, k: number, coefficients: readonly number[]): SagDerivatives {
  const conic = conicJet(c, k);
  const terms = ORDERS.map((order, i) => [
    `a${order}`,
    (u: number, out: Float64Array) => {
      out[0] = u ** (i + 1);
      out[1] = (i + 1) * u ** i;
    },
  ]);
  return radialDerivatives(
    (u, out) => {
      conic(u, out);
      let [sum, first, second] = [0, 0, 0];
      for (let i = coefficients.length - 1; i >= 0; i--) {
        second = second * u + 2 * first;
        first = first * u + sum;
        sum = sum * u + coefficients[i];
      }
      // The polynomial begins with u: (u p)′ = p + u p′, (u p)″ = 2p′ + u p″.
      out[0] += u * sum;
      out[1] += sum + u * first;
      out[2] += 2 * first + u * second;
    },
    { ...conicChanges(c, k), ...Object.fromEntries(terms) },
  );
}
