import { addPolynomial, collected, type Term } from '../math/polynomial2d.ts';
import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { zernikeTerms, type ZernikeOrder } from '../math/zernike.ts';
import { compileConic } from './conic.ts';
import { sagSurface } from './sag-surface.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';

/** A conic with terms over x and y on top: each has a polynomial, in mm of sag for a coefficient of 1. */
interface Freeform {
  readonly c: number;
  readonly k: number;
  readonly terms: readonly {
    readonly id: string;
    readonly value: number;
    readonly polynomial: readonly Term[];
  }[];
}

function compileFreeform({ c, k, terms }: Freeform): CompiledShape {
  const base = compileConic(c, k);
  const present = terms.filter(({ value }) => value !== 0);
  const by = {
    ...base.derivatives.by,
    ...Object.fromEntries(
      terms.map(({ id, polynomial }) => [
        id,
        (x: number, y: number, out: Float64Array) => {
          out.fill(0);
          addPolynomial(polynomial, x, y, 1, out);
        },
      ]),
    ),
  };
  // Without terms it is the conic, which the compiled kernel knows.
  if (present.length === 0) return { ...base, derivatives: { ...base.derivatives, by } };
  const whole = collected(
    present.flatMap(({ value, polynomial }) => polynomial.map((term) => ({ ...term, a: value * term.a }))),
  );
  const flat = new Float64Array(6);
  addPolynomial(whole, 0, 0, 1, flat);
  return sagSurface({
    curvature: c + flat[5],
    reach: base.reach,
    mirrorX: whole.every(({ i }) => i % 2 === 0),
    near: base,
    derivatives: {
      jet(x, y, out) {
        base.derivatives.jet(x, y, out);
        addPolynomial(whole, x, y, 1, out);
      },
      by,
    },
  });
}

const HIGHEST = 6;

/** Powers of x and y with x before y: x1y0, x0y1, x2y0 … up to their sum of six. */
const POWERS = Array.from({ length: HIGHEST }, (_, order) => order + 1).flatMap((order) =>
  Array.from({ length: order + 1 }, (_, j) => [order - j, j] as const),
);

export type XyPolynomialRecord = {
  readonly kind: 'xy_polynomial';
  readonly radius: Extent;
  readonly conic?: number;
} & { readonly [key in `x${number}y${number}`]?: number };

export const xyPolynomial = defineShape<XyPolynomialRecord>({
  kind: 'xy_polynomial',
  title: 'XY polynomial',
  meaning: 'A conic with powers of x and y: z = c r²/(1 + √(1 − (1+k) c² r²)) + Σ Aᵢⱼ xⁱ yʲ, i + j up to 6.',
  parameters: [
    RADIUS,
    CONIC,
    ...POWERS.map(([i, j]): ParameterSpec => ({
      id: `x${i}y${j}`,
      title: `x${i} y${j}`,
      meaning: `Coefficient of x^${i} y^${j} in the sag, added to the conic.`,
      unit: i + j === 1 ? '' : `mm^${1 - i - j}`,
      kind: 'number',
      fallback: 0,
      transform: 'value',
      power: i + j,
    })),
  ],
  compile: (record) =>
    compileFreeform({
      c: curvatureOf(record.radius),
      k: record.conic ?? 0,
      terms: POWERS.map(([i, j]) => ({
        id: `x${i}y${j}`,
        value: record[`x${i}y${j}`] ?? 0,
        polynomial: [{ i, j, a: 1 }],
      })),
    }),
});

/** Terms that a Zernike sag may carry; the first is a piston, which the thickness is for. */
const ZERNIKES = Array.from({ length: 36 }, (_, i) => i + 2);

type ZernikeRecord<K extends string> = {
  readonly kind: K;
  readonly radius: Extent;
  readonly conic?: number;
  /** Radius of the unit disk, mm. */
  readonly norm_radius: number;
} & { readonly [key in `z${number}`]?: number };

function zernikeShape<const K extends string>(kind: K, order: ZernikeOrder, title: string, how: string) {
  const polynomials = ZERNIKES.map((j) => zernikeTerms(order, j));
  return defineShape<ZernikeRecord<K>>({
    kind,
    title,
    meaning: `A conic with Zernike polynomials over a disk of the norm radius, coefficients in mm of sag: ${how}, θ from +x.`,
    parameters: [
      RADIUS,
      CONIC,
      {
        id: 'norm_radius',
        title: 'Norm radius',
        meaning: 'Radius of the disk over which the polynomials are defined.',
        unit: 'mm',
        kind: 'length',
        above: 0,
        transform: 'value',
      },
      ...ZERNIKES.map((j): ParameterSpec => ({
        id: `z${j}`,
        title: `Z${j}`,
        meaning: `Coefficient of Zernike polynomial ${j} in the sag, ${how}.`,
        unit: 'mm',
        kind: 'length',
        fallback: 0,
        transform: 'value',
      })),
    ],
    compile(record) {
      const { norm_radius: norm } = record;
      const shape = compileFreeform({
        c: curvatureOf(record.radius),
        k: record.conic ?? 0,
        terms: ZERNIKES.map((j, at) => ({
          id: `z${j}`,
          value: record[`z${j}`] ?? 0,
          polynomial: polynomials[at].map((term) => ({ ...term, a: term.a / norm ** (term.i + term.j) })),
        })),
      });
      return {
        ...shape,
        derivatives: {
          ...shape.derivatives,
          by: { ...shape.derivatives.by, norm_radius: byNorm(record, polynomials) },
        },
      };
    },
  });
}

/** By the norm radius: a term of degree d changes by −d/norm of itself. */
function byNorm(
  record: ZernikeRecord<string>,
  polynomials: readonly (readonly Term[])[],
): (x: number, y: number, out: Float64Array) => void {
  const { norm_radius: norm } = record;
  const changes = ZERNIKES.flatMap((j, at) => {
    const value = record[`z${j}`] ?? 0;
    if (value === 0) return [];
    return polynomials[at].map(({ i, j: power, a }) => ({
      i,
      j: power,
      a: (-value * a * (i + power)) / norm ** (i + power + 1),
    }));
  });
  return (x, y, out) => {
    out.fill(0);
    addPolynomial(changes, x, y, 1, out);
  };
}

export const zernikeNoll = zernikeShape(
  'zernike_noll',
  'noll',
  'Zernike, Noll order',
  'orthonormal polynomials in Noll’s order, Z2 to Z37',
);
export const zernikeFringe = zernikeShape(
  'zernike_fringe',
  'fringe',
  'Zernike, fringe order',
  'polynomials of value 1 at the rim in fringe order, Z2 to Z37',
);
