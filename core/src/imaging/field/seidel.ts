import { failure, success, type Outcome } from '../../math/outcome.ts';
import { axisIndices } from '../../sequence/gap-transfer.ts';
import type { TraceSurface } from '../../sequence/lens-model.ts';
import type { FirstOrder } from '../../sequence/paraxial.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** Welford's third-order sums of one surface or of a lens, mm; undercorrected positive. */
export interface SeidelSums {
  /** Spherical aberration, coma, astigmatism, Petzval curvature, distortion. */
  readonly s1: number;
  readonly s2: number;
  readonly s3: number;
  readonly s4: number;
  readonly s5: number;
  /** Axial and lateral colour, from the shortest to the longest wavelength. */
  readonly c1: number;
  readonly c2: number;
}

/** What the sums mean at the edge of the pupil and the field, in waves of the primary wavelength. */
export interface SeidelWaves {
  readonly w040: number;
  readonly w131: number;
  readonly w222: number;
  readonly w220p: number;
  /** To the sagittal focus. */
  readonly w220: number;
  readonly w311: number;
  readonly w020c: number;
  readonly w111c: number;
}

export interface Seidel {
  readonly nm: number;
  readonly shortest: number;
  readonly longest: number;
  /** `figure`: the part of s1 that a deviation from the sphere adds. */
  readonly surfaces: readonly (SeidelSums & { readonly id: string; readonly figure: number })[];
  readonly total: SeidelSums;
  readonly waves: SeidelWaves;
}

export const SEIDEL_KEYS = ['s1', 's2', 's3', 's4', 's5', 'c1', 'c2'] as const;

/** The r⁴ coefficient of a sag beyond that of a sphere of its curvature, 1/mm³; null where it is not one of revolution. */
function figure({ shape }: TraceSurface): number | null {
  const { form, curvature } = shape;
  if (form) {
    const c = form.c;
    // (1 + k) c³/8 + A₄ of the surface, less that of the sphere of its vertex curvature, c + 2 A₂.
    return ((1 + form.k) * c ** 3) / 8 + (form.terms[1] ?? 0) - curvature ** 3 / 8;
  }
  if (shape.ideal || shape.facets) return null;
  // By its slopes near the vertex, in two steps (Richardson): those of a surface that is none of revolution differ by azimuth.
  const jet = new Float64Array(6);
  const scale = Math.min(1, shape.reach / 10, 0.1 / Math.max(1e-3, Math.abs(curvature)));
  const along = (turn: number, r: number) => {
    const [x, y] = [r * Math.cos(turn), r * Math.sin(turn)];
    shape.derivatives.jet(x, y, jet);
    return ((jet[1] * x + jet[2] * y) / r - curvature * r) / (4 * r ** 3);
  };
  const at = (turn: number) => (4 * along(turn, scale / 2) - along(turn, scale)) / 3;
  const [a, b] = [at(0.3), at(1.7)];
  if (!(Math.abs(a - b) <= 1e-6 * (Math.abs(a) + Math.abs(curvature) ** 3) + 1e-12)) return null;
  return (a + b) / 2 - curvature ** 3 / 8;
}

/**
 * Third-order aberrations of the primary wavelength by surface (W. T. Welford, Aberrations of Optical Systems, ch.
 * 8): A = n(hc + u), S₁ = −A²hΔ(u/n), S₂ = −AĀhΔ(u/n), S₃ = −Ā²hΔ(u/n), S₄ = −H²cΔ(1/n), S₅ = −Ā[Ā²hΔ(1/n²) + (H −
 * Āh)h̄cΔ(1/n)], C₁ = AhΔ(δn/n), C₂ = ĀhΔ(δn/n); a figure of r⁴ adds 8G(n′ − n)h⁴ to S₁, and its powers of h̄/h to
 * S₂, S₃, S₅. Tilts and shifts are left out, as in all first-order data.
 *
 * Fails where a surface has no such sum: a gradient, a diffracting or ideal surface, one that is not of revolution.
 */
