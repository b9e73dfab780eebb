import type { Moments } from './distribution.ts';

/** A value as a function of departures x: `value` + Σ slopes·x + xᵀ·curvatures·x. */
export interface QuadraticResponse {
  readonly value: number;
  readonly slopes: readonly number[];
  /** Symmetric; with half of the coefficient of each product xᵢxⱼ off the diagonal. */
  readonly curvatures: readonly (readonly number[])[];
}

/** A response with the lower half of its matrix in one row, products counted whole, as `compute/quadratic-forms.ts` evaluates it. */
export interface PackedForm {
  readonly value: number;
  readonly slopes: Float64Array;
  /** Empty where the response is linear. */
  readonly half: Float64Array;
}

export function packedForm({ value, slopes, curvatures }: QuadraticResponse): PackedForm {
  const half = curvatures.flatMap((row, i) => row.slice(0, i + 1).map((entry, j) => (i === j ? entry : 2 * entry)));
  return {
    value,
    slopes: Float64Array.from(slopes),
    half: Float64Array.from(half.some((entry) => entry !== 0) ? half : []),
  };
}

/** Mean, variance and third central moment of a response. */
export interface ResponseMoments {
  readonly mean: number;
  readonly variance: number;
  readonly third: number;
}

/**
 * The first moments of a quadratic function of independent quantities, exact for any distributions: by the algebra of expectations over
 * products of independent variables. For normal ones it is a + tr(QS), bᵀSb + 2 tr((QS)²), 6 bᵀSQSb + 8 tr((QS)³).
 *
 * @param parts - the moments of each quantity, in the order of the slopes
 * @throws RangeError where their number is another one than that of the slopes: a mistake in the code that asks
 */
export function responseMoments(
  { value, slopes, curvatures }: QuadraticResponse,
  parts: readonly Moments[],
): ResponseMoments {
  const n = slopes.length;
  if (parts.length !== n) throw new RangeError(`responseMoments: ${parts.length} quantities for ${n} slopes`);
  // About the means, e = x − μ: value a, slopes b, the same curvatures.
  const mu = parts.map(({ mean }) => mean);
  const turned = curvatures.map((row) => row.reduce((sum, q, j) => sum + q * mu[j], 0));
  const b = slopes.map((slope, i) => slope + 2 * turned[i]);
  const a = value + mu.reduce((sum, m, i) => sum + m * (slopes[i] + turned[i]), 0);
  const moment = (i: number, k: number) => parts[i].central[k];
  let [mean, variance, third] = [a, 0, 0];
  /** With u = b·e + q·(e² − m₂), the part of one quantity alone: means of u·e and of u·e². */
  const [ue, uee] = [new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i < n; i++) {
    const [slope, q, m2, m3, m4] = [b[i], curvatures[i][i], moment(i, 2), moment(i, 3), moment(i, 4)];
    mean += q * m2;
    ue[i] = slope * m2 + q * m3;
    uee[i] = slope * m3 + q * (m4 - m2 * m2);
    variance += slope * slope * m2 + 2 * slope * q * m3 + q * q * (m4 - m2 * m2);
    third +=
      slope ** 3 * m3 +
      3 * slope * slope * q * (m4 - m2 * m2) +
      3 * slope * q * q * (moment(i, 5) - 2 * m2 * m3) +
      q ** 3 * (moment(i, 6) - 3 * m2 * m4 + 2 * m2 ** 3);
  }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const q = curvatures[i][j];
      if (q === 0) continue;
      variance += 4 * q * q * moment(i, 2) * moment(j, 2);
      third +=
        12 * q * ue[i] * ue[j] +
        12 * q * q * (uee[i] * moment(j, 2) + uee[j] * moment(i, 2)) +
        8 * q ** 3 * moment(i, 3) * moment(j, 3);
      for (let k = 0; k < j; k++)
        third += 48 * q * curvatures[j][k] * curvatures[i][k] * moment(i, 2) * moment(j, 2) * moment(k, 2);
    }
  return { mean, variance, third };
}

/**
 * A response to departures that are mixed from others, x = M·v: quantities that share a draw (all glasses of one melt), or normal ones with
 * a correlation matrix M·Mᵀ.
 *
 * @param mix - M, a row for each of the departures x
 */
export function responseOf(
  { value, slopes, curvatures }: QuadraticResponse,
  mix: readonly (readonly number[])[],
): QuadraticResponse {
  const count = mix[0]?.length ?? 0;
  const columns = Array.from({ length: count }, (_, k) => mix.map((row) => row[k]));
  const dot = (p: readonly number[], q: readonly number[]) => p.reduce((sum, value, i) => sum + value * q[i], 0);
  const turned = columns.map((column) => curvatures.map((row) => dot(row, column)));
  return {
    value,
    slopes: columns.map((column) => dot(column, slopes)),
    curvatures: columns.map((column) => turned.map((other) => dot(column, other))),
  };
}

/**
 * The lower triangular root C of a correlation matrix, C·Cᵀ, by Cholesky; null where the correlations contradict each other (no set of
 * quantities has them).
 */
export function correlationRoot(matrix: readonly (readonly number[])[]): number[][] | null {
  const root = matrix.map((row) => row.map(() => 0));
  for (let i = 0; i < matrix.length; i++)
    for (let j = 0; j <= i; j++) {
      let rest = matrix[i][j];
      for (let k = 0; k < j; k++) rest -= root[i][k] * root[j][k];
      if (i !== j) root[i][j] = root[j][j] > 0 ? rest / root[j][j] : 0;
      else if (rest < -1e-12) return null;
      else root[i][i] = Math.sqrt(Math.max(0, rest));
      // A quantity that follows others wholly leaves nothing to correlate with.
      if (i !== j && root[j][j] === 0 && Math.abs(rest) > 1e-9) return null;
    }
  return root;
}
