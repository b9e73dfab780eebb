/** A least-squares problem brought to a triangle by Householder reflections; G. Golub, Numer. Math. 7, 206 (1965). */
export interface Triangle {
  /** Number of unknowns. */
  readonly n: number;
  /** R, column by column: entry n·j + i is R[i][j], i ≤ j. */
  readonly r: Float64Array;
  /** The first n entries of Qᵀ·right. */
  readonly q: Float64Array;
}

/**
 * Brings min |J·s + f|² to min |R·s + q|² + what no s changes. Columns that depend on others give a zero on the diagonal.
 *
 * @param columns - of J, each of length m; they and `f` are left as they are
 */
export function triangleOf(columns: readonly Float64Array[], f: Float64Array): Triangle {
  const [n, m] = [columns.length, f.length];
  const a = new Float64Array(n * m);
  columns.forEach((column, j) => a.set(column, j * m));
  const right = f.slice();
  const r = new Float64Array(n * n);
  for (let j = 0; j < n; j++) {
    const start = j * m;
    let square = 0;
    for (let i = j; i < m; i++) square += a[start + i] * a[start + i];
    const length = Math.sqrt(square);
    for (let i = 0; i < Math.min(j, m); i++) r[n * j + i] = a[start + i];
    if (j >= m || length === 0) continue;
    const alpha = a[start + j] > 0 ? -length : length;
    r[n * j + j] = alpha;
    a[start + j] -= alpha;
    const beta = -alpha * a[start + j]; // half of |v|²
    for (let k = j + 1; k < n; k++) {
      const other = k * m;
      let dot = 0;
      for (let i = j; i < m; i++) dot += a[start + i] * a[other + i];
      const factor = dot / beta;
      for (let i = j; i < m; i++) a[other + i] -= factor * a[start + i];
    }
    let dot = 0;
    for (let i = j; i < m; i++) dot += a[start + i] * right[i];
    const factor = dot / beta;
    for (let i = j; i < m; i++) right[i] -= factor * a[start + i];
  }
  const q = new Float64Array(n);
  q.set(right.subarray(0, Math.min(n, m)));
  return { n, r, q };
}

/**
 * The s of min |R·s + q|² + λ |D·s|²: for λ = 0 by back substitution, unknowns without a diagonal of their own left at 0; else by
 * bringing [R; √λ·D] to a triangle in its turn.
 */
export function dampedStep({ n, r, q }: Triangle, d: Float64Array, lambda: number): Float64Array {
  if (lambda === 0) return backSubstitute(n, r, q);
  const columns = Array.from({ length: n }, (_, j) => {
    const column = new Float64Array(2 * n);
    column.set(r.subarray(n * j, n * j + n));
    column[n + j] = Math.sqrt(lambda) * d[j];
    return column;
  });
  const right = new Float64Array(2 * n);
  right.set(q);
  const damped = triangleOf(columns, right);
  return backSubstitute(n, damped.r, damped.q);
}

function backSubstitute(n: number, r: Float64Array, q: Float64Array): Float64Array {
  let largest = 0;
  for (let j = 0; j < n; j++) largest = Math.max(largest, Math.abs(r[n * j + j]));
  const s = new Float64Array(n);
  for (let j = n - 1; j >= 0; j--) {
    if (!(Math.abs(r[n * j + j]) > 1e-14 * largest)) continue;
    let sum = -q[j];
    for (let k = j + 1; k < n; k++) sum -= r[n * k + j] * s[k];
    s[j] = sum / r[n * j + j];
  }
  return s;
}

/** |R·s + q|². */
export function residualSquare({ n, r, q }: Triangle, s: Float64Array): number {
  let square = 0;
  for (let i = 0; i < n; i++) {
    let sum = q[i];
    for (let j = i; j < n; j++) sum += r[n * j + i] * s[j];
    square += sum * sum;
  }
  return square;
}

/** How much of |f|² the unknowns could take away: the square of its part along the columns. */
export function reachableSquare({ n, r, q }: Triangle): number {
  let square = 0;
  for (let i = 0; i < n; i++) if (r[n * i + i] !== 0) square += q[i] * q[i];
  return square;
}
