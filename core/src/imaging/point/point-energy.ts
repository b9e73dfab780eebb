import { fourierSquare } from '../../compute/fourier.ts';
import { besselJ1 } from '../../math/bessel.ts';
import type { PointSpread } from './point-spread.ts';

/** The transform of a point spread function: its value at each frequency k/(n·pitch), about a point. */
export interface PointSpectrum {
  /** Cycles per mm from one to the next. */
  readonly step: number;
  /** Frequencies from −most to most along both axes. */
  readonly most: number;
  /** Row by row, `2 most + 1` a row; real parts alone count for what is symmetric about the point. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** Share of the light in the square. */
  readonly energy: number;
}

/**
 * The transform of a point spread function about a point: the optical transfer function on a grid, times the share of the light in the square.
 *
 * @param about - in mm from the chief ray's point
 */
export function pointSpectrum({ n, pitch, values }: PointSpread, [x, y]: readonly [number, number]): PointSpectrum {
  const square = fourierSquare(n);
  square.re.set(values);
  square.im.fill(0);
  square.transform();
  const step = 1 / (n * pitch);
  const most = n / 2 - 1;
  const size = 2 * most + 1;
  const [re, im] = [new Float64Array(size * size), new Float64Array(size * size)];
  // The middle lies at cell n/2, and there the point.
  const [shiftX, shiftY] = [n / 2 + x / pitch, n / 2 + y / pitch];
  for (let l = -most; l <= most; l++)
    for (let k = -most; k <= most; k++) {
      const from = ((l + n) % n) * n + ((k + n) % n);
      const turn = (2 * Math.PI * (k * shiftX + l * shiftY)) / n;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const to = (l + most) * size + k + most;
      re[to] = pitch * pitch * (square.re[from] * c - square.im[from] * s);
      im[to] = pitch * pitch * (square.re[from] * s + square.im[from] * c);
    }
  return { step, most, re, im, energy: re[most * size + most] };
}

/** Sums a window's transform over all frequencies: the light that it lets pass. */
function through({ step, most, re }: PointSpectrum, window: (nu: number, mu: number) => number): number {
  let sum = 0;
  const size = 2 * most + 1;
  for (let l = -most; l <= most; l++)
    for (let k = -most; k <= most; k++) {
      const value = re[(l + most) * size + k + most];
      if (value !== 0) sum += value * window(k * step, l * step);
    }
  return sum * step * step;
}

/**
 * Share of the light inside of circles about the point, by their radii in mm: Σ OTF(ν) R J₁(2πRν)/ν, which is the integral over the circle
 * of the band-limited irradiance.
 */
export function encircledEnergy(spectrum: PointSpectrum, radii: readonly number[]): number[] {
  const rings = ringsOf(spectrum);
  return radii.map((radius) => {
    let sum = 0;
    for (const [nu, value] of rings)
      sum += value * (nu === 0 ? Math.PI * radius * radius : (radius * besselJ1(2 * Math.PI * radius * nu)) / nu);
    return sum * spectrum.step ** 2;
  });
}

/** Real parts summed over frequencies of the same distance from none. */
function ringsOf({ step, most, re }: PointSpectrum): [nu: number, value: number][] {
  const sums = new Map<number, number>();
  const size = 2 * most + 1;
  for (let l = -most; l <= most; l++)
    for (let k = -most; k <= most; k++) {
      const square = k * k + l * l;
      const value = re[(l + most) * size + k + most];
      if (Math.abs(value) > 1e-12) sums.set(square, (sums.get(square) ?? 0) + value);
    }
  return [...sums].map(([square, value]) => [Math.sqrt(square) * step, value]);
}

/** Share of the light inside of squares about the point, by half their sides in mm. */
export function ensquaredEnergy(spectrum: PointSpectrum, halves: readonly number[]): number[] {
  const side = (half: number, nu: number) => (nu === 0 ? 2 * half : Math.sin(2 * Math.PI * half * nu) / (Math.PI * nu));
  return halves.map((half) => {
    const sides = new Map<number, number>();
    for (let k = -spectrum.most; k <= spectrum.most; k++) sides.set(k, side(half, k * spectrum.step));
    return through(
      spectrum,
      (nu, mu) => sides.get(Math.round(nu / spectrum.step))! * sides.get(Math.round(mu / spectrum.step))!,
    );
  });
}

/**
 * The image of a fine line and of an edge, at places in mm from the point across it: share of the light per mm, and share before the place.
 *
 * @param across - `x` for a line along y, `y` for one along x
 */
export function lineAndEdge(
  spectrum: PointSpectrum,
  across: 'x' | 'y',
  places: readonly number[],
): { readonly line: number[]; readonly edge: number[] } {
  const { step, most, re, im } = spectrum;
  const size = 2 * most + 1;
  const at = (k: number) => (across === 'x' ? most * size + k + most : (k + most) * size + most);
  const line: number[] = [];
  const edge: number[] = [];
  for (const place of places) {
    let [here, before] = [re[at(0)], re[at(0)] * (place + 0.5 / step)];
    for (let k = 1; k <= most; k++) {
      const turn = 2 * Math.PI * k * step * place;
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const value = 2 * (re[at(k)] * c - im[at(k)] * s);
      // Integral from the border of the square, where the turn is −πk.
      const from = k & 1 ? -1 : 1;
      before += (2 * (re[at(k)] * s + im[at(k)] * (c - from))) / (2 * Math.PI * k * step);
      here += value;
    }
    line.push(here * step);
    edge.push(before * step);
  }
  return { line, edge };
}

/** Radius or half side that holds a share of the light, by halving; NaN where the square does not hold it. */
export function radiusOf(share: number, of: (radius: number) => number, most: number): number {
  let [low, high] = [0, most];
  if (of(most) < share) return NaN;
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (of(middle) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
