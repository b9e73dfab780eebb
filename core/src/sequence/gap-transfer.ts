import { gaussLegendre } from '../math/quadrature.ts';
import type { LensModel } from './lens-model.ts';

/** A ray-transfer matrix on (y, n·u), with n negative after an odd number of mirrors; its determinant is 1. */
export interface Transfer {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
}

/** Refractive indices on the axis, with the sign of the direction of travel: negative after an odd number of mirrors. */
export interface AxisIndices {
  /** `leave[j + 1]` is the index right after surface j, `leave[0]` that of the object space. */
  readonly leave: Float64Array;
  /** `arrive[j]` is the index right before surface j; it differs from `leave[j]` in an axial gradient. */
  readonly arrive: Float64Array;
}

/** Indices at the vertices, at a wavelength. */
export function axisIndices(model: LensModel, wave: number): AxisIndices {
  const indices = model.indices[wave];
  const leave = new Float64Array(indices.length);
  const arrive = new Float64Array(indices.length);
  let sign = 1;
  leave[0] = arrive[0] = indices[0];
  model.surfaces.forEach((surface, j) => {
    if (surface.reflects) sign = -sign;
    leave[j + 1] = sign * axisIndex(model, indices[j + 1], j, 0);
    if (j + 1 < arrive.length) arrive[j + 1] = sign * axisIndex(model, indices[j + 1], j, surface.gap);
  });
  return { leave, arrive };
}

const PLACE = new Float64Array(4);

/** Index on the axis after surface j, a way z after its vertex. */
function axisIndex(model: LensModel, base: number, j: number, z: number): number {
  const { gradient } = model.surfaces[j];
  if (!gradient) return base;
  gradient.field.evaluate(0, 0, z + (gradient.toField?.shift[2] ?? 0), PLACE);
  return Math.sqrt(base * base + PLACE[0]);
}

const STEPS = 2000;

/**
 * The matrix over the gap after a surface: a step along a straight line, or through a gradient, y′ = p/n, p′ = R₂y/n with p = n u:
 * in closed form where the index does not change along the axis (E. W. Marchand, Gradient Index Optics, ch. 5), else by steps.
 */
export function gapTransfer(model: LensModel, { leave }: AxisIndices, wave: number, j: number): Transfer {
  const { gap, gradient } = model.surfaces[j];
  const n = leave[j + 1];
  if (!gradient) return { a: 1, b: gap / n, c: 0, d: 1 };
  const { bend, axial } = gradient.field;
  const half = bend / 2; // R₂
  if (!axial) {
    const rate = Math.sqrt(Math.abs(half)) / n; // signed as n is
    const angle = rate * gap;
    const hyperbolic = half > 0;
    if (rate === 0) return { a: 1, b: gap / n, c: 0, d: 1 };
    const [cos, sin] = hyperbolic ? [Math.cosh(angle), Math.sinh(angle)] : [Math.cos(angle), Math.sin(angle)];
    return { a: cos, b: sin / (rate * n), c: (hyperbolic ? 1 : -1) * rate * n * sin, d: cos };
  }
  const base = model.indices[wave][j + 1];
  const at = (z: number) => Math.sign(n) * axisIndex(model, base, j, z);
  if (half === 0) {
    const { nodes, weights } = gaussLegendre(24);
    let b = 0;
    nodes.forEach((node, i) => (b += (weights[i] * gap) / 2 / at((gap * (1 + node)) / 2)));
    return { a: 1, b, c: 0, d: 1 };
  }
  // Runge and Kutta's fourth order, for both columns.
  const columns = [
    [1, 0],
    [0, 1],
  ].map(([y0, p0]) => {
    let [y, p] = [y0, p0];
    const h = gap / STEPS;
    for (let step = 0; step < STEPS; step++) {
      const z = step * h;
      const [n0, n1, n2] = [at(z), at(z + h / 2), at(z + h)];
      const [y1, p1] = [p / n0, (half * y) / n0];
      const [y2, p2] = [(p + (h / 2) * p1) / n1, (half * (y + (h / 2) * y1)) / n1];
      const [y3, p3] = [(p + (h / 2) * p2) / n1, (half * (y + (h / 2) * y2)) / n1];
      const [y4, p4] = [(p + h * p3) / n2, (half * (y + h * y3)) / n2];
      y += (h / 6) * (y1 + 2 * y2 + 2 * y3 + y4);
      p += (h / 6) * (p1 + 2 * p2 + 2 * p3 + p4);
    }
    return [y, p];
  });
  return { a: columns[0][0], c: columns[0][1], b: columns[1][0], d: columns[1][1] };
}
