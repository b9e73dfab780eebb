/**
 * Coefficients c that make Σ w (row·c − value)² least, by Householder reflections on √w·rows (G. Golub, Numer. Math. 7, 206, 1965).
 *
 * @returns null where the columns are not independent
 */
export function fitLeastSquares(
  rows: readonly ArrayLike<number>[],
  values: ArrayLike<number>,
  weights?: ArrayLike<number>,
): Float64Array | null {
  const fits = fitColumns(rows, [values], weights);
  return fits && fits[0];
}

/** The same for several columns of values over the same rows, which share the work. */
export function fitColumns(
  rows: readonly ArrayLike<number>[],
  columns: readonly ArrayLike<number>[],
  weights?: ArrayLike<number>,
): Float64Array[] | null {
  const [m, n] = [rows.length, rows[0]?.length ?? 0];
  if (m < n || n === 0) return null;
  // Column by column, which is how reflections go through it.
  const a = new Float64Array(m * n);
  const root = Float64Array.from({ length: m }, (_, i) => (weights ? Math.sqrt(weights[i]) : 1));
  for (let i = 0; i < m; i++) for (let j = 0; j < n; j++) a[j * m + i] = rows[i][j] * root[i];
  const right = columns.map((values) => Float64Array.from(root, (factor, i) => values[i] * factor));
  const diagonal = new Float64Array(n);
  let largest = 0;
  for (let j = 0; j < n; j++) {
    const column = a.subarray(j * m, (j + 1) * m);
    let square = 0;
    for (let i = j; i < m; i++) square += column[i] * column[i];
    const length = Math.sqrt(square);
    largest = Math.max(largest, length);
    if (!(length > 1e-13 * largest)) return null;
    const alpha = column[j] > 0 ? -length : length;
    diagonal[j] = alpha;
    column[j] -= alpha;
    const beta = -alpha * column[j]; // half of |v|²
    const reflect = (target: Float64Array) => {
      let dot = 0;
      for (let i = j; i < m; i++) dot += column[i] * target[i];
      const factor = dot / beta;
      for (let i = j; i < m; i++) target[i] -= factor * column[i];
    };
    for (let k = j + 1; k < n; k++) reflect(a.subarray(k * m, (k + 1) * m));
    right.forEach(reflect);
  }
  return right.map((values) => {
    const c = new Float64Array(n);
    for (let j = n - 1; j >= 0; j--) {
      let sum = values[j];
      for (let k = j + 1; k < n; k++) sum -= a[k * m + j] * c[k];
      c[j] = sum / diagonal[j];
    }
    return c;
  });
}

/**
 * Least squares over functions that are nearly orthogonal under the weights, such as Zernike polynomials over a pupil: normal equations by
 * Cholesky's method, factored once for any number of values, then one step for each that takes what rounding left.
 */
export class OrthogonalFit {
  readonly #table: Float64Array;
  readonly #weights: ArrayLike<number>;
  readonly #n: number;
  readonly #m: number;
  /** L of the normal equations, row by row. */
  readonly #factor: Float64Array;

  private constructor(table: Float64Array, weights: ArrayLike<number>, factor: Float64Array) {
    this.#table = table;
    this.#weights = weights;
    this.#m = weights.length;
    this.#n = table.length / weights.length;
    this.#factor = factor;
  }

  /**
   * @param table - values of each function at all points, one function after another
   * @param weights - of the points
   * @returns null where the functions are far from independent
   */
  static over(table: Float64Array, weights: ArrayLike<number>): OrthogonalFit | null {
    const m = weights.length;
    const n = table.length / m;
    if (m < n || n === 0) return null;
    const root = Float64Array.from(weights, Math.sqrt);
    const weighted = new Float64Array(table.length);
    for (let j = 0; j < n; j++) for (let i = 0, at = j * m; i < m; i++, at++) weighted[at] = table[at] * root[i];
    const g = products(weighted, n, m);
    for (let j = 0; j < n; j++) {
      const before = g[j * n + j];
      for (let k = 0; k <= j; k++) {
        let sum = g[j * n + k];
        for (let i = 0, a = j * n, b = k * n; i < k; i++, a++, b++) sum -= g[a] * g[b];
        if (k < j) g[j * n + k] = sum / g[k * n + k];
        else if (sum > 1e-10 * before) g[j * n + j] = Math.sqrt(sum);
        else return null;
      }
    }
    return new OrthogonalFit(table, weights, g);
  }

  /**
   * Coefficients c that make Σ w (Σ c f − value)² least.
   *
   * @param rough - without the step that takes what rounding left: good to some nine digits, in half the time
   */
  solve(values: ArrayLike<number>, rough = false): Float64Array {
    const [table, n, m] = [this.#table, this.#n, this.#m];
    const c = this.#once(values);
    if (rough) return c;
    const left = Float64Array.from(values);
    for (let j = 0; j < n; j++) for (let i = 0, at = j * m; i < m; i++, at++) left[i] -= c[j] * table[at];
    const more = this.#once(left);
    for (let j = 0; j < n; j++) c[j] += more[j];
    return c;
  }

  #once(values: ArrayLike<number>): Float64Array {
    const [table, g, n, m] = [this.#table, this.#factor, this.#n, this.#m];
    const weighted = Float64Array.from(this.#weights, (weight, i) => weight * values[i]);
    const c = new Float64Array(n);
    for (let j = 0; j < n; j++) {
      let sum = 0;
      for (let i = 0, at = j * m; i < m; i++, at++) sum += weighted[i] * table[at];
      for (let k = 0; k < j; k++) sum -= g[j * n + k] * c[k];
      c[j] = sum / g[j * n + j];
    }
    for (let j = n - 1; j >= 0; j--) {
      for (let k = j + 1; k < n; k++) c[j] -= g[k * n + j] * c[k];
      c[j] /= g[j * n + j];
    }
    return c;
  }
}

/** Products of n rows of m numbers with one another, the lower triangle; two by two, so that a number is read half as often. */
function products(rows: Float64Array, n: number, m: number): Float64Array {
  const g = new Float64Array(n * n);
  for (let j = 0; j < n; j += 2) {
    const next = j + 1 < n ? m : 0;
    for (let k = 0; k <= j; k += 2) {
      const beside = k + 1 < n ? m : 0;
      let p00 = 0,
        p01 = 0,
        p10 = 0,
        p11 = 0;
      for (let i = 0, a = j * m, b = k * m; i < m; i++, a++, b++) {
        const a0 = rows[a],
          a1 = rows[a + next],
          b0 = rows[b],
          b1 = rows[b + beside];
        p00 += a0 * b0;
        p01 += a0 * b1;
        p10 += a1 * b0;
        p11 += a1 * b1;
      }
      g[j * n + k] = p00;
      if (beside) g[j * n + k + 1] = p01;
      if (next) g[(j + 1) * n + k] = p10;
      if (next && beside) g[(j + 1) * n + k + 1] = p11;
    }
  }
  return g;
}
