/** Nodes and weights of a rule on an interval; the weights sum to the length of the interval. */
export interface QuadratureRule {
  readonly nodes: Float64Array;
  readonly weights: Float64Array;
}

const rules = new Map<number, QuadratureRule>();

/**
 * Gauss–Legendre rule on [-1, 1], exact for polynomials up to degree 2·count − 1.
 *
 * Newton's method on the Legendre polynomial from the Chebyshev-like guess; Abramowitz and Stegun, 25.4.29.
 *
 * @param count - number of nodes, an integer from 1
 * @throws RangeError when count is not a positive integer
 */
export function gaussLegendre(count: number): QuadratureRule {
  if (!Number.isInteger(count) || count < 1) throw new RangeError(`gaussLegendre: count is ${count}`);
  const known = rules.get(count);
  if (known) return known;
  const nodes = new Float64Array(count);
  const weights = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let x = -Math.cos((Math.PI * (i + 0.75)) / (count + 0.5));
    let slope = 0;
    for (let step = 0; step < 100; step++) {
      let previous = 0;
      let value = 1;
      for (let k = 1; k <= count; k++) {
        [previous, value] = [value, ((2 * k - 1) * x * value - (k - 1) * previous) / k];
      }
      slope = (count * (x * value - previous)) / (x * x - 1);
      const change = value / slope;
      x -= change;
      if (Math.abs(change) < 1e-16) break;
    }
    nodes[i] = x;
    weights[i] = 2 / ((1 - x * x) * slope * slope);
  }
  const rule = { nodes, weights };
  rules.set(count, rule);
  return rule;
}
