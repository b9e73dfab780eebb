import { zernikeTerms, type ZernikeOrder } from '../../math/zernike.ts';
import { fitLeastSquares } from '../../math/linear-fit.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { PolynomialBasis } from '../../math/polynomial-basis.ts';
import type { Wavefront } from './wavefront.ts';

/** A wavefront as a sum of Zernike polynomials. */
export interface ZernikeFit {
  readonly order: ZernikeOrder;
  /** Coefficient j stands at index j − 1, waves. */
  readonly coefficients: Float64Array;
  /** RMS of what the terms leave, waves. */
  readonly residual: number;
}

const bases = new Map<string, PolynomialBasis>();

function basisOf(order: ZernikeOrder, count: number): PolynomialBasis {
  const key = `${order} ${count}`;
  let basis = bases.get(key);
  if (!basis) {
    basis = new PolynomialBasis(Array.from({ length: count }, (_, k) => zernikeTerms(order, k + 1)));
    bases.set(key, basis);
  }
  return basis;
}

/**
 * Zernike coefficients of a wavefront. `projection`: ⟨W·Z⟩/⟨Z²⟩ over the full unit disk, right for samplings whose weights integrate
 * the products and only where every ray arrives; `fit`: least squares over the rays that arrive.
 */
export function zernikeFit(
  { points: { px, py, weight }, w }: Wavefront,
  order: ZernikeOrder,
  count: number,
  method: 'projection' | 'fit',
): Outcome<ZernikeFit> {
  const alive = [...w.keys()].filter((i) => !Number.isNaN(w[i]));
  if (alive.length < count) return failure(`${count} terms need at least as many rays; ${alive.length} arrive.`);
  if (method === 'projection' && alive.length < w.length)
    return failure('Rays are missing: a projection needs the full pupil. Fit the terms instead.');
  const basis = basisOf(order, count);
  const rows = alive.map((i) => basis.values(px[i], py[i]).slice());
  let coefficients: Float64Array;
  if (method === 'fit') {
    const solved = fitLeastSquares(
      rows,
      alive.map((i) => w[i]),
      alive.map((i) => weight[i]),
    );
    if (!solved) return failure('The terms cannot be told apart on these rays: use fewer.');
    coefficients = solved;
  } else {
    const squares = new Float64Array(count);
    coefficients = new Float64Array(count);
    alive.forEach((i, row) => {
      for (let k = 0; k < count; k++) {
        coefficients[k] += weight[i] * w[i] * rows[row][k];
        squares[k] += weight[i] * rows[row][k] ** 2;
      }
    });
    // Noll's terms have a mean square of 1; those of fringe order are 1 at the rim.
    for (let k = 0; k < count; k++) coefficients[k] /= order === 'noll' ? 1 : squares[k];
  }
  let [sum, total] = [0, 0];
  alive.forEach((i, row) => {
    const left = w[i] - rows[row].reduce((value, z, k) => value + z * coefficients[k], 0);
    sum += weight[i] * left * left;
    total += weight[i];
  });
  return success({ order, coefficients, residual: Math.sqrt(sum / total) });
}
