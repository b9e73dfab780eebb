import { monotoneCubic } from '../math/monotone-cubic.ts';

/** Luminous efficacy of radiation at 555 nm, lm/W (its defining value stands at 540 THz; the difference is below 1e-4). */
export const MOST_EFFICACY = 683;

/** V(λ) of CIE 018:2019 (the 1924 photopic observer), every 10 nm from 380 nm on. */
const V = [
  0.000039, 0.00012, 0.000396, 0.00121, 0.004, 0.0116, 0.023, 0.038, 0.06, 0.09098, 0.13902, 0.20802, 0.323,
  0.503, 0.71, 0.862, 0.954, 0.99495, 0.995, 0.952, 0.87, 0.757, 0.631, 0.503, 0.381, 0.265, 0.175, 0.107,
  0.061, 0.032, 0.017, 0.00821, 0.004102, 0.002091, 0.001047, 0.00052, 0.000249, 0.00012, 0.00006, 0.00003,
  0.000015,
];
const FROM = 380;
const STEP = 10;

const curve = monotoneCubic(
  V.map((_, i) => FROM + STEP * i),
  V,
);

/**
 * Photopic luminous efficiency V(λ), 0 to 1: the CIE table, monotone cubic between its entries; 0 outside 380–780 nm.
 *
 * @param nm - wavelength in nm
 */
export function luminousEfficiency(nm: number): number {
  return nm < FROM || nm > FROM + STEP * (V.length - 1) ? 0 : curve(nm);
}

/** Lumens that a watt at a wavelength makes: 683·V(λ). */
export function lumensPerWatt(nm: number): number {
  return MOST_EFFICACY * luminousEfficiency(nm);
}
