import type { Term } from './polynomial2d.ts';

/** Several polynomials in x and y that are evaluated together, powers being made once. */
export class PolynomialBasis {
  readonly count: number;
  readonly #degree: number;
  /** Exponents and coefficients of all terms one after another, and where those of each polynomial begin. */
  readonly #i: Uint8Array;
  readonly #j: Uint8Array;
  readonly #a: Float64Array;
  readonly #from: Uint32Array;
  readonly #x: Float64Array;
  readonly #y: Float64Array;
  readonly #values: Float64Array;

  constructor(polynomials: readonly (readonly Term[])[]) {
    const terms = polynomials.flat();
    this.count = polynomials.length;
    this.#degree = terms.reduce((most, { i, j }) => Math.max(most, i, j), 0);
    this.#i = Uint8Array.from(terms, ({ i }) => i);
    this.#j = Uint8Array.from(terms, ({ j }) => j);
    this.#a = Float64Array.from(terms, ({ a }) => a);
    this.#from = new Uint32Array(this.count + 1);
    polynomials.forEach((list, k) => (this.#from[k + 1] = this.#from[k] + list.length));
    this.#x = new Float64Array(this.#degree + 1).fill(1);
    this.#y = new Float64Array(this.#degree + 1).fill(1);
    this.#values = new Float64Array(this.count);
  }

  /** The sum of all polynomials, each times a number, as one. */
  sum(coefficients: ArrayLike<number>): Polynomial {
    const size = this.#degree + 1;
    const dense = new Float64Array(size * size);
    for (let k = 0; k < this.count; k++)
      for (let t = this.#from[k]; t < this.#from[k + 1]; t++)
        dense[this.#j[t] * size + this.#i[t]] += this.#a[t] * coefficients[k];
    return new Polynomial(dense, size);
  }

  /** Powers of x and of y that moments have, each. */
  get powers(): number {
    return this.#degree + 1;
  }

  /**
   * Σ w Z over weighted points for each polynomial Z, of the points' moments.
   *
   * @param moments - Σ w xⁱyʲ at j·`powers` + i
   */
  ofMoments(moments: Float64Array): Float64Array {
    const size = this.powers;
    return Float64Array.from({ length: this.count }, (_, k) => {
      let sum = 0;
      for (let t = this.#from[k]; t < this.#from[k + 1]; t++)
        sum += this.#a[t] * moments[this.#j[t] * size + this.#i[t]];
      return sum;
    });
  }

  /** Values of all polynomials at points, one polynomial after another. */
  table(x: ArrayLike<number>, y: ArrayLike<number>): Float64Array {
    const count = x.length;
    const table = new Float64Array(this.count * count);
    for (let i = 0; i < count; i++) {
      const values = this.values(x[i], y[i]);
      for (let k = 0; k < this.count; k++) table[k * count + i] = values[k];
    }
    return table;
  }

  /** Values of all polynomials at a point; the list is filled anew by the next call. */
  values(x: number, y: number): Float64Array {
    for (let k = 1; k <= this.#degree; k++) {
      this.#x[k] = this.#x[k - 1] * x;
      this.#y[k] = this.#y[k - 1] * y;
    }
    for (let k = 0; k < this.count; k++) {
      let sum = 0;
      for (let t = this.#from[k]; t < this.#from[k + 1]; t++)
        sum += this.#a[t] * this.#x[this.#i[t]] * this.#y[this.#j[t]];
      this.#values[k] = sum;
    }
    return this.#values;
  }
}

/** One polynomial Σ a xⁱyʲ. */
export class Polynomial {
  readonly #a: Float64Array;
  readonly #size: number;
  /** By power of y: the highest power of x beside it. */
  readonly #highest: Int32Array;

  /** @param a - row by row, one row a power of y, `size` powers of x each */
  constructor(a: Float64Array, size: number) {
    this.#a = a;
    this.#size = size;
    this.#highest = Int32Array.from({ length: size }, (_, j) => {
      let i = size - 1;
      while (i >= 0 && a[j * size + i] === 0) i--;
      return i;
    });
  }

  /** Its value at a point, by Horner's scheme. */
  at(x: number, y: number): number {
    let sum = 0;
    for (let j = this.#size - 1; j >= 0; j--) {
      let row = 0;
      for (let i = this.#highest[j]; i >= 0; i--) row = row * x + this.#a[j * this.#size + i];
      sum = sum * y + row;
    }
    return sum;
  }

  /** Coefficients of what it is along a line: by powers of x where y is given (axis 0), of y where x is given (axis 1). */
  along(axis: 0 | 1, at: number): Float64Array {
    const size = this.#size;
    const line = new Float64Array(size);
    const [step, across] = axis === 0 ? [1, size] : [size, 1];
    for (let power = 0; power < size; power++) {
      let sum = 0;
      for (let other = size - 1; other >= 0; other--) sum = sum * at + this.#a[power * step + other * across];
      line[power] = sum;
    }
    return line;
  }

  /** Writes its derivatives by x and y at a point into `out`. */
  slope(x: number, y: number, out: Float64Array): void {
    let [value, byX, byY] = [0, 0, 0];
    for (let j = this.#size - 1; j >= 0; j--) {
      let [row, change] = [0, 0];
      for (let i = this.#highest[j]; i >= 0; i--) {
        change = change * x + row;
        row = row * x + this.#a[j * this.#size + i];
      }
      byY = byY * y + value;
      value = value * y + row;
      byX = byX * y + change;
    }
    out[0] = byX;
    out[1] = byY;
  }
}

/** A polynomial of one variable by its coefficients, lowest power first. */
export function horner(coefficients: Float64Array, x: number): number {
  let sum = 0;
  for (let k = coefficients.length - 1; k >= 0; k--) sum = sum * x + coefficients[k];
  return sum;
}
