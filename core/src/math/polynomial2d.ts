/** One term a·xⁱyʲ. */
export interface Term {
  readonly i: number;
  readonly j: number;
  readonly a: number;
}

/** Terms of the same powers as one, those that cancel left out. */
export function collected(terms: readonly Term[]): Term[] {
  const sums = new Map<string, Term>();
  for (const { i, j, a } of terms) {
    const key = `${i} ${j}`;
    sums.set(key, { i, j, a: a + (sums.get(key)?.a ?? 0) });
  }
  return [...sums.values()].filter(({ a }) => a !== 0);
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
  let highest = 0;
  for (let k = 0; k < terms.length; k++) highest = Math.max(highest, terms[k].i, terms[k].j);
  fillPowers(POWERS_X, x, highest);
  fillPowers(POWERS_Y, y, highest);
  let f = 0,
    fx = 0,
    fy = 0,
    fxx = 0,
    fxy = 0,
    fyy = 0;
  for (let k = 0; k < terms.length; k++) {
    const { i, j, a } = terms[k];
    const xi = POWERS_X[i];
    const yj = POWERS_Y[j];
    const dx = i > 0 ? i * POWERS_X[i - 1] : 0;
    const dy = j > 0 ? j * POWERS_Y[j - 1] : 0;
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
