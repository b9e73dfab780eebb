import { CORRELATION_KERNEL_BYTES } from './correlation-kernel.generated.ts';
import { compileKernel, reach, type KernelMemory } from './wasm.ts';

interface Kernel {
  readonly memory: KernelMemory;
  heap(): number;
  correlate(re: number, im: number, columns: number, rows: number, right: number, up: number, out: number): void;
}

/** A rectangle of complex numbers, row by row. */
export interface ComplexGrid {
  readonly columns: number;
  readonly rows: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Whole shifts along the columns and along the rows, from 0 on; and what the sum over them is. */
export type Shift = readonly [right: number, up: number];
export interface ComplexNumber {
  readonly re: number;
  readonly im: number;
}

let kernel: Kernel | null | undefined;

/** Σ P(u + s) P*(u) of a grid for each whole shift s; nothing lies outside of it. */
export function correlations(grid: ComplexGrid, shifts: readonly Shift[]): ComplexNumber[] {
  kernel ??= (compileKernel(CORRELATION_KERNEL_BYTES)?.instantiate({}) as Kernel | undefined) ?? null;
  return kernel ? byKernel(kernel, grid, shifts) : plainCorrelations(grid, shifts);
}

function byKernel(kernel: Kernel, { columns, rows, re, im }: ComplexGrid, shifts: readonly Shift[]): ComplexNumber[] {
  const out = (kernel.heap() + 15) & ~15;
  const plane = 8 * columns * rows;
  const [first, second] = [out + 16, out + 16 + plane];
  reach(kernel.memory, second + plane);
  new Float64Array(kernel.memory.buffer, first, columns * rows).set(re);
  new Float64Array(kernel.memory.buffer, second, columns * rows).set(im);
  const sum = new Float64Array(kernel.memory.buffer, out, 2);
  return shifts.map(([right, up]) => {
    if (right >= columns || up >= rows) return { re: 0, im: 0 };
    kernel.correlate(first, second, columns, rows, right, up, out);
    return { re: sum[0], im: sum[1] };
  });
}

/** The same where there is no WebAssembly, and for tests to compare with. */
export function plainCorrelations({ columns, rows, re, im }: ComplexGrid, shifts: readonly Shift[]): ComplexNumber[] {
  return shifts.map(([right, up]) => {
    const across = up * columns + right;
    let [sumRe, sumIm] = [0, 0];
    for (let row = 0; row < rows - up; row++)
      for (let column = 0, at = row * columns; column < columns - right; column++, at++) {
        const beside = at + across;
        sumRe += re[beside] * re[at] + im[beside] * im[at];
        sumIm += im[beside] * re[at] - re[beside] * im[at];
      }
    return { re: sumRe, im: sumIm };
  });
}
