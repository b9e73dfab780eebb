import { modelIndex } from './model-glass.ts';
import { monotoneCubic } from '../math/monotone-cubic.ts';

/** n² = a + Σ bᵢ λ²/(λ² − cᵢ), any number of terms (Sellmeier); `a` is 1 when left out. */
export interface SellmeierDispersion {
  readonly kind: 'sellmeier';
  readonly a?: number;
  readonly b: readonly number[];
  /** µm². */
  readonly c: readonly number[];
}

/** n² = Σ cᵢ λ^pᵢ: the power series in λ²; with the powers 2, 0, −2, −4, −6, −8 the usual one of six terms. */
export interface PowerSeriesDispersion {
  readonly kind: 'power_series';
  readonly coefficients: readonly number[];
  readonly powers: readonly number[];
}

/** n = a + b/λ + c/λ^3.5 (A. E. Conrady, Applied Optics and Optical Design, part 2). */
export interface ConradyDispersion {
  readonly kind: 'conrady';
  readonly a: number;
  readonly b: number;
  readonly c: number;
}

/** n = Σ cᵢ λ^pᵢ; with the powers 0, −2, −4 … Cauchy's formula. */
export interface CauchyDispersion {
  readonly kind: 'cauchy';
  readonly coefficients: readonly number[];
  readonly powers: readonly number[];
}

/**
 * n = c₀ + c₁L + c₂L² + c₃λ² + c₄λ⁴ + c₅λ⁶ with L = 1/(λ² − 0.028); terms at the end may be left out
 * (M. Herzberger, Opt. Acta 6, 197 (1959)).
 */
export interface HerzbergerDispersion {
  readonly kind: 'herzberger';
  readonly coefficients: readonly number[];
}

/** Measured values, in between a cubic that never leaves the values beside it. */
export interface TableDispersion {
  readonly kind: 'table';
  /** Rising wavelengths in nm. */
  readonly nm: readonly number[];
  readonly n: readonly number[];
}

/** Only nd and Vd are known; the rest follows the normal line. See `model-glass.ts`. */
export interface ModelDispersion {
  readonly kind: 'model';
  readonly nd: number;
  readonly vd: number;
  /** Deviation of P(g,F) from the normal line; 0 when left out. */
  readonly deviation?: number;
}

/** The same index at every wavelength. */
export interface ConstantDispersion {
  readonly kind: 'constant';
  readonly index: number;
}

/** How an index depends on the wavelength; λ in µm in every formula, in air at 20 °C and 101325 Pa unless a record says otherwise. */
export type Dispersion =
  | SellmeierDispersion
  | PowerSeriesDispersion
  | ConradyDispersion
  | CauchyDispersion
  | HerzbergerDispersion
  | TableDispersion
  | ModelDispersion
  | ConstantDispersion;

/** What a kind of dispersion is called. */
export const DISPERSION_TITLES: Readonly<Record<Dispersion['kind'], string>> = {
  sellmeier: 'Sellmeier formula',
  power_series: 'power series of n²',
  conrady: 'Conrady formula',
  cauchy: 'Cauchy formula',
  herzberger: 'Herzberger formula',
  table: 'measured table',
  model: 'model glass from nd and Vd',
  constant: 'one index for all wavelengths',
};

/**
 * Refractive index at a wavelength, as the record has it (relative to air for catalogue glasses).
 *
 * NaN where the formula has no real value above 0, and outside a table; the stated range is not looked at here (`inRange` does).
 *
 * @param nm - wavelength in nm
 */
export function refractiveIndex(dispersion: Dispersion, nm: number): number {
  const um = nm / 1000;
  switch (dispersion.kind) {
    case 'constant':
      return dispersion.index;
    case 'sellmeier': {
      const squared = um * um;
      let sum = dispersion.a ?? 1;
      for (let i = 0; i < dispersion.b.length; i++) sum += (dispersion.b[i] * squared) / (squared - dispersion.c[i]);
      return real(Math.sqrt(sum));
    }
    case 'power_series':
      return real(Math.sqrt(powers(dispersion, um)));
    case 'cauchy':
      return real(powers(dispersion, um));
    case 'conrady':
      return real(dispersion.a + dispersion.b / um + dispersion.c / um ** 3.5);
    case 'herzberger': {
      const [a, b = 0, c = 0, d = 0, e = 0, f = 0] = dispersion.coefficients;
      const squared = um * um;
      const far = 1 / (squared - 0.028);
      return real(a + b * far + c * far * far + squared * (d + squared * (e + squared * f)));
    }
    case 'table':
      return tabulated(dispersion, nm);
    case 'model':
      return real(modelIndex(dispersion, nm));
  }
}

function real(index: number): number {
  return index > 0 && Number.isFinite(index) ? index : NaN;
}

function powers({ coefficients, powers: exponents }: PowerSeriesDispersion | CauchyDispersion, um: number) {
  let sum = 0;
  for (let i = 0; i < coefficients.length; i++) sum += coefficients[i] * um ** exponents[i];
  return sum;
}

const tables = new WeakMap<TableDispersion, (at: number) => number>();

/** Between the values of a table: a monotone cubic in 1/λ², along which n is nearly straight. */
function tabulated(table: TableDispersion, nm: number): number {
  let between = tables.get(table);
  if (!between) {
    const order = table.nm.map((_, i) => table.nm.length - 1 - i);
    between = monotoneCubic(
      order.map((i) => 1 / table.nm[i] ** 2),
      order.map((i) => table.n[i]),
    );
    tables.set(table, between);
  }
  return nm < table.nm[0] || nm > table.nm[table.nm.length - 1] ? NaN : real(between(1 / nm ** 2));
}
