/** One term a·xⁱyʲ. */
export interface Term {
  readonly i: number;
  readonly j: number;
  readonly a: number;
}

/** Adds the value of a polynomial and its derivatives (f, f_x, f_y, f_xx, f_xy, f_yy; three of them where `out` is so short). */
export function addPolynomial(
  terms: readonly Term[],
  x: number,
  y: number,
  factor: number,
  out: Float64Array,
): void {
  let [f, fx, fy, fxx, fxy, fyy] = [0, 0, 0, 0, 0, 0];
  for (const { i, j, a } of terms) {
    const [xi, yj] = [x ** i, y ** j];
    const [dx, dy] = [i > 0 ? i * x ** (i - 1) : 0, j > 0 ? j * y ** (j - 1) : 0];
    f += a * xi * yj;
    fx += a * dx * yj;
    fy += a * xi * dy;
    if (out.length < 6) continue;
    fxx += i > 1 ? a * i * (i - 1) * x ** (i - 2) * yj : 0;
    fxy += a * dx * dy;
    fyy += j > 1 ? a * j * (j - 1) * y ** (j - 2) * xi : 0;
  }
  out[0] += factor * f;
  out[1] += factor * fx;
  out[2] += factor * fy;
  if (out.length < 6) return;
  out[3] += factor * fxx;
  out[4] += factor * fxy;
  out[5] += factor * fyy;
}
