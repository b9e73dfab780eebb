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
 * The same for columns that are nearly orthogonal under the weights, such as Zernike polynomials over a pupil: normal equations by
 * Cholesky's method, then one step that takes what rounding left. Several times faster; null where the columns are far from independent.
 */
export function fitNearlyOrthogonal(
  rows: readonly Float64Array[],
  columns: readonly ArrayLike<number>[],
  weights: ArrayLike<number>,
): Float64Array[] | null {
  const [m, n] = [rows.length, rows[0]?.length ?? 0];
  if (m < n || n === 0) return null;
  const g = new Float64Array(n * n);
  for (let i = 0; i < m; i++) {
    const row = rows[i];
    for (let j = 0; j < n; j++) {
      const factor = weights[i] * row[j];
      for (let k = 0, at = j * n; k <= j; k++) g[at + k] += factor * row[k];
    }
  }
  // L in place of the lower triangle.
  for (let j = 0; j < n; j++) {
    const before = g[j * n + j];
    for (let k = 0; k <= j; k++) {
      let sum = g[j * n + k];
      for (let i = 0; i < k; i++) sum -= g[j * n + i] * g[k * n + i];
      if (k < j) g[j * n + k] = sum / g[k * n + k];
      else if (sum > 1e-10 * before) g[j * n + j] = Math.sqrt(sum);
      else return null;
    }
  }
  const solve = (values: ArrayLike<number>): Float64Array => {
    const c = new Float64Array(n);
    for (let i = 0; i < m; i++) {
      const factor = weights[i] * values[i];
      for (let j = 0; j < n; j++) c[j] += factor * rows[i][j];
    }
    for (let j = 0; j < n; j++) {
      for (let k = 0; k < j; k++) c[j] -= g[j * n + k] * c[k];
      c[j] /= g[j * n + j];
    }
    for (let j = n - 1; j >= 0; j--) {
      for (let k = j + 1; k < n; k++) c[j] -= g[k * n + j] * c[k];
      c[j] /= g[j * n + j];
    }
    return c;
  };
  return columns.map((values) => {
    const c = solve(values);
    const left = Float64Array.from(rows, (row, i) => {
      let sum = values[i];
      for (let j = 0; j < n; j++) sum -= row[j] * c[j];
      return sum;
    });
    const more = solve(left);
    for (let j = 0; j < n; j++) c[j] += more[j];
    return c;
  });
}
