import { PolynomialBasis } from './polynomial-basis.ts';
import { nollIndex, zernikeTerms } from './zernike.ts';

/** All Zernike polynomials in Noll's order up to a radial degree. */
export class ZernikeBasis extends PolynomialBasis {
  readonly #degree: number;
  /** By polynomial: azimuthal frequency, and coefficients of ρ^(n−m) in powers of ρ², with its norm. */
  readonly #radial: readonly { readonly m: number; readonly a: Float64Array }[];

  constructor(degree: number) {
    const count = ((degree + 1) * (degree + 2)) / 2;
    super(Array.from({ length: count }, (_, k) => zernikeTerms('noll', k + 1)));
    this.#degree = degree;
    this.#radial = Array.from({ length: count }, (_, k) => {
      const { n, m } = nollIndex(k + 1);
      const frequency = Math.abs(m);
      // Along +x, where cos mθ is 1, and for sines with the cosine that has the same radial part.
      const terms = zernikeTerms('noll', m < 0 ? cosineOf(n, frequency) : k + 1).filter(({ j }) => j === 0);
      const a = new Float64Array((n - frequency) / 2 + 1);
      for (const { i, a: value } of terms) a[(i - frequency) / 2] = value;
      return { m, a };
    });
  }

  /** Values of all at points, one polynomial after another; several times faster than from their terms. */
  override table(x: ArrayLike<number>, y: ArrayLike<number>): Float64Array {
    const count = x.length;
    const table = new Float64Array(this.count * count);
    const [cosines, sines] = [new Float64Array(this.#degree + 1), new Float64Array(this.#degree + 1)];
    cosines[0] = 1;
    for (let i = 0; i < count; i++) {
      const [px, py] = [x[i], y[i]];
      const square = px * px + py * py;
      for (let m = 1; m <= this.#degree; m++) {
        cosines[m] = cosines[m - 1] * px - sines[m - 1] * py;
        sines[m] = cosines[m - 1] * py + sines[m - 1] * px;
      }
      for (let k = 0; k < this.count; k++) {
        const { m, a } = this.#radial[k];
        let sum = a[a.length - 1];
        for (let p = a.length - 2; p >= 0; p--) sum = sum * square + a[p];
        table[k * count + i] = sum * (m < 0 ? sines[-m] : cosines[m]);
      }
    }
    return table;
  }
}

/** Noll's number of the cosine of a degree and frequency. */
function cosineOf(n: number, m: number): number {
  for (let j = (n * (n + 1)) / 2 + 1; ; j++) if (nollIndex(j).m === m) return j;
}
