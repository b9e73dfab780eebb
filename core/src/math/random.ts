/** What hands out numbers between 0 and 1. */
export interface UniformSource {
  /** Evenly distributed between 0 and 1, neither included. */
  uniform(): number;
}

/**
 * Random numbers of one stream: xoshiro128** of D. Blackman and S. Vigna (2018), seeded through splitmix32. Streams of different
 * seeds or numbers are independent for every purpose of a trace.
 */
export class RandomStream implements UniformSource {
  #a: number;
  #b: number;
  #c: number;
  #d: number;

  /**
   * @param seed - what the user chose, a whole number
   * @param stream - number of the stream under that seed
   */
  constructor(seed: number, stream: number) {
    let state = (Math.imul(seed | 0, 0x9e3779b1) ^ Math.imul((stream | 0) + 1, 0x85ebca6b)) | 0;
    const next = () => {
      state = (state + 0x9e3779b9) | 0;
      let mixed = state ^ (state >>> 16);
      mixed = Math.imul(mixed, 0x21f0aaad);
      mixed ^= mixed >>> 15;
      mixed = Math.imul(mixed, 0x735a2d97);
      return mixed ^ (mixed >>> 15);
    };
    this.#a = next();
    this.#b = next();
    this.#c = next();
    this.#d = next() | 1; // all zeros would stay there
  }

  /** 32 random bits. */
  bits(): number {
    const five = Math.imul(this.#b, 5);
    const result = Math.imul((five << 7) | (five >>> 25), 9);
    const shifted = this.#b << 9;
    this.#c ^= this.#a;
    this.#d ^= this.#b;
    this.#b ^= this.#c;
    this.#a ^= this.#d;
    this.#c ^= shifted;
    this.#d = (this.#d << 11) | (this.#d >>> 21);
    return result >>> 0;
  }

  /** Evenly distributed between 0 and 1, neither included. */
  uniform(): number {
    return (this.bits() + 0.5) * 2.3283064365386963e-10;
  }
}

/** Weyl's step between the counters of draws: 2³² over the golden ratio. */
const STEP = 0x9e3779b9;

/** Mixes 32 bits so that each bit of the result hangs on all of them; constants of the hash prospector of C. Wellons (2018). */
export function mixBits(bits: number): number {
  let x = bits ^ (bits >>> 16);
  x = Math.imul(x, 0x21f0aaad);
  x ^= x >>> 15;
  x = Math.imul(x, 0x735a2d97);
  return x ^ (x >>> 15);
}

/**
 * Random numbers of one ray: the draw of number k is a hash of its key and k. They do not hang on when, or beside which other rays, it
 * is traced. The compiled tracer (`kernels/scene`) draws the same.
 */
export class KeyedRandom implements UniformSource {
  /** The key, two words of 32 bits. */
  a = 0;
  b = 0;
  /** Draws so far. */
  count = 0;

  uniform(): number {
    const bits = mixBits(mixBits((this.a + Math.imul(++this.count, STEP)) | 0) ^ this.b);
    return ((bits >>> 0) + 0.5) * 2.3283064365386963e-10;
  }
}
