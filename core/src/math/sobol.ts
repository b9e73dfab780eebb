import type { RandomStream } from './random.ts';

const BITS = 32;

/** Primitive polynomials and first direction numbers: S. Joe and F. Kuo, new-joe-kuo-6.21201 (2010); dimension 1 is van der Corput's. */
const TABLE: readonly { readonly degree: number; readonly a: number; readonly m: readonly number[] }[] = [
  { degree: 1, a: 0, m: [1] },
  { degree: 2, a: 1, m: [1, 3] },
  { degree: 3, a: 1, m: [1, 3, 1] },
  { degree: 3, a: 2, m: [1, 1, 1] },
  { degree: 4, a: 1, m: [1, 1, 3, 3] },
  { degree: 4, a: 4, m: [1, 3, 5, 13] },
];

/** Largest number of dimensions. */
export const SOBOL_DIMENSIONS = TABLE.length + 1;

/** By dimension: the direction numbers, one a bit of the index. */
export const SOBOL_DIRECTIONS: readonly Uint32Array[] = [
  Uint32Array.from({ length: BITS }, (_, bit) => 2 ** (BITS - 1 - bit)),
  ...TABLE.map(({ degree, a, m }) => {
    const v = new Uint32Array(BITS);
    for (let bit = 0; bit < BITS; bit++) {
      if (bit < degree) {
        v[bit] = (m[bit] << (BITS - 1 - bit)) >>> 0;
        continue;
      }
      let w = v[bit - degree] ^ (v[bit - degree] >>> degree);
      for (let k = 1; k < degree; k++) if ((a >> (degree - 1 - k)) & 1) w ^= v[bit - k];
      v[bit] = w >>> 0;
    }
    return v;
  }),
];

/**
 * Points of a Sobol sequence in Gray-code order (Antonov and Saleev, 1979), all digits of a coordinate shifted by the same random
 * bits: each point alone is evenly distributed, together they fill the cube evenly, and sequences of different shifts are
 * independent replicates, from whose spread a standard error follows (A. Owen, randomised quasi-Monte Carlo).
 */
export class ShiftedSobol {
  readonly #x: Uint32Array;
  #index = 0;

  constructor(dimensions: number, random: RandomStream) {
    if (dimensions > SOBOL_DIMENSIONS) throw new RangeError(`No ${dimensions} dimensions`);
    this.#x = Uint32Array.from({ length: dimensions }, () => random.bits());
  }

  /** The digits of the next point, 32 bits a coordinate, and its index: where another machine may go on. */
  get state(): { readonly digits: Uint32Array; readonly index: number } {
    return { digits: this.#x, index: this.#index };
  }

  /** Writes the next point, each coordinate between 0 and 1, into `out`. */
  next(out: Float64Array): void {
    const x = this.#x;
    for (let d = 0; d < x.length; d++) out[d] = (x[d] + 0.5) * 2.3283064365386963e-10;
    const bit = Math.clz32(++this.#index & -this.#index) ^ 31;
    for (let d = 0; d < x.length; d++) x[d] ^= SOBOL_DIRECTIONS[d][bit];
  }
}
