/** Where a lens stands: what its index data refer to when nothing else is said. */
export const STANDARD = { temperature: 20, pressure: 101325 } as const;

/** Temperature in °C and air pressure in Pa of everything around a lens, and of the lens. */
export interface Surroundings {
  readonly temperature: number;
  readonly pressure: number;
}

/** Below this wavelength, in nm, the formula of air is not used. */
export const AIR_FROM = 185;

/**
 * Refractive index of dry air (450 ppm CO₂) against vacuum.
 *
 * Edlén's formula as revised by K. P. Birch and M. J. Downs, Metrologia 30, 155 (1993) and 31, 315 (1994). NaN below 185 nm.
 *
 * @param nm - wavelength in air at 20 °C and 101325 Pa
 */
export function airIndex(nm: number, { temperature, pressure }: Surroundings = STANDARD): number {
  if (!(nm >= AIR_FROM)) return NaN;
  // The formula asks for the wavelength in vacuum; a second round changes nothing in the twelfth digit.
  let vacuum = nm * 1.00027;
  for (let round = 0; round < 2; round++) vacuum = nm * (1 + refractivity(vacuum, STANDARD));
  return 1 + refractivity(vacuum, { temperature, pressure });
}

function refractivity(vacuumNm: number, { temperature, pressure }: Surroundings): number {
  const wavenumber = (1000 / vacuumNm) ** 2;
  const standard = (8342.54 + 2406147 / (130 - wavenumber) + 15998 / (38.9 - wavenumber)) * 1e-8;
  const compression = 1 + 1e-8 * (0.601 - 0.00972 * temperature) * pressure;
  return ((pressure * standard) / 96095.43) * (compression / (1 + 0.003661 * temperature));
}
