/**
 * Real roots between two places of a polynomial Σ cᵢ tⁱ, rising, written into `out`; roots that only touch zero may be left out.
 *
 * Between two neighbouring places where its derivative vanishes a polynomial has at most one root, found by bisection and Newton's
 * method together. The derivative's roots come the same way, down to a straight line.
 *
 * @param c - coefficients, the constant first
 * @returns how many there are
 */
export function realRoots(c: readonly number[], from: number, to: number, out: Float64Array): number {
  const degree = c.length - 1;
  if (degree === 1) {
    const t = -c[0] / c[1];
    if (!(t >= from && t <= to)) return 0;
    out[0] = t;
    return 1;
  }
  const turns = new Float64Array(degree);
  const slopes = c.slice(1).map((value, i) => value * (i + 1));
  const count = realRoots(slopes, from, to, turns);
  let roots = 0;
  let a = from;
  let fa = valueOf(c, a);
  for (let k = 0; k <= count; k++) {
    const b = k < count ? turns[k] : to;
    const fb = valueOf(c, b);
    if (fa === 0) out[roots++] = a;
    else if (fa * fb < 0) out[roots++] = rootBetween(c, slopes, a, b, fa);
    [a, fa] = [b, fb];
  }
  if (fa === 0) out[roots++] = a;
  return roots;
}

function valueOf(c: readonly number[], t: number): number {
  let value = 0;
  for (let i = c.length - 1; i >= 0; i--) value = value * t + c[i];
  return value;
}

function rootBetween(
  c: readonly number[],
  slopes: readonly number[],
  from: number,
  to: number,
  atFrom: number,
): number {
  let [a, b] = [from, to];
  let t = (a + b) / 2;
  for (let step = 0; step < 200; step++) {
    const value = valueOf(c, t);
    if (value === 0) return t;
    if (value * atFrom > 0) a = t;
    else b = t;
    let next = t - value / valueOf(slopes, t);
    if (!(next > a && next < b)) next = (a + b) / 2;
    if (Math.abs(next - t) <= 1e-15 * Math.max(1, Math.abs(t)) || next === a || next === b) return next;
    t = next;
  }
  return t;
}
