/**
 * The two-dimensional Fourier transform of a square of complex numbers, in place: see `math/fourier.ts`. Real and imaginary parts lie
 * in planes of their own, row by row. Eight lines at a time are brought into a small buffer, one number of each line beside the next, and
 * transformed there by steps of four (decimation in frequency: W. T. Cochran et al., IEEE Trans. Audio Electroacoust. 15, 45, 1967), so
 * that every instruction works on two lines and the cache holds what is worked on. AssemblyScript, built by `npm run kernels`.
 */

/** Lines that are transformed together, and bytes of one number of each. */
const LINES: usize = 8;
const STRIDE: usize = LINES * 8;

/** First free byte of the memory. */
export function heap(): usize {
  return __heap_base;
}

// @ts-ignore: decorator
@inline
function splat(address: usize): v128 {
  return v128.load64_splat(address);
}

/**
 * Transforms the eight lines of the buffer in place, with sign −1 in the exponent; their order is that of `place`.
 *
 * @param n - numbers on a line, a power of two, 4 at least
 * @param table - cos and −sin of 2πk/n, side by side
 */
function lines(re: usize, im: usize, n: usize, table: usize): void {
  let length = n;
  while (length >= 4) {
    const quarter = length >> 2;
    const step = n / length;
    const far = quarter * STRIDE;
    for (let j: usize = 0; j < quarter; j++) {
      const one = table + 16 * (j * step);
      const two = table + 16 * (2 * j * step);
      const three = table + 16 * (3 * j * step);
      const c1 = splat(one);
      const s1 = splat(one + 8);
      const c2 = splat(two);
      const s2 = splat(two + 8);
      const c3 = splat(three);
      const s3 = splat(three + 8);
      for (let block: usize = j; block < n; block += length) {
        let r = re + block * STRIDE;
        let i = im + block * STRIDE;
        for (let lane: usize = 0; lane < LINES / 2; lane++) {
          const ar = v128.load(r);
          const ai = v128.load(i);
          const br = v128.load(r + far);
          const bi = v128.load(i + far);
          const cr = v128.load(r + 2 * far);
          const ci = v128.load(i + 2 * far);
          const dr = v128.load(r + 3 * far);
          const di = v128.load(i + 3 * far);
          const pr = f64x2.add(ar, cr);
          const pi = f64x2.add(ai, ci);
          const mr = f64x2.sub(ar, cr);
          const mi = f64x2.sub(ai, ci);
          const qr = f64x2.add(br, dr);
          const qi = f64x2.add(bi, di);
          // −i (b − d)
          const nr = f64x2.sub(bi, di);
          const ni = f64x2.sub(dr, br);
          v128.store(r, f64x2.add(pr, qr));
          v128.store(i, f64x2.add(pi, qi));
          const er = f64x2.add(mr, nr);
          const ei = f64x2.add(mi, ni);
          const fr = f64x2.sub(pr, qr);
          const fi = f64x2.sub(pi, qi);
          const gr = f64x2.sub(mr, nr);
          const gi = f64x2.sub(mi, ni);
          v128.store(r + far, f64x2.sub(f64x2.mul(er, c1), f64x2.mul(ei, s1)));
          v128.store(i + far, f64x2.add(f64x2.mul(er, s1), f64x2.mul(ei, c1)));
          v128.store(r + 2 * far, f64x2.sub(f64x2.mul(fr, c2), f64x2.mul(fi, s2)));
          v128.store(i + 2 * far, f64x2.add(f64x2.mul(fr, s2), f64x2.mul(fi, c2)));
          v128.store(r + 3 * far, f64x2.sub(f64x2.mul(gr, c3), f64x2.mul(gi, s3)));
          v128.store(i + 3 * far, f64x2.add(f64x2.mul(gr, s3), f64x2.mul(gi, c3)));
          r += 16;
          i += 16;
        }
      }
    }
    length = quarter;
  }
  if (length < 2) return;
  for (let block: usize = 0; block < n; block += 2) {
    let r = re + block * STRIDE;
    let i = im + block * STRIDE;
    for (let lane: usize = 0; lane < LINES / 2; lane++) {
      const ar = v128.load(r);
      const ai = v128.load(i);
      const br = v128.load(r + STRIDE);
      const bi = v128.load(i + STRIDE);
      v128.store(r, f64x2.add(ar, br));
      v128.store(i, f64x2.add(ai, bi));
      v128.store(r + STRIDE, f64x2.sub(ar, br));
      v128.store(i + STRIDE, f64x2.sub(ai, bi));
      r += 16;
      i += 16;
    }
  }
}