export function seidel(lens: LensEvaluation): Outcome<Seidel> {
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { model } = lens;
  const nms = model.wavelengths.map(({ nm }) => nm);
  const [shortest, longest] = [nms.indexOf(Math.min(...nms)), nms.indexOf(Math.max(...nms))];
  for (const wave of [shortest, longest]) {
    const one = lens.firstOrder(wave);
    if (!one.ok) return one;
  }
  const n = axisIndices(model, model.primary).leave;
  const [blue, red] = [axisIndices(model, shortest).leave, axisIndices(model, longest).leave];
  const surfaces: (SeidelSums & { id: string; figure: number })[] = [];
  for (let j = 0; j < model.surfaces.length - 1; j++) {
    const bend = figureOf(model.surfaces[j]);
    if (!bend.ok) return bend;
    const spread = (blue[j + 1] - red[j + 1]) / n[j + 1] - (blue[j] - red[j]) / n[j];
    surfaces.push(sumsOf(model.surfaces[j], primary.value, j, [n[j], n[j + 1]], bend.value, spread));
  }
  const total = Object.fromEntries(
    SEIDEL_KEYS.map((key) => [key, surfaces.reduce((sum, one) => sum + one[key], 0)]),
  ) as unknown as SeidelSums;
  const { nm } = model.wavelengths[model.primary];
  return success({
    nm,
    shortest: nms[shortest],
    longest: nms[longest],
    surfaces,
    total,
    waves: inWaves(total, nm * 1e-6),
  });
}

/** The sum of r⁴ that a surface has beyond its sphere. Fails if there are no Seidel sums of it. */
function figureOf(surface: TraceSurface): Outcome<number> {
  if (surface.gradient) return failure('Seidel sums are not known for gradients.', surface.id);
  if (surface.phase) return failure('Seidel sums are not known for diffracting surfaces.', surface.id);
  const bend = figure(surface);
  return bend === null
    ? failure('Seidel sums need surfaces of revolution about their axis.', surface.id)
    : success(bend);
}

/** What one surface adds; `bend` is its figure of r⁴, `spread` Δ(δn/n). */
function sumsOf(
  { id, shape }: TraceSurface,
  { marginal, chief, lagrange: h }: FirstOrder,
  j: number,
  [n1, n2]: readonly [number, number],
  bend: number,
  spread: number,
): SeidelSums & { readonly id: string; readonly figure: number } {
  const c = shape.curvature;
  const [y, yb] = [marginal.y[j], chief.y[j]];
  const a = n1 * (y * c + marginal.u[j]);
  const ab = n1 * (yb * c + chief.u[j]);
  const step = marginal.u[j + 1] / n2 - marginal.u[j] / n1;
  const inverse = 1 / n2 - 1 / n1;
  const squares = 1 / (n2 * n2) - 1 / (n1 * n1);
  const asphere = 8 * bend * (n2 - n1);
  return {
    id,
    figure: asphere * y ** 4,
    s1: -a * a * y * step + asphere * y ** 4,
    s2: -a * ab * y * step + asphere * y ** 3 * yb,
    s3: -ab * ab * y * step + asphere * y * y * yb * yb,
    s4: -h * h * c * inverse,
    s5: -ab * (ab * ab * y * squares + (h - ab * y) * yb * c * inverse) + asphere * y * yb ** 3,
    c1: a * y * spread,
    c2: ab * y * spread,
  };
}

/** Wavefront coefficients at the edge of pupil and field, in waves of a length in mm. */
function inWaves({ s1, s2, s3, s4, s5, c1, c2 }: SeidelSums, mm: number): SeidelWaves {
  return {
    w040: s1 / 8 / mm,
    w131: s2 / 2 / mm,
    w222: s3 / 2 / mm,
    w220p: s4 / 4 / mm,
    w220: (s3 + s4) / 4 / mm,
    w311: s5 / 2 / mm,
    w020c: c1 / 2 / mm,
    w111c: c2 / mm,
  };
}
