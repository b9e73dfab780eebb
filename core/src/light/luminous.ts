import { monotoneCubic } from '../math/monotone-cubic.ts';

/** Luminous efficacy of radiation at 555 nm, lm/W (its defining value stands at 540 THz; the difference is below 1e-4). */
export const MOST_EFFICACY = 683;

/** V(λ) of CIE 018:2019 (the 1924 photopic observer), every 5 nm from 380 nm on. */
const V = [
  0.000039, 0.000064, 0.00012, 0.000217, 0.000396, 0.00064, 0.00121, 0.00218, 0.004, 0.0073, 0.0116, 0.01684, 0.023,
  0.0298, 0.038, 0.048, 0.06, 0.0739, 0.09098, 0.1126, 0.13902, 0.1693, 0.20802, 0.2586, 0.323, 0.4073, 0.503, 0.6082,
  0.71, 0.7932, 0.862, 0.91485, 0.954, 0.9803, 0.99495, 1, 0.995, 0.9786, 0.952, 0.9154, 0.87, 0.8163, 0.757, 0.6949,
  0.631, 0.5668, 0.503, 0.4412, 0.381, 0.321, 0.265, 0.217, 0.175, 0.1382, 0.107, 0.0816, 0.061, 0.04458, 0.032, 0.0232,
  0.017, 0.01192, 0.00821, 0.005723, 0.004102, 0.002929, 0.002091, 0.001484, 0.001047, 0.00074, 0.00052, 0.000361,
  0.000249, 0.000172, 0.00012, 0.000085, 0.00006, 0.000042, 0.00003, 0.000021, 0.000015,
];
const FROM = 380;
const STEP = 5;

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
