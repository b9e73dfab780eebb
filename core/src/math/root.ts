const MOST_STEPS = 80;

/**
 * A place between two others at which a continuous function is 0, by secants kept inside of the bracket (the Illinois way: M. Dowell and
 * P. Jarratt, BIT 11, 168, 1971).
 *
 * @param atFrom - value at `from`; of the other sign than `atTo`
 */
export function rootBetween(f: (x: number) => number, from: number, to: number, atFrom: number, atTo: number): number {
  let [a, b, fa, fb] = [from, to, atFrom, atTo];
  const small = 1e-15 * Math.max(Math.abs(from), Math.abs(to));
  for (let step = 0; step < MOST_STEPS; step++) {
    if (fa === 0) return a;
    if (fb === 0 || Math.abs(b - a) <= small) return b;
    const secant = (a * fb - b * fa) / (fb - fa);
    const c = secant > Math.min(a, b) && secant < Math.max(a, b) ? secant : (a + b) / 2;
    const fc = f(c);
    if (fc < 0 === fb < 0) fa /= 2;
    else [a, fa] = [b, fb];
    [b, fb] = [c, fc];
  }
  return b;
}
