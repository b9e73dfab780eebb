const GOLDEN = (3 - Math.sqrt(5)) / 2;
const WIDENINGS = 40;
const STEPS = 60;

/**
 * Where a function of one number is least near a start: a bracket that widens downhill, then parabolas through three places with golden
 * sections where they lead astray (R. P. Brent, Algorithms for Minimization without Derivatives, chapter 5). NaN counts as a wall. Null
 * where the start has no value or the function falls without end.
 *
 * @param step - a first step
 * @param exact - relative to the step: how closely the place is wanted
 */
export function minimumNear(
  f: (x: number) => number,
  start: number,
  step: number,
  exact = 1e-5,
): { readonly x: number; readonly value: number } | null {
  const wall = (x: number) => {
    const value = f(x);
    return Number.isNaN(value) ? Infinity : value;
  };
  let [a, b] = [start, start + step];
  const atStart = wall(a);
  let fb = wall(b);
  if (atStart === Infinity) return null;
  if (fb > atStart) [a, b, fb] = [b, a, atStart];
  let [width, c] = [b - a, 2 * b - a];
  let fc = wall(c);
  for (let k = 0; fc < fb; k++) {
    if (k >= WIDENINGS) return null;
    width *= 1.8;
    [a, b, fb, c] = [b, c, fc, c + width];
    fc = wall(c);
  }
  let [low, high] = [Math.min(a, c), Math.max(a, c)];
  let [x, w, v] = [b, b, b];
  let [fx, fw, fv] = [fb, fb, fb];
  let [move, last] = [0, 0];
  const fine = Math.abs(step) * exact;
  for (let k = 0; k < STEPS; k++) {
    const middle = (low + high) / 2;
    if (Math.abs(x - middle) <= 2 * fine - (high - low) / 2) break;
    let golden = true;
    if (Math.abs(last) > fine) {
      const r = (x - w) * (fx - fv);
      let q = (x - v) * (fx - fw);
      let p = (x - v) * q - (x - w) * r;
      q = 2 * (q - r);
      if (q > 0) p = -p;
      q = Math.abs(q);
      const before = last;
      last = move;
      if (Math.abs(p) < Math.abs((q * before) / 2) && p > q * (low - x) && p < q * (high - x)) {
        move = p / q;
        golden = false;
      }
    }
    if (golden) {
      last = x < middle ? high - x : low - x;
      move = GOLDEN * last;
    }
    const u = x + (Math.abs(move) >= fine ? move : fine * Math.sign(move || 1));
    const fu = wall(u);
    if (fu <= fx) {
      if (u < x) high = x;
      else low = x;
      [v, fv, w, fw, x, fx] = [w, fw, x, fx, u, fu];
    } else {
      if (u < x) low = u;
      else high = u;
      if (fu <= fw || w === x) [v, fv, w, fw] = [w, fw, u, fu];
      else if (fu <= fv || v === x || v === w) [v, fv] = [u, fu];
    }
  }
  return { x, value: fx };
}
