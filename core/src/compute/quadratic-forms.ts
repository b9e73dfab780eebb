import { FORMS_KERNEL_BYTES } from './forms-kernel.generated.ts';
import type { PackedForm } from '../math/quadratic-response.ts';
import { compileKernel, reach, type KernelMemory } from './wasm.ts';

interface Kernel {
  readonly memory: KernelMemory;
  heap(): number;
  form(n: number, value: number, slopes: number, half: number, x: number, out: number): void;
}

/** Places that are evaluated side by side. */
export const FORM_BLOCK = 64;
const ROW = 8 * FORM_BLOCK;

/** What evaluates forms of the same quantities at blocks of places. */
export interface FormBlocks {
  /** A row of `FORM_BLOCK` places for each quantity, to be filled. */
  readonly x: readonly Float64Array[];
  /** Values of each form at the places, a row each. */
  readonly values: readonly Float64Array[];
  /** Fills `values`. */
  evaluate(): void;
}

/**
 * Prepares forms of n quantities.
 *
 * @param compiled - whether the compiled kernel is used, where there is one; tests want both
 */
export function formBlocks(forms: readonly PackedForm[], n: number, compiled = true): FormBlocks {
  const kernel = compiled ? (compileKernel(FORMS_KERNEL_BYTES)?.instantiate({}) as Kernel | undefined) : undefined;
  return kernel ? inKernel(kernel, forms, n) : plainly(forms, n);
}

function inKernel(kernel: Kernel, forms: readonly PackedForm[], n: number): FormBlocks {
  let next = (kernel.heap() + 15) & ~15;
  const take = (bytes: number) => {
    const at = next;
    next += (bytes + 15) & ~15;
    return at;
  };
  const x = take(n * ROW);
  const places = forms.map(({ slopes, half }) => ({
    slopes: take(8 * slopes.length),
    half: half.length > 0 ? take(8 * half.length) : 0,
    out: take(ROW),
  }));
  reach(kernel.memory, next);
  const view = (at: number, length: number) => new Float64Array(kernel.memory.buffer, at, length);
  forms.forEach(({ slopes, half }, f) => {
    view(places[f].slopes, slopes.length).set(slopes);
    if (half.length > 0) view(places[f].half, half.length).set(half);
  });
  return {
    x: Array.from({ length: n }, (_, i) => view(x + i * ROW, FORM_BLOCK)),
    values: places.map(({ out }) => view(out, FORM_BLOCK)),
    evaluate: () =>
      forms.forEach(({ value }, f) => kernel.form(n, value, places[f].slopes, places[f].half, x, places[f].out)),
  };
}

/** The same where there is no WebAssembly, and for tests to compare with. */
function plainly(forms: readonly PackedForm[], n: number): FormBlocks {
  const rows = (count: number) => Array.from({ length: count }, () => new Float64Array(FORM_BLOCK));
  const [x, values] = [rows(n), rows(forms.length)];
  const evaluate = () =>
    forms.forEach(({ value, slopes, half }, f) => {
      for (let b = 0; b < FORM_BLOCK; b++) {
        let sum = value;
        for (let i = 0, at = 0; i < n; i++) {
          let row = slopes[i];
          if (half.length > 0) for (let j = 0; j <= i; j++) row += half[at++] * x[j][b];
          sum += row * x[i][b];
        }
        values[f][b] = sum;
      }
    });
  return { x, values, evaluate };
}
