/**
 * A smooth curve through points that rises and falls only as they do: C¹, no value between two points lies outside of theirs.
 * Beyond the ends it stays at the end values.
 *
 * M. Steffen, A simple method for monotonic interpolation in one dimension, Astron. Astrophys. 239, 443 (1990).
 *
 * @param x - rising, at least one
 * @param y - as many
 * @throws RangeError when the lists do not fit together or x does not rise
 */
export function monotoneCubic(x: readonly number[], y: readonly number[]): (at: number) => number {
  const count = x.length;
  if (count === 0 || y.length !== count || x.some((value, i) => i > 0 && !(value > x[i - 1])))
    throw new RangeError('monotoneCubic: needs as many values as rising places');
  if (count === 1) return () => y[0];
  const step = (i: number) => x[i + 1] - x[i];
  const slope = (i: number) => (y[i + 1] - y[i]) / step(i);
  const tangents = x.map((_, i) => {
    if (i === 0) return endTangent(slope(0), count > 2 ? slope(1) : slope(0), step(0), count > 2 ? step(1) : 1);
    if (i === count - 1)
      return endTangent(
        slope(count - 2),
        count > 2 ? slope(count - 3) : slope(count - 2),
        step(count - 2),
        count > 2 ? step(count - 3) : 1,
      );
    const [before, behind] = [slope(i - 1), slope(i)];
    const parabola = (before * step(i) + behind * step(i - 1)) / (step(i - 1) + step(i));
    return (
      (Math.sign(before) + Math.sign(behind)) * Math.min(Math.abs(before), Math.abs(behind), 0.5 * Math.abs(parabola))
    );
  });
  return (at) => {
    if (!(at > x[0])) return y[0];
    if (!(at < x[count - 1])) return y[count - 1];
    let [low, high] = [0, count - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (x[middle] <= at) low = middle;
      else high = middle;
    }
    const [h, s, d] = [step(low), slope(low), at - x[low]];
    const cubic = (tangents[low] + tangents[high] - 2 * s) / (h * h);
    const square = (3 * s - 2 * tangents[low] - tangents[high]) / h;
    return y[low] + d * (tangents[low] + d * (square + d * cubic));
  };
}

/** The parabola's slope at an end, kept so that the curve does not turn there. */
function endTangent(near: number, next: number, step: number, further: number): number {
  const parabola = near + ((near - next) * step) / (step + further);
  if (parabola * near <= 0) return 0;
  return Math.abs(parabola) > 2 * Math.abs(near) ? 2 * near : parabola;
}
