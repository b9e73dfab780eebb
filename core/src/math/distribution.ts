import { normalBelow, normalDensity, normalQuantile } from './normal-distribution.ts';
import { gaussLegendre } from './quadrature.ts';
import { failure, success, type Outcome } from './outcome.ts';

/** How a quantity is distributed between its limits. */
export type DistributionKind =
  /** Every value between the limits is as likely as any other. */
  | { readonly kind: 'uniform' }
  /** Normal about the middle of the limits, which lie so many standard deviations off; `truncated`: nothing lies beyond them. */
  | { readonly kind: 'normal'; readonly sigmas: number; readonly truncated?: boolean }
  /** The density rises from 0 at each limit to its peak at the nominal value. */
  | { readonly kind: 'triangular' }
  /** Either limit, with equal probability. */
  | { readonly kind: 'ends' }
  /** A density drawn through points: shares of the way from the lower to the upper limit, rising, and weights of any scale. */
  | { readonly kind: 'table'; readonly points: readonly (readonly [share: number, weight: number])[] };

/** Central moments of orders 0 to 6 about the mean: `central[k]` is the mean of (x − mean)ᵏ. */
export interface Moments {
  readonly mean: number;
  readonly central: readonly number[];
}

/** A distribution between limits. */
export interface Distribution {
  readonly moments: Moments;
  /** The value below which a share of all lies, for a share between 0 and 1. */
  quantile(share: number): number;
}

const ORDERS = 7;

/**
 * The distribution of what departs from a nominal value.
 *
 * @param lower - the least departure, in the unit of the quantity; at most 0
 * @param upper - the largest one; at least 0
 * @returns a failure where limits are of the wrong sign, a normal distribution has no width, or the points of a table make no density
 */
export function distributionOf(shape: DistributionKind, lower: number, upper: number): Outcome<Distribution> {
  if (!(lower <= 0 && upper >= 0) || !Number.isFinite(upper - lower))
    return failure(`The limits ${lower} and ${upper} must lie on both sides of 0: the lower one first.`);
  switch (shape.kind) {
    case 'uniform':
      return success(piecewise([lower, upper], [1, 1]));
    case 'triangular':
      return success(triangular(lower, upper));
    case 'ends':
      return success(twoEnds(lower, upper));
    case 'normal':
      if (!(shape.sigmas > 0 && Number.isFinite(shape.sigmas)))
        return failure('The limits of a normal distribution lie a number above 0 of standard deviations off.');
      return success(normal((lower + upper) / 2, (upper - lower) / 2, shape.sigmas, shape.truncated ?? false));
    case 'table':
      return tabled(shape.points, lower, upper);
  }
}

/** A triangular density, whose peak may be at a limit. */
function triangular(lower: number, upper: number): Distribution {
  if (lower === 0) return piecewise([0, upper], [1, 0]);
  return upper === 0 ? piecewise([lower, 0], [0, 1]) : piecewise([lower, 0, upper], [0, 1, 0]);
}

function tabled(points: readonly (readonly [number, number])[], lower: number, upper: number): Outcome<Distribution> {
  if (points.length < 2) return failure('A table of a distribution needs at least two points.');
  const wrong = points.findIndex(
    ([share, weight], i) =>
      !(share >= 0 && share <= 1 && weight >= 0 && Number.isFinite(weight)) || (i > 0 && share <= points[i - 1][0]),
  );
  if (wrong >= 0)
    return failure(
      `Point ${wrong + 1} of the table of a distribution is wrong: shares rise from 0 to 1, and weights are not negative.`,
    );
  if (!points.some(([, weight]) => weight > 0)) return failure('The table of a distribution has no weight above 0.');
  const at = points.map(([share]) => lower + share * (upper - lower));
  return success(
    piecewise(
      at,
      points.map(([, weight]) => weight),
    ),
  );
}

/** A density that is linear between points; all of it at one place where they have no extent. */
function piecewise(at: readonly number[], density: readonly number[]): Distribution {
  const width = at[at.length - 1] - at[0];
  if (width === 0) return { moments: { mean: at[0], central: [1, 0, 0, 0, 0, 0, 0] }, quantile: () => at[0] };
  /** The integral of the density up to each point. */
  const below = at.map(() => 0);
  for (let i = 1; i < at.length; i++)
    below[i] = below[i - 1] + ((density[i] + density[i - 1]) / 2) * (at[i] - at[i - 1]);
  const all = below[below.length - 1];
  // Exact: the integrands are polynomials of at most the seventh degree in each piece.
  const { nodes, weights } = gaussLegendre(4);
  const mean = average((x) => x);
  function average(of: (x: number) => number): number {
    let sum = 0;
    for (let i = 1; i < at.length; i++) {
      const half = (at[i] - at[i - 1]) / 2;
      nodes.forEach((node, k) => {
        const share = (1 + node) / 2;
        const weight = density[i - 1] + share * (density[i] - density[i - 1]);
        sum += half * weights[k] * weight * of(at[i - 1] + share * 2 * half);
      });
    }
    return sum / all;
  }
  return {
    moments: { mean, central: Array.from({ length: ORDERS }, (_, k) => average((x) => (x - mean) ** k)) },
    quantile(share) {
      const wanted = share * all;
      let i = 1;
      while (i < at.length - 1 && below[i] < wanted) i++;
      const [width, from, to] = [at[i] - at[i - 1], density[i - 1], density[i]];
      // Where a straight density has gathered the rest; written so that nothing cancels.
      const rest = (wanted - below[i - 1]) / width;
      const root = Math.sqrt(Math.max(0, from * from + 2 * (to - from) * rest));
      const way = from + root > 0 ? (2 * rest) / (from + root) : 0;
      return at[i - 1] + Math.min(1, way) * width;
    },
  };
}

function twoEnds(lower: number, upper: number): Distribution {
  const half = (upper - lower) / 2;
  return {
    moments: {
      mean: (lower + upper) / 2,
      central: Array.from({ length: ORDERS }, (_, k) => (k % 2 === 0 ? half ** k : 0)),
    },
    quantile: (share) => (share < 0.5 ? lower : upper),
  };
}

/** Moments of a normal distribution cut at ±a standard deviations: mₖ = (k − 1) mₖ₋₂ − aᵏ⁻¹ 2φ(a)/(1 − 2Φ(−a)), by parts. */
function normal(mean: number, half: number, sigmas: number, truncated: boolean): Distribution {
  const sigma = half / sigmas;
  const [outside, edge] = truncated
    ? [normalBelow(-sigmas), (2 * normalDensity(sigmas)) / (1 - 2 * normalBelow(-sigmas))]
    : [0, 0];
  const central = [1, 0];
  for (let k = 2; k < ORDERS; k++)
    central.push(k % 2 === 0 ? (k - 1) * central[k - 2] - (edge === 0 ? 0 : edge * sigmas ** (k - 1)) : 0);
  return {
    moments: { mean, central: central.map((moment, k) => moment * sigma ** k) },
    quantile: (share) => mean + sigma * normalQuantile(outside + share * (1 - 2 * outside)),
  };
}
