/** One term a·xⁱyʲ. */
export interface Term {
  readonly i: number;
  readonly j: number;
  readonly a: number;
}

const POWERS_X: number[] = [];
const POWERS_Y: number[] = [];

function fillPowers(powers: number[], x: number, highest: number): void {
  powers[0] = 1;
  for (let i = 1; i <= highest; i++) powers[i] = powers[i - 1] * x;
}

/** Adds the value of a polynomial and its derivatives (f, f_x, f_y, f_xx, f_xy, f_yy; three of them where `out` is so short). */
export function addPolynomial(terms: readonly Term[], x: number, y: number, factor: number, out: Float64Array): void {
  const second = out.length >= 6;
  const highest = terms.reduce((most, { i, j }) => Math.max(most, i, j), 0);
  fillPowers(POWERS_X, x, highest);
  fillPowers(POWERS_Y, y, highest);
  let [f, fx, fy, fxx, fxy, fyy] = [0, 0, 0, 0, 0, 0];
  for (const { i, j, a } of terms) {
    const [xi, yj] = [POWERS_X[i], POWERS_Y[j]];
    const [dx, dy] = [i > 0 ? i * POWERS_X[i - 1] : 0, j > 0 ? j * POWERS_Y[j - 1] : 0];
    f += a * xi * yj;
    fx += a * dx * yj;
    fy += a * xi * dy;
    if (!second) continue;
    fxx += i > 1 ? a * i * (i - 1) * POWERS_X[i - 2] * yj : 0;
    fxy += a * dx * dy;
    fyy += j > 1 ? a * j * (j - 1) * POWERS_Y[j - 2] * xi : 0;
  }
  out[0] += factor * f;
  out[1] += factor * fx;
  out[2] += factor * fy;
  if (!second) return;
  out[3] += factor * fxx;
  out[4] += factor * fxy;
  out[5] += factor * fyy;
}
