/**
 * Derivative of a function at 0 by Ridders' method: central differences with ever smaller steps, extrapolated to none; the estimate
 * whose neighbours agree best (C. J. F. Ridders, Adv. Eng. Softw. 4, 75 (1982)). For checks of exact derivatives, not in place of
 * them.
 *
 * @param f - a vector of values; its components are treated alike
 * @param step - where to begin: large against rounding, within where f is smooth
 * @returns derivatives with estimates of their errors
 */
export function ridders(
  f: (at: number) => readonly number[],
  step: number,
): { readonly values: number[]; readonly errors: number[] } {
  const SHRINK = 1.6;
  const ROUNDS = 12;
  let before: number[][] = [];
  let values: number[] = [];
  let errors: number[] = [];
  for (let round = 0, h = step; round < ROUNDS; round++, h /= SHRINK) {
    const [ahead, behind] = [f(h), f(-h)];
    const row: number[][] = [ahead.map((value, i) => (value - behind[i]) / (2 * h))];
    if (round === 0) {
      values = row[0];
      errors = values.map(() => Infinity);
    }
    for (let order = 1, power = SHRINK ** 2; order <= round; order++, power *= SHRINK ** 2) {
      const finer = row[order - 1];
      const coarser = before[order - 1];
      const next = finer.map((value, i) => (value * power - coarser[i]) / (power - 1));
      row.push(next);
      next.forEach((value, i) => {
        const error = Math.max(Math.abs(value - finer[i]), Math.abs(value - coarser[i]));
        if (error < errors[i]) [values[i], errors[i]] = [value, error];
      });
    }
    before = row;
  }
  return { values, errors };
}
