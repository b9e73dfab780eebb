/**
 * Change of the absolute index by H. J. Hoffmann, W. W. Jochs and G. Westenberger, Proc. SPIE 1327, 219 (1990), ΔT from the reference
 * temperature, λ in µm: Δn = (n² − 1)/(2n) · (d₀ΔT + d₁ΔT² + d₂ΔT³ + (e₀ΔT + e₁ΔT²)/(λ² − λₜ²)).
 */
export interface BandThermal {
  readonly kind: 'band';
  readonly d: readonly [d0: number, d1: number, d2: number];
  readonly e: readonly [e0: number, e1: number];
  /** λₜ, µm. */
  readonly resonance: number;
}

/** The same dn/dT at every wavelength and temperature, 1/K. */
export interface LinearThermal {
  readonly kind: 'linear';
  readonly dndt: number;
  /** `vacuum`: of the absolute index; `air`: of the index relative to air of the same temperature at 101325 Pa. */
  readonly against: 'vacuum' | 'air';
}

export type Thermal = BandThermal | LinearThermal;

/**
 * Change of an index from the reference temperature, against what the record says (see `Thermal`).
 *
 * @param index - absolute index at the reference temperature
 * @param nm - wavelength in nm
 * @param rise - temperature above the reference, K
 */
export function indexRise(thermal: Thermal, index: number, nm: number, rise: number): number {
  if (thermal.kind === 'linear') return thermal.dndt * rise;
  const { d, e, resonance } = thermal;
  const um = nm / 1000;
  const even = rise * (d[0] + rise * (d[1] + rise * d[2]));
  const band = (rise * (e[0] + rise * e[1])) / (um * um - resonance * resonance);
  return ((index * index - 1) / (2 * index)) * (even + band);
}
