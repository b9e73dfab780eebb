/** n² = 1 + Σ Bᵢ λ²/(λ² − Cᵢ), λ in µm (Sellmeier). */
export interface SellmeierDispersion {
  readonly kind: 'sellmeier';
  readonly b: readonly number[];
  /** µm². */
  readonly c: readonly number[];
}

/** The same index at every wavelength. */
export interface ConstantDispersion {
  readonly kind: 'constant';
  readonly index: number;
}

export type Dispersion = SellmeierDispersion | ConstantDispersion;

/** What a medium is made of; projects embed the records that they use. */
export interface Material {
  readonly id: string;
  /** What a list shows first: the six-digit code of a glass, the name of a substance. */
  readonly label: string;
  /** Family in the trade's words, such as `borosilicate crown`. */
  readonly family: string;
  readonly dispersion: Dispersion;
  /** Wavelengths in nm between which the index formula may be used. */
  readonly range: readonly [number, number];
  /** Where the constants come from, or what is special about them. */
  readonly note?: string;
}

/** The medium of a gap; its index is 1 because catalogue indices are relative to air. */
export const AIR: Material = {
  id: 'air',
  label: 'air',
  family: 'gas',
  dispersion: { kind: 'constant', index: 1 },
  range: [100, 20000],
};

/** Whether a material fills gaps (gas) rather than elements (solid). */
export function isGas(material: Material): boolean {
  return material.family === 'gas';
}

/**
 * Refractive index relative to air at a wavelength in air.
 *
 * NaN where the formula has no real value; the stated range is not looked at here (`inRange` does).
 *
 * @param nm - wavelength in nm
 */
export function refractiveIndex(dispersion: Dispersion, nm: number): number {
  if (dispersion.kind === 'constant') return dispersion.index;
  const squared = (nm / 1000) ** 2;
  let sum = 1;
  for (let i = 0; i < dispersion.b.length; i++)
    sum += (dispersion.b[i] * squared) / (squared - dispersion.c[i]);
  return sum > 0 && Number.isFinite(sum) ? Math.sqrt(sum) : NaN;
}

/** Whether the material's index is defined at a wavelength in nm. */
export function inRange(material: Material, nm: number): boolean {
  return nm >= material.range[0] && nm <= material.range[1];
}

/**
 * Abbe number Vd = (nd − 1)/(nF − nC).
 *
 * Infinity for a medium without dispersion.
 */
export function abbeNumber(dispersion: Dispersion): number {
  const d = refractiveIndex(dispersion, 587.5618);
  return (d - 1) / (refractiveIndex(dispersion, 486.1327) - refractiveIndex(dispersion, 656.2725));
}

/** International six-digit code (nd − 1)(Vd): three digits of each, such as `517642`. Empty for a medium without dispersion. */
export function glassCode(dispersion: Dispersion): string {
  const vd = abbeNumber(dispersion);
  if (!Number.isFinite(vd)) return '';
  const index = Math.round((refractiveIndex(dispersion, 587.5618) - 1) * 1000);
  return `${String(index).padStart(3, '0')}${String(Math.round(vd * 10)).padStart(3, '0')}`;
}
