/**
 * The autocorrelation of a rectangle of complex numbers at a whole shift: see `compute/correlation.ts`. Real and imaginary parts lie in
 * planes of their own, row by row. AssemblyScript, built by `npm run kernels`.
 */

/** First free byte of the memory. */
export function heap(): usize {
  return __heap_base;
}

/**
 * Writes Σ P(u + s) P*(u) over all places where both are inside.
 *
 * @param right - shift in columns, 0 or more
 * @param up - shift in rows, 0 or more
 * @param out - where the real and the imaginary part of the sum go
 */
export function correlate(re: usize, im: usize, columns: usize, rows: usize, right: usize, up: usize, out: usize): void {
  let sumRe = f64x2.splat(0);
  let sumIm = f64x2.splat(0);
  let lastRe = 0.0;
  let lastIm = 0.0;
  const across = (up * columns + right) << 3;
  const width = columns - right;
  const pairs = width - (width & 1);
  for (let row: usize = 0; row + up < rows; row++) {
    const from = (row * columns) << 3;
    let a = re + from;
    let b = im + from;
    const end = a + (pairs << 3);
    for (; a < end; a += 16, b += 16) {
      const ar = v128.load(a);
      const ai = v128.load(b);
      const br = v128.load(a + across);
      const bi = v128.load(b + across);
      sumRe = f64x2.add(sumRe, f64x2.add(f64x2.mul(br, ar), f64x2.mul(bi, ai)));
      sumIm = f64x2.add(sumIm, f64x2.sub(f64x2.mul(bi, ar), f64x2.mul(br, ai)));
    }
    if (width & 1) {
      const ar = load<f64>(a);
      const ai = load<f64>(b);
      const br = load<f64>(a + across);
      const bi = load<f64>(b + across);
      lastRe += br * ar + bi * ai;
      lastIm += bi * ar - br * ai;
    }
  }
  store<f64>(out, lastRe + f64x2.extract_lane(sumRe, 0) + f64x2.extract_lane(sumRe, 1));
  store<f64>(out + 8, lastIm + f64x2.extract_lane(sumIm, 0) + f64x2.extract_lane(sumIm, 1));
}
