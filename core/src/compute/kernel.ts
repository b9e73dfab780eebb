import { KERNEL_BYTES } from './kernel-bytes.generated.ts';
import { rayBlock, type RayBlock } from './ray-block.ts';

/** The part of the WebAssembly interface that is needed: browsers, workers and Node have it, the core's own types do not. */
declare const WebAssembly:
  | {
      readonly Module: new (bytes: Uint8Array) => object;
      readonly Instance: new (module: object) => { readonly exports: unknown };
    }
  | undefined;
declare function atob(text: string): string;

/** A shape that the compiled kernel knows: a conic of revolution with even powers of r. */
export interface KernelForm {
  /** Curvature of the conic, 1/mm. */
  readonly c: number;
  readonly k: number;
  /** Coefficients of r², r⁴ …, at most `MOST_TERMS`. */
  readonly terms: Float64Array;
}

/** What happens at a surface besides its shape. */
export interface KernelStep {
  readonly before: number;
  readonly behind: number;
  readonly reflects: boolean;
  /** Semi-aperture that clips, mm; Infinity for none. */
  readonly clear: number;
  /** Distance to the next vertex, mm, taken off z of the rays that go on. */
  readonly gap: number;
  /** Number of the surface, for the rays that end here. */
  readonly surface: number;
}

/** The compiled kernel with the one block of rays that it works on. */
export interface TraceKernel {
  /** `KERNEL_BLOCK` rays in the kernel's own memory. */
  readonly block: RayBlock;
  /** Takes the first `count` rays of the block through a surface, to the frame of the next vertex. */
  trace(form: KernelForm, count: number, step: KernelStep): void;
  /** The first half of `trace`: to the surface, with its normals; directions stay. */
  meet(form: KernelForm, count: number, step: Omit<KernelStep, 'gap' | 'reflects' | 'behind'>): void;
  /** The second half: reflection or refraction of the rays that go on, and the step. */
  turn(count: number, step: Omit<KernelStep, 'clear'>): void;
}

interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer };
  block(): number;
  sphere(...numbers: number[]): void;
  conic(...numbers: number[]): void;
  evenAsphere(...numbers: number[]): void;
  turn(...numbers: number[]): void;
}

/** Rays that the kernel takes at a time: few enough for the nearest cache. */
export const KERNEL_BLOCK = 256;
export const MOST_TERMS = 16;

let kernel: TraceKernel | null | undefined;

/**
 * The kernel of this thread, made on first use; null where the machine or its settings have no WebAssembly with SIMD. The TypeScript
 * of the shapes does the same work then, slower.
 */
export function traceKernel(): TraceKernel | null {
  if (kernel === undefined) {
    try {
      kernel = instantiate();
    } catch {
      kernel = null;
    }
  }
  return kernel;
}

function instantiate(): TraceKernel | null {
  if (typeof WebAssembly === 'undefined') return null;
  const bytes = Uint8Array.from(atob(KERNEL_BYTES), (letter) => letter.charCodeAt(0));
  const exports = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as Exports;
  const { block, terms } = views(exports.memory.buffer, exports.block());
  const trace: TraceKernel['trace'] = (
    { c, k, terms: values },
    count,
    { before, behind, reflects, clear, gap, surface },
  ) => {
    const mirror = reflects ? 1 : 0;
    const clearSq = clear * clear;
    if (values.length > 0) {
      terms.set(values);
      exports.evenAsphere(
        count, c, k, values.length, before, behind, mirror, clearSq, gap, surface,
      ); // prettier-ignore
    } else if (k !== 0) exports.conic(count, c, k, before, behind, mirror, clearSq, gap, surface);
    else exports.sphere(count, c, before, behind, mirror, clearSq, gap, surface);
  };
  return {
    block,
    trace,
    meet: (form, count, step) =>
      trace(form, count, { ...step, behind: step.before, reflects: false, gap: 0 }),
    turn: (count, { before, behind, reflects, gap, surface }) =>
      exports.turn(count, before, behind, reflects ? 1 : 0, gap, surface),
  };
}

/** Views on the columns of the kernel's block, in the order in which `kernels/surfaces.ts` lays them out. */
function views(buffer: ArrayBuffer, base: number): { block: RayBlock; terms: Float64Array } {
  const column = (number: number) => new Float64Array(buffer, base + number * KERNEL_BLOCK * 8, KERNEL_BLOCK);
  const small = base + 11 * KERNEL_BLOCK * 8;
  const block: RayBlock = {
    ...rayBlock(0),
    capacity: KERNEL_BLOCK,
    x: column(0), y: column(1), z: column(2), l: column(3), m: column(4), n: column(5), path: column(6),
    nx: column(7), ny: column(8), nz: column(9), t: column(10),
    status: new Uint8Array(buffer, small, KERNEL_BLOCK),
    at: new Int16Array(buffer, small + KERNEL_BLOCK, KERNEL_BLOCK),
  }; // prettier-ignore
  return { block, terms: new Float64Array(buffer, small + 3 * KERNEL_BLOCK, MOST_TERMS) };
}
