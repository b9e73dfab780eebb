import type { Term } from './polynomial2d.ts';

/** Which numbering of Zernike polynomials, with its normalisation. */
export type ZernikeOrder = 'noll' | 'fringe';

/** Radial degree n and azimuthal frequency m of a term; m below 0 for sines. */
export interface ZernikeIndex {
  readonly n: number;
  readonly m: number;
}

/** Noll's order from j = 1: R. J. Noll, J. Opt. Soc. Am. 66, 207 (1976). Even j are cosines, odd ones sines. */
export function nollIndex(j: number): ZernikeIndex {
  let n = 0;
  while (((n + 1) * (n + 2)) / 2 < j) n++;
  const place = j - (n * (n + 1)) / 2 - 1; // 0 … n within the degree
  const m = n % 2 === 0 ? 2 * Math.ceil(place / 2) : 2 * Math.floor(place / 2) + 1;
  return { n, m: m === 0 ? 0 : j % 2 === 0 ? m : -m };
}

/** The fringe order from j = 1: by n + |m|, within it by falling |m|, cosines before sines. Terms are 1 at the rim. */
export function fringeIndex(j: number): ZernikeIndex {
  let half = 0; // (n + |m|)/2
  while ((half + 1) ** 2 < j) half++;
  const place = j - half ** 2 - 1; // 0 … 2·half within the group
  const m = half - Math.floor(place / 2);
  return { n: 2 * half - m, m: m === 0 || place % 2 === 0 ? m : -m };
}

function factorial(n: number): number {
  let product = 1;
  for (let k = 2; k <= n; k++) product *= k;
  return product;
}

/**
 * A Zernike polynomial as a polynomial in x and y of the unit disk, θ from +x: in Noll's order orthonormal (its mean square over the
 * disk is 1), in fringe order with the value 1 at the rim.
 *
 * @param j - from 1
 */
export function zernikeTerms(order: ZernikeOrder, j: number): Term[] {
  const { n, m } = order === 'noll' ? nollIndex(j) : fringeIndex(j);
  const frequency = Math.abs(m);
  const norm = order === 'fringe' ? 1 : Math.sqrt(m === 0 ? n + 1 : 2 * (n + 1));
  const sum = new Map<string, Term>();
  const add = (i: number, k: number, a: number) => {
    const key = `${i} ${k}`;
    sum.set(key, { i, j: k, a: (sum.get(key)?.a ?? 0) + a });
  };
  for (let s = 0; s <= (n - frequency) / 2; s++) {
    const radial =
      ((-1) ** s * factorial(n - s)) /
      (factorial(s) * factorial((n + frequency) / 2 - s) * factorial((n - frequency) / 2 - s));
    // ρ^(n−2s) cos mθ = (x² + y²)^((n−2s−|m|)/2) · Re or Im of (x + iy)^|m|.
    const power = (n - 2 * s - frequency) / 2;
    for (let p = 0; p <= power; p++) {
      const rings = choose(power, p);
      for (let q = m < 0 ? 1 : 0; q <= frequency; q += 2) {
        const sign = (-1) ** Math.floor(q / 2);
        add(2 * (power - p) + frequency - q, 2 * p + q, norm * radial * rings * sign * choose(frequency, q));
      }
    }
  }
  return [...sum.values()].filter(({ a }) => a !== 0);
}

function choose(n: number, k: number): number {
  return factorial(n) / (factorial(k) * factorial(n - k));
}
