declare module 'fft.js' {
  /** Complex transform of a power of two; numbers lie as real and imaginary parts in turn. */
  export default class FFT {
    constructor(size: number);
    transform(out: Float64Array, data: Float64Array): void;
  }
}
