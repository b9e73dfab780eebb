/** Wavelengths of spectral lines in µm. */
const LINE = { g: 0.4358343, F: 0.4861327, d: 0.5875618, C: 0.6562725, t: 1.01398 } as const;

/** The relative partial dispersion (ng − nF)/(nF − nC) of a normal glass: the straight line through crown 511604 and flint 620364. */
export function normalLine(vd: number): number {
  return 0.6438 - 0.001682 * vd;
}

/** (nC − nt)/(nF − nC) along the same two glasses, which carries a model glass into the near infrared. */
function infraredLine(vd: number): number {
  return 0.545 + 0.004743 * vd;
}

const BASIS: readonly ((um: number) => number)[] = [(um) => um * um, (um) => um ** -2, (um) => um ** -4];

const fits = new WeakMap<object, readonly number[]>();

/**
 * Index of a glass of which only nd and Vd are known: n = a + b λ² + c λ⁻² + d λ⁻⁴ through nd with the given nF − nC, and with
 * P(g,F) and P(C,t) of the normal line (plus a deviation of the first). A construction, not a measurement; of use from 400 to 1100 nm.
 *
 * @param nm - wavelength in nm
 */
export function modelIndex(
  model: { readonly nd: number; readonly vd: number; readonly deviation?: number },
  nm: number,
): number {
  let fit = fits.get(model);
  if (!fit) {
    const spread = (model.nd - 1) / model.vd;
    const rows = [
      [LINE.F, LINE.C, 1],
      [LINE.g, LINE.F, normalLine(model.vd) + (model.deviation ?? 0)],
      [LINE.C, LINE.t, infraredLine(model.vd)],
    ].map(([from, to, share]) => [...BASIS.map((term) => term(from) - term(to)), share * spread]);
    fit = solveThree(rows);
    fits.set(model, fit);
  }
  const um = nm / 1000;
  return fit.reduce((sum, factor, i) => sum + factor * (BASIS[i](um) - BASIS[i](LINE.d)), model.nd);
}

/** Cramer's rule for three equations, the right side last in each row. */
function solveThree(rows: readonly (readonly number[])[]): number[] {
  const determinant = (column: (row: readonly number[], i: number) => number) => {
    const [a, b, c] = rows.map((row) => [0, 1, 2].map((i) => column(row, i)));
    return a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  };
  const whole = determinant((row, i) => row[i]);
  return [0, 1, 2].map((k) => determinant((row, i) => (i === k ? row[3] : row[i])) / whole);
}
