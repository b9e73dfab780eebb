/** A named spectral line of ISO 7944 and glass catalogues; wavelength in air, nm. */
export interface SpectralLine {
  readonly symbol: string;
  readonly nm: number;
  readonly element: string;
}

/** Lines in the order of their wavelengths. */
export const SPECTRAL_LINES: readonly SpectralLine[] = [
  { symbol: 'i', nm: 365.0146, element: 'mercury' },
  { symbol: 'h', nm: 404.6561, element: 'mercury' },
  { symbol: 'g', nm: 435.8343, element: 'mercury' },
  { symbol: 'F′', nm: 479.9914, element: 'cadmium' },
  { symbol: 'F', nm: 486.1327, element: 'hydrogen' },
  { symbol: 'e', nm: 546.074, element: 'mercury' },
  { symbol: 'd', nm: 587.5618, element: 'helium' },
  { symbol: 'C′', nm: 643.8469, element: 'cadmium' },
  { symbol: 'C', nm: 656.2725, element: 'hydrogen' },
  { symbol: 'r', nm: 706.5188, element: 'helium' },
  { symbol: 's', nm: 852.11, element: 'caesium' },
  { symbol: 't', nm: 1013.98, element: 'mercury' },
];

/** The symbol of the line within 0.05 nm of a wavelength, or null. */
export function lineSymbol(nm: number): string | null {
  return SPECTRAL_LINES.find((line) => Math.abs(line.nm - nm) < 0.05)?.symbol ?? null;
}

/** How a wavelength is called on screen: its line's symbol, or its rounded value in nm. */
export function wavelengthLabel(nm: number): string {
  return lineSymbol(nm) ?? `${Math.round(nm)} nm`;
}

/** The same with the wavelength in any case: `d 588 nm`, `550 nm`. */
export function wavelengthName(nm: number): string {
  const line = lineSymbol(nm);
  return `${line === null ? '' : `${line} `}${Math.round(nm)} nm`;
}
