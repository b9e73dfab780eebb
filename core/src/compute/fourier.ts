import FFT from 'fft.js';
import { FOURIER_KERNEL_BYTES } from './fourier-kernel.generated.ts';
import { compileKernel, reach, type KernelMemory, type KernelModule } from './wasm.ts';

interface Kernel {
  readonly memory: KernelMemory;
  heap(): number;
  transform(
    re: number,
    im: number,
    n: number,
    table: number,
    place: number,
    buffer: number,
    from: number,
    to: number,
  ): void;
}

/** A square of complex numbers, row by row, with its Fourier transform. */
export interface Fourier {
  /** Numbers on a side. */
  readonly n: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
  /**
   * Puts Σ f(j, l) exp(−2πi(jk + lm)/n) in place of f; not divided by anything.
   *
   * @param from - rows before this one, and from `to` on, hold nothing but zeros
   */
  transform(from?: number, to?: number): void;
}

const LEAST = 8;
const MOST = 4096;
let compiled: KernelModule | null | undefined;
const squares = new Map<number, Fourier>();

/**
 * The square of a size, its memory shared by all who ask for that size: fill it, transform it and read it in one go.
 *
 * @param n - a power of two from 8 to 4096
 * @throws RangeError for any other size: a mistake in the code that asks
 */
export function fourierSquare(n: number): Fourier {
  if (!Number.isInteger(Math.log2(n)) || n < LEAST || n > MOST)
    throw new RangeError(`a transform needs a power of two from ${LEAST} to ${MOST}, not ${n}`);
  let square = squares.get(n);
  if (!square) {
    compiled ??= compileKernel(FOURIER_KERNEL_BYTES);
    square = compiled ? kernelSquare(compiled, n) : plainSquare(n);
    squares.set(n, square);
  }
  return square;
}

function kernelSquare(module: KernelModule, n: number): Fourier {
  const kernel = module.instantiate({}) as Kernel;
  const start = (kernel.heap() + 15) & ~15;
  const plane = 8 * n * n;
  const [re, im, table, buffer] = [start, start + plane, start + 2 * plane, start + 2 * plane + 16 * n];
  const place = buffer + 128 * n;
  reach(kernel.memory, place + 4 * n);
  const bytes = kernel.memory.buffer;
  const turns = new Float64Array(bytes, table, 2 * n);
  for (let k = 0; k < n; k++) {
    turns[2 * k] = Math.cos((2 * Math.PI * k) / n);
    turns[2 * k + 1] = -Math.sin((2 * Math.PI * k) / n);
  }
  new Uint32Array(bytes, place, n).set(Array.from({ length: n }, (_, k) => placeOf(k, n)));
  return {
    n,
    re: new Float64Array(bytes, re, n * n),
    im: new Float64Array(bytes, im, n * n),
    transform(from = 0, to = n) {
      kernel.transform(re, im, n, table, place, buffer, from & ~7, Math.min(n, (to + 7) & ~7));
    },
  };
}

/** Where steps of four, and one of two where the length asks for it, leave the number of an order. */
function placeOf(k: number, length: number): number {
  if (length === 1) return 0;
  const radix = length >= 4 ? 4 : 2;
  return (k % radix) * (length / radix) + placeOf(Math.floor(k / radix), length / radix);
}

/** The same where there is no WebAssembly, and for tests to compare with. */
export function plainSquare(n: number): Fourier {
  const [re, im] = [new Float64Array(n * n), new Float64Array(n * n)];
  const line = new FFT(n);
  const [given, found] = [new Float64Array(2 * n), new Float64Array(2 * n)];
  const along = (first: number, step: number) => {
    for (let k = 0; k < n; k++) [given[2 * k], given[2 * k + 1]] = [re[first + k * step], im[first + k * step]];
    line.transform(found, given);
    for (let k = 0; k < n; k++) [re[first + k * step], im[first + k * step]] = [found[2 * k], found[2 * k + 1]];
  };
  return {
    n,
    re,
    im,
    transform() {
      for (let row = 0; row < n; row++) along(row * n, 1);
      for (let column = 0; column < n; column++) along(column, n);
    },
  };
}
