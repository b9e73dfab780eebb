import { BOXES_KERNEL_BYTES } from '../compute/boxes-kernel.generated.ts';
import { compileKernel, reach, type KernelMemory, type KernelModule } from '../compute/wasm.ts';

/** Most bins. */
export const MOST_BINS = 16;

/**
 * Boxes in an order that can be changed, eight words each: lower bounds x, y, z, number of the box, upper bounds x, y, z, nothing.
 * What takes long with many of them runs in the compiled kernel (`kernels/boxes.ts`) where there is one.
 */
export interface BoxSorter {
  readonly bounds: Float32Array;
  readonly numbers: Uint32Array;
  /** By bin: lower bounds and a word, upper bounds and a word. */
  readonly bins: Float32Array;
  readonly counts: Int32Array;
  /** Fills the first `many` bins from the boxes `from` to `to`; bin = ⌊(twice the middle − first) · scale⌋. */
  fillBins(from: number, to: number, axis: number, first: number, scale: number, many: number): void;
  /** Brings the boxes of the bins below `place` before the others; number of the first of those. */
  part(from: number, to: number, axis: number, first: number, scale: number, place: number): number;
}

interface Exports {
  readonly memory: KernelMemory;
  heap(): number;
  bins(): number;
  counts(): number;
  fillBins(boxes: number, from: number, to: number, axis: number, first: number, scale: number, many: number): void;
  part(boxes: number, from: number, to: number, axis: number, first: number, scale: number, place: number): number;
}

let module: KernelModule | null | undefined;

/** A sorter with room for `size` boxes, compiled where that can be had. */
export function boxSorter(size: number): BoxSorter {
  if (module === undefined) module = compileKernel(BOXES_KERNEL_BYTES);
  if (!module) return plainSorter(size);
  const kernel = module.instantiate({}) as Exports;
  const place = (kernel.heap() + 15) & ~15;
  reach(kernel.memory, place + 32 * size);
  const { buffer } = kernel.memory;
  return {
    bounds: new Float32Array(buffer, place, 8 * size),
    numbers: new Uint32Array(buffer, place, 8 * size),
    bins: new Float32Array(buffer, kernel.bins(), 8 * MOST_BINS),
    counts: new Int32Array(buffer, kernel.counts(), MOST_BINS),
    fillBins: (from, to, axis, first, scale, many) => kernel.fillBins(place, from, to, axis, first, scale, many),
    part: (from, to, axis, first, scale, bin) => kernel.part(place, from, to, axis, first, scale, bin),
  };
}

/** The same in TypeScript: the kernel's test oracle, and its stand-in. */
export function plainSorter(size: number): BoxSorter {
  const bounds = new Float32Array(8 * size);
  const numbers = new Uint32Array(bounds.buffer);
  const bins = new Float32Array(8 * MOST_BINS);
  const counts = new Int32Array(MOST_BINS);
  const binOf = (at: number, axis: number, first: number, scale: number) =>
    Math.trunc((bounds[at + axis] + bounds[at + 4 + axis] - first) * scale);
  return {
    bounds,
    numbers,
    bins,
    counts,
    fillBins(from, to, axis, first, scale, many) {
      counts.fill(0);
      for (let bin = 0; bin < many; bin++) {
        bins.fill(Infinity, 8 * bin, 8 * bin + 4);
        bins.fill(-Infinity, 8 * bin + 4, 8 * bin + 8);
      }
      for (let i = 8 * from; i < 8 * to; i += 8) {
        const bin = binOf(i, axis, first, scale);
        counts[bin]++;
        for (let k = 0; k < 3; k++) {
          bins[8 * bin + k] = Math.min(bins[8 * bin + k], bounds[i + k]);
          bins[8 * bin + 4 + k] = Math.max(bins[8 * bin + 4 + k], bounds[i + 4 + k]);
        }
      }
    },
    part(from, to, axis, first, scale, place) {
      let left = 8 * from;
      let right = 8 * to;
      while (left < right) {
        if (binOf(left, axis, first, scale) < place) left += 8;
        else {
          right -= 8;
          const moved = numbers.slice(left, left + 8);
          numbers.copyWithin(left, right, right + 8);
          numbers.set(moved, right);
        }
      }
      return left / 8;
    },
  };
}