/** Columns of one plane from `column` on into the buffer, or back in the order of `place`. */
// @ts-ignore: decorator
@inline
function takeColumns(plane: usize, buffer: usize, n: usize, column: usize): void {
  for (let row: usize = 0; row < n; row++) {
    const from = plane + 8 * (row * n + column);
    const to = buffer + row * STRIDE;
    v128.store(to, v128.load(from));
    v128.store(to + 16, v128.load(from + 16));
    v128.store(to + 32, v128.load(from + 32));
    v128.store(to + 48, v128.load(from + 48));
  }
}

// @ts-ignore: decorator
@inline
function giveColumns(plane: usize, buffer: usize, n: usize, column: usize, place: usize): void {
  for (let row: usize = 0; row < n; row++) {
    const to = plane + 8 * (row * n + column);
    const from = buffer + usize(load<u32>(place + 4 * row)) * STRIDE;
    v128.store(to, v128.load(from));
    v128.store(to + 16, v128.load(from + 16));
    v128.store(to + 32, v128.load(from + 32));
    v128.store(to + 48, v128.load(from + 48));
  }
}

// @ts-ignore: decorator
@inline
function takeRows(plane: usize, buffer: usize, n: usize, row: usize): void {
  for (let pair: usize = 0; pair < LINES; pair += 2) {
    const first = plane + 8 * n * (row + pair);
    const second = first + 8 * n;
    const to = buffer + 8 * pair;
    for (let k: usize = 0; k < n; k += 2) {
      const a = v128.load(first + 8 * k);
      const b = v128.load(second + 8 * k);
      v128.store(to + k * STRIDE, v128.shuffle<f64>(a, b, 0, 2));
      v128.store(to + (k + 1) * STRIDE, v128.shuffle<f64>(a, b, 1, 3));
    }
  }
}

// @ts-ignore: decorator
@inline
function giveRows(plane: usize, buffer: usize, n: usize, row: usize, place: usize): void {
  for (let pair: usize = 0; pair < LINES; pair += 2) {
    const first = plane + 8 * n * (row + pair);
    const second = first + 8 * n;
    const from = buffer + 8 * pair;
    for (let k: usize = 0; k < n; k += 2) {
      const a = v128.load(from + usize(load<u32>(place + 4 * k)) * STRIDE);
      const b = v128.load(from + usize(load<u32>(place + 4 * k + 4)) * STRIDE);
      v128.store(first + 8 * k, v128.shuffle<f64>(a, b, 0, 2));
      v128.store(second + 8 * k, v128.shuffle<f64>(a, b, 1, 3));
    }
  }
}

/**
 * Transforms an n × n square in place, Σ f exp(−2πi(jk + lm)/n), not divided by anything. The inverse is the same with both planes
 * changed for one another.
 *
 * @param n - a power of two, 8 at least
 * @param buffer - room for 16 n numbers
 * @param from - rows before this one, and from `to` on, hold nothing but zeros: they need no transform
 */
export function transform(re: usize, im: usize, n: usize, table: usize, place: usize, buffer: usize, from: usize, to: usize): void {
  const other = buffer + n * STRIDE;
  for (let row = from; row < to; row += LINES) {
    takeRows(re, buffer, n, row);
    takeRows(im, other, n, row);
    lines(buffer, other, n, table);
    giveRows(re, buffer, n, row, place);
    giveRows(im, other, n, row, place);
  }
  for (let column: usize = 0; column < n; column += LINES) {
    takeColumns(re, buffer, n, column);
    takeColumns(im, other, n, column);
    lines(buffer, other, n, table);
    giveColumns(re, buffer, n, column, place);
    giveColumns(im, other, n, column, place);
  }
}
