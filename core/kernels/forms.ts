/**
 * Quadratic forms at many places side by side: see `compute/quadratic-forms.ts`. AssemblyScript, built by `npm run kernels`.
 */

/** Places of a block; a row of the memory is as long. */
const BLOCK: usize = 64;
const ROW: usize = BLOCK << 3;

/** First free byte of the memory. */
export function heap(): usize {
  return __heap_base;
}

/**
 * Writes value + Σᵢ xᵢ(slopeᵢ + Σⱼ qᵢⱼxⱼ), j up to i, for a block of places.
 *
 * @param n - quantities x
 * @param half - the lower half of q, row by row; 0 where the form is linear
 * @param x - a row of places for each quantity
 * @param out - a row
 */
export function form(n: usize, value: f64, slopes: usize, half: usize, x: usize, out: usize): void {
  for (let b: usize = 0; b < ROW; b += 64) {
    let y0 = f64x2.splat(value);
    let y1 = y0, y2 = y0, y3 = y0;
    let q = half;
    let own = x + b;
    for (let i: usize = 0; i < n; i++, own += ROW) {
      let r0 = f64x2.splat(load<f64>(slopes + (i << 3)));
      let r1 = r0, r2 = r0, r3 = r0;
      if (half != 0) {
        for (let other = x + b; other <= own; other += ROW, q += 8) {
          const factor = f64x2.splat(load<f64>(q));
          r0 = f64x2.add(r0, f64x2.mul(factor, v128.load(other)));
          r1 = f64x2.add(r1, f64x2.mul(factor, v128.load(other, 16)));
          r2 = f64x2.add(r2, f64x2.mul(factor, v128.load(other, 32)));
          r3 = f64x2.add(r3, f64x2.mul(factor, v128.load(other, 48)));
        }
      }
      y0 = f64x2.add(y0, f64x2.mul(r0, v128.load(own)));
      y1 = f64x2.add(y1, f64x2.mul(r1, v128.load(own, 16)));
      y2 = f64x2.add(y2, f64x2.mul(r2, v128.load(own, 32)));
      y3 = f64x2.add(y3, f64x2.mul(r3, v128.load(own, 48)));
    }
    v128.store(out + b, y0);
    v128.store(out + b, y1, 16);
    v128.store(out + b, y2, 32);
    v128.store(out + b, y3, 48);
  }
}
