import type { Rigid } from '../math/rigid.ts';
import { BackKernel, type BackExports } from './back-kernel.ts';
import { KERNEL_BYTES } from './surfaces-kernel.generated.ts';
import { rayBlock, type RayBlock } from './ray-block.ts';
import * as at from './records.generated.ts';
import { compileKernel } from './wasm.ts';

/** A shape that the compiled kernel knows: a conic of revolution with even powers of r. */
export interface KernelForm {
  /** Curvature of the conic, 1/mm. */
  readonly c: number;
  readonly k: number;
  /** Coefficients of r², r⁴ …, at most `MOST_TERMS`. */
  readonly terms: Float64Array;
}

/**
 * The compiled kernel with the one block of rays that it works on. Arguments stand one by one rather than in objects: a lens is
 * thousands of calls.
 */
export interface TraceKernel {
  /** `KERNEL_BLOCK` rays in the kernel's own memory. */
  readonly block: RayBlock;
  /**
   * Takes the first `count` rays of the block through a surface, to the frame of the next vertex.
   *
   * @param before - refractive index in front; behind likewise
   * @param clear - semi-aperture that clips, mm; Infinity for none
   * @param gap - distance to the next vertex, mm, taken off z of the rays that go on
   * @param surface - number of the surface, for the rays that end here
   * @param close - whether all rays start within some tens of centimetres of the vertex: fewer digits need to be saved then
   * @param normals - whether the block's normals are needed afterwards
   */
  trace(
    form: KernelForm,
    count: number,
    before: number,
    behind: number,
    reflects: boolean,
    clear: number,
    gap: number,
    surface: number,
    close: boolean,
    normals: boolean,
  ): void;
  /** The first half of `trace`: to the surface, with its normals; directions stay. */
  meet(form: KernelForm, count: number, before: number, clear: number, surface: number): void;
  /** The second half: reflection or refraction of the rays that go on, and the step. */
  turn(count: number, before: number, behind: number, reflects: boolean, gap: number, surface: number): void;
  /** p ↦ shift + R·p, d ↦ R·d, for those of the first `count` rays that go on. */
  move(count: number, motion: Rigid): void;
  /** What takes derivatives back through bundles that fit into the block. */
  readonly back: BackKernel;
}

interface Exports extends BackExports {
  block(): number;
  sphere(...numbers: (number | boolean)[]): void;
  conic(...numbers: (number | boolean)[]): void;
  evenAsphere(...numbers: (number | boolean)[]): void;
  turn(...numbers: (number | boolean)[]): void;
  move(...numbers: number[]): void;
}

/** Rays that the kernel takes at a time. */
export const KERNEL_BLOCK = at.TRACE_RAYS;
export const MOST_TERMS = 16;

let kernel: TraceKernel | null | undefined;

/**
 * The kernel of this thread, made on first use; null where the machine or its settings have no WebAssembly with SIMD. The TypeScript
 * of the shapes does the same work then, slower.
 */
export function traceKernel(): TraceKernel | null {
  if (kernel === undefined) kernel = instantiate();
  return kernel;
}

function instantiate(): TraceKernel | null {
  const module = compileKernel(KERNEL_BYTES);
  if (!module) return null;
  const exports = module.instantiate({}) as Exports;
  // Before any view is laid over the memory: growing it takes views away.
  const back = new BackKernel(exports, KERNEL_BLOCK);
  const { block, terms } = views(exports.memory.buffer, exports.block());
  let loaded: Float64Array | null = null; // what stands in the place for terms
  const trace: TraceKernel['trace'] = (
    { c, k, terms: values },
    count,
    before,
    behind,
    reflects,
    clear,
    gap,
    surface,
    close,
    normals,
  ) => {
    const clearSq = clear * clear;
    if (values.length > 0) {
      if (loaded !== values) terms.fill(0).set(values);
      loaded = values;
      exports.evenAsphere(count, c, k, values.length, before, behind, reflects, clearSq, gap, surface, close, normals);
    } else if (k !== 0) exports.conic(count, c, k, before, behind, reflects, clearSq, gap, surface, close, normals);
    else exports.sphere(count, c, before, behind, reflects, clearSq, gap, surface, close, normals);
  };
  return {
    block,
    trace,
    meet: (form, count, before, clear, surface) =>
      trace(form, count, before, before, false, clear, 0, surface, false, true),
    turn: (count, before, behind, reflects, gap, surface) =>
      exports.turn(count, before, behind, reflects, gap, surface),
    move: (count, { shift: [x, y, z], rotation: r }) =>
      exports.move(count, x, y, z, r[0], r[1], r[2], r[3], r[4], r[5], r[6], r[7], r[8]),
    back,
  };
}

/** Views on the columns of the kernel's block. */
function views(buffer: ArrayBuffer, base: number): { block: RayBlock; terms: Float64Array } {
  const column = (offset: number) => new Float64Array(buffer, base + offset, KERNEL_BLOCK);
  const block: RayBlock = {
    ...rayBlock(0),
    capacity: KERNEL_BLOCK,
    x: column(at.TRACE_X),
    y: column(at.TRACE_Y),
    z: column(at.TRACE_Z),
    l: column(at.TRACE_L),
    m: column(at.TRACE_M),
    n: column(at.TRACE_N),
    path: column(at.TRACE_PATH),
    nx: column(at.TRACE_NX),
    ny: column(at.TRACE_NY),
    nz: column(at.TRACE_NZ),
    t: column(at.TRACE_T),
    status: new Uint8Array(buffer, base + at.TRACE_STATUS, KERNEL_BLOCK),
    at: new Int16Array(buffer, base + at.TRACE_AT, KERNEL_BLOCK),
  };
  return { block, terms: new Float64Array(buffer, base + at.TRACE_SIZE, MOST_TERMS) };
}
