import { curvatureOf, type Extent, type ParameterSpec } from '../math/parameter.ts';
import { compileConic, conicChanges, conicJet } from './conic.ts';
import { radialDerivatives, type RadialChange, type RadialJet } from './sag-newton.ts';
import { sagSurface } from './sag-surface.ts';
import { CONIC, RADIUS, defineShape, type CompiledShape } from './shape.ts';

const COUNT = 9;
const ORDERS = Array.from({ length: COUNT }, (_, m) => m);

const NORM_RADIUS: ParameterSpec = {
  id: 'norm_radius',
  title: 'Norm radius',
  meaning: 'Radius at which u = r/norm radius is 1: the rim of the surface.',
  unit: 'mm',
  kind: 'length',
  above: 0,
  transform: 'value',
};

const coefficient =
  (family: string) =>
  (m: number): ParameterSpec => ({
    id: `q${m}`,
    title: `q${m}`,
    meaning: `Coefficient of the polynomial Q${m} of Forbes’s ${family} family, mm of sag.`,
    unit: 'mm',
    kind: 'length',
    fallback: 0,
    transform: 'value',
  });

type Coefficients = { readonly [key in `q${number}`]?: number };
export type QbfsRecord = {
  readonly kind: 'qbfs';
  readonly radius: Extent;
  readonly norm_radius: number;
} & Coefficients;
export type QconRecord = {
  readonly kind: 'qcon';
  readonly radius: Extent;
  readonly conic?: number;
  readonly norm_radius: number;
} & Coefficients;

/** Coefficients of polynomials in w = u², lowest power first. */
type Polynomial = readonly number[];

const times = (p: Polynomial, q: Polynomial): number[] => {
  const product = new Array<number>(p.length + q.length - 1).fill(0);
  p.forEach((a, i) => q.forEach((b, j) => (product[i + j] += a * b)));
  return product;
};
const combine = (...parts: readonly (readonly [number, Polynomial])[]): number[] =>
  Array.from({ length: Math.max(...parts.map(([, p]) => p.length)) }, (_, i) =>
    parts.reduce((sum, [factor, p]) => sum + factor * (p[i] ?? 0), 0),
  );

/**
 * Q_m^bfs, whose slopes are orthonormal: G. W. Forbes, Opt. Express 15, 5218 (2007), by the recurrence of Opt. Express 18, 19700
 * (2010).
 */
export function qbfsPolynomials(count: number): number[][] {
  const f = [2, Math.sqrt(19) / 2];
  const g = [-0.5];
  const h: number[] = [];
  const p: number[][] = [[2], [6, -8]];
  const q: number[][] = [[1], combine([1 / f[1], p[1]], [-g[0] / f[1], [1]])];
  for (let m = 2; m < count; m++) {
    h[m - 2] = (-m * (m - 1)) / (2 * f[m - 2]);
    g[m - 1] = -(1 + g[m - 2] * h[m - 2]) / f[m - 1];
    f[m] = Math.sqrt(m * (m + 1) + 3 - g[m - 1] ** 2 - h[m - 2] ** 2);
    p[m] = combine([1, times([2, -4], p[m - 1])], [-1, p[m - 2]]);
    q[m] = combine([1 / f[m], p[m]], [-g[m - 1] / f[m], q[m - 1]], [-h[m - 2] / f[m], q[m - 2]]);
  }
  return q.slice(0, count);
}

/** Q_m^con = P_m^(0,4)(2w − 1), Jacobi polynomials: the same paper. */
export function qconPolynomials(count: number): number[][] {
  const q: number[][] = [[1], [-5, 6]];
  for (let m = 1; m + 1 < count; m++) {
    // The recurrence of Jacobi polynomials with α = 0, β = 4, in t = 2w − 1.
    const s = 2 * m + 4;
    const lead = 2 * (m + 1) * (m + 5) * s;
    const byT = ((s + 1) * (s + 2) * s) / lead;
    const constant = ((s + 1) * -16) / lead;
    const before = (-2 * m * (m + 4) * (s + 2)) / lead;
    q[m + 1] = combine([byT, times([-1, 2], q[m])], [constant, q[m]], [before, q[m - 1]]);
  }
  return q.slice(0, count);
}

/** A polynomial in w with its first and second derivative. */
function evaluate(p: Polynomial, w: number): [number, number, number] {
  let [f, f1, f2] = [0, 0, 0];
  for (let i = p.length - 1; i >= 0; i--) {
    f2 = f2 * w + 2 * f1;
    f1 = f1 * w + f;
    f = f * w + p[i];
  }
  return [f, f1, f2];
}

const QCON = qconPolynomials(COUNT).map((q) => times([0, 0, 1], q)); // with u⁴
const QBFS = qbfsPolynomials(COUNT).map((q) => times([0, 1, -1], q)); // with u²(1 − u²)

