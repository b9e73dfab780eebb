/**
 * The loops over many boxes that a mesh's tree is built with: see `bodies/mesh-tree.ts`, whose TypeScript does the same where there is no
 * WebAssembly. A box is eight words: lower bounds, its number, upper bounds, nothing. AssemblyScript, built by `npm run kernels`.
 */

/** By bin, at most 16: lower and upper bounds, four words each; then how many boxes. */
const BINS: usize = memory.data(16 * 32, 16);
const COUNTS: usize = memory.data(16 * 4, 16);

export function bins(): usize {
  return BINS;
}

export function counts(): usize {
  return COUNTS;
}

/** First free byte of the memory. */
export function heap(): usize {
  return __heap_base;
}

// @ts-ignore: decorator
@inline
function binOf(box: usize, offset: usize, first: f64, scale: f64): i32 {
  return i32((f64(load<f32>(box + offset)) + f64(load<f32>(box + offset, 16)) - first) * scale);
}

/** Bounds and numbers of the boxes from `from` to `to` whose middles lie in each of `many` bins. */
export function fillBins(boxes: usize, from: i32, to: i32, axis: i32, first: f64, scale: f64, many: i32): void {
  for (let bin = 0; bin < many; bin++) {
    store<i32>(COUNTS + 4 * usize(bin), 0);
    v128.store(BINS + 32 * usize(bin), f32x4.splat(Infinity));
    v128.store(BINS + 32 * usize(bin), f32x4.splat(-Infinity), 16);
  }
  const offset: usize = 4 * usize(axis);
  const end = boxes + 32 * usize(to);
  for (let box = boxes + 32 * usize(from); box < end; box += 32) {
    const bin = usize(binOf(box, offset, first, scale));
    const count = COUNTS + 4 * bin;
    store<i32>(count, load<i32>(count) + 1);
    const place = BINS + 32 * bin;
    v128.store(place, f32x4.pmin(v128.load(place), v128.load(box)));
    v128.store(place, f32x4.pmax(v128.load(place, 16), v128.load(box, 16)), 16);
  }
}

/** Brings the boxes of the bins below `place` before the others; number of the first of those. */
export function part(boxes: usize, from: i32, to: i32, axis: i32, first: f64, scale: f64, place: i32): i32 {
  const offset: usize = 4 * usize(axis);
  let left = boxes + 32 * usize(from);
  let right = boxes + 32 * usize(to);
  while (left < right) {
    if (binOf(left, offset, first, scale) < place) left += 32;
    else {
      right -= 32;
      const low = v128.load(left);
      const high = v128.load(left, 16);
      v128.store(left, v128.load(right));
      v128.store(left, v128.load(right, 16), 16);
      v128.store(right, low);
      v128.store(right, high, 16);
    }
  }
  return i32((left - boxes) / 32);
}