export const qcon = defineShape<QconRecord>({
  kind: 'qcon',
  title: 'Forbes Q, strong (con)',
  meaning:
    'A conic with Forbes’s Qcon polynomials: z = c r²/(1 + √(1 − (1+k) c² r²)) + u⁴ Σ qₘ Qₘ(u²), u = r/norm radius.',
  parameters: [RADIUS, CONIC, NORM_RADIUS, ...ORDERS.map(coefficient('con'))],
  compile(record) {
    const [c, k, norm] = [curvatureOf(record.radius), record.conic ?? 0, record.norm_radius];
    const sum = combine([0, [0]], ...ORDERS.map((m) => [record[`q${m}`] ?? 0, QCON[m]] as const));
    const base = conicJet(c, k);
    const terms = ORDERS.map((m) => [`q${m}`, scaled(QCON[m], norm)] as const);
    return forbes(
      c,
      k,
      (u, out) => {
        base(u, out);
        const [f, f1, f2] = evaluate(sum, u / norm ** 2);
        out[0] += f;
        out[1] += f1 / norm ** 2;
        out[2] += f2 / norm ** 4;
      },
      { ...conicChanges(c, k), norm_radius: byNorm(sum, norm), ...Object.fromEntries(terms) },
    );
  },
});

function scaled(p: Polynomial, norm: number): RadialChange {
  return (u, out) => {
    const [f, f1] = evaluate(p, u / norm ** 2);
    out[0] = f;
    out[1] = f1 / norm ** 2;
  };
}

/** By the norm radius: dw/dnorm = −2w/norm. */
function byNorm(p: Polynomial, norm: number): RadialChange {
  return (u, out) => {
    const w = u / norm ** 2;
    const [, f1, f2] = evaluate(p, w);
    out[0] = (-2 * w * f1) / norm;
    out[1] = (-2 * (f1 + w * f2)) / norm ** 3;
  };
}

function forbes(c: number, k: number, jet: RadialJet, by: Readonly<Record<string, RadialChange>>): CompiledShape {
  return sagSurface({
    curvature: vertexCurvature(jet),
    reach: compileConic(c, k).reach,
    derivatives: radialDerivatives(jet, by),
  });
}

function vertexCurvature(jet: RadialJet): number {
  const out = new Float64Array(3);
  jet(0, out);
  return 2 * out[1];
}

export const qbfs = defineShape<QbfsRecord>({
  kind: 'qbfs',
  title: 'Forbes Q, mild (bfs)',
  meaning:
    'A best-fit sphere with Forbes’s Qbfs polynomials along its normals: z = c r²/(1 + √(1 − c² r²)) + ' +
    'u²(1 − u²)/√(1 − c² r²) · Σ qₘ Qₘ(u²), u = r/norm radius.',
  parameters: [RADIUS, NORM_RADIUS, ...ORDERS.map(coefficient('bfs'))],
  compile(record) {
    const [c, norm] = [curvatureOf(record.radius), record.norm_radius];
    const sum = combine([0, [0]], ...ORDERS.map((m) => [record[`q${m}`] ?? 0, QBFS[m]] as const));
    const base = conicJet(c, 0);
    const sphere = conicChanges(c, 0).radius;
    // The sum stands over E = √(1 − c²u): (1/E)′ = c²/2E³, (1/E)″ = 3c⁴/4E⁵.
    const over = (u: number) => 1 / Math.sqrt(1 - c * c * u);
    const divided =
      (change: RadialChange): RadialChange =>
      (u, out) => {
        change(u, out);
        const i = over(u);
        [out[0], out[1]] = [out[0] * i, out[1] * i + (out[0] * c * c * i ** 3) / 2];
      };
    const terms = ORDERS.map((m) => [`q${m}`, divided(scaled(QBFS[m], norm))] as const);
    return forbes(
      c,
      0,
      (u, out) => {
        base(u, out);
        const i = over(u);
        const [f, f1, f2] = evaluate(sum, u / norm ** 2);
        const [g, g1, g2] = [f, f1 / norm ** 2, f2 / norm ** 4];
        const [i1, i2] = [(c * c * i ** 3) / 2, (3 * c ** 4 * i ** 5) / 4];
        out[0] += g * i;
        out[1] += g1 * i + g * i1;
        out[2] += g2 * i + 2 * g1 * i1 + g * i2;
      },
      {
        radius(u, out) {
          sphere(u, out);
          const i = over(u);
          const [f, f1] = evaluate(sum, u / norm ** 2);
          // d(1/E)/dc = c u/E³, and its derivative by u.
          out[0] += f * c * u * i ** 3;
          out[1] += (f1 / norm ** 2) * c * u * i ** 3 + f * (c * i ** 3 + 1.5 * c ** 3 * u * i ** 5);
        },
        norm_radius: divided(byNorm(sum, norm)),
        ...Object.fromEntries(terms),
      },
    );
  },
});
