/** Pictures of what detectors hold. */
import type { Estimate } from '@ulvex/core';
import { significant } from '../format.ts';

export type Palette = 'depth' | 'grey' | 'signed';

/** Colours of rising lightness (by day: falling, as a chart prints deeper water darker), as sRGB. */
const STOPS: Readonly<Record<'day' | 'night', Readonly<Record<Palette, readonly string[]>>>> = {
  day: {
    depth: ['#fdfaf1', '#d5e9ee', '#9fc9dc', '#5f9cbb', '#33607f', '#233f63', '#1a2444'],
    grey: ['#fdfaf1', '#1d2b3a'],
    signed: ['#123a5e', '#3c7fa8', '#a9cfe0', '#f7f3e6', '#eab98f', '#c26a36', '#7a2f10'],
  },
  night: {
    depth: ['#10171d', '#1d3845', '#2f6379', '#4f93ad', '#86bdd0', '#c3e0e6', '#fdfaf1'],
    grey: ['#10171d', '#f2f5f6'],
    signed: ['#9fd3f2', '#4f93bd', '#274a62', '#171f26', '#6b4024', '#c9793f', '#f6c79c'],
  },
};

const parse = (hex: string) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16));

/** 256 colours of a palette, three bytes each. */
export function paletteBytes(theme: 'day' | 'night', palette: Palette): Uint8ClampedArray {
  const stops = STOPS[theme][palette].map(parse);
  const bytes = new Uint8ClampedArray(256 * 3);
  for (let i = 0; i < 256; i++) {
    const at = (i / 255) * (stops.length - 1);
    const k = Math.min(stops.length - 2, Math.floor(at));
    for (let c = 0; c < 3; c++) bytes[3 * i + c] = stops[k][c] + (at - k) * (stops[k + 1][c] - stops[k][c]);
  }
  return bytes;
}

/** A cell of a map, counted from the corner of the smallest x and y. */
export interface Cell {
  readonly column: number;
  readonly row: number;
}

/** A value with its error, to the digit that the error leaves. */
export function withError({ value, standardError }: Estimate, unit: string): string {
  if (!Number.isFinite(value)) return '–';
  if (!Number.isFinite(standardError)) return `${significant(value, 3)} ${unit}`;
  if (standardError === 0) return `${significant(value, 5)} ${unit}`;
  const digits = Math.min(8, Math.max(1, Math.ceil(Math.log10(Math.abs(value) / standardError)) + 1));
  return `${significant(value, digits)} ± ${significant(standardError, 2)} ${unit}`;
}

/** How values become places on the scale, 0 to 1. */
export interface Scale {
  readonly low: number;
  readonly high: number;
  readonly log: boolean;
}

/** Decades that a logarithmic scale shows below its highest value. */
export const DECADES = 4;

/** The scale of some values: from 0 or, logarithmic, over four decades, up to the largest. */
export function scaleOf(values: ArrayLike<number>, log: boolean): Scale {
  let high = 0;
  for (let i = 0; i < values.length; i++) high = Math.max(high, values[i]);
  return { low: log ? high / 10 ** DECADES : 0, high, log };
}

/** Where a value stands on a scale, 0 to 1. */
export function placeOn({ low, high, log }: Scale, value: number): number {
  if (!(high > low) || !(value > low)) return 0;
  const share = log ? Math.log(value / low) / Math.log(high / low) : (value - low) / (high - low);
  return Math.min(1, share);
}

/** The value at a place of a scale. */
export function valueAtPlace({ low, high, log }: Scale, place: number): number {
  return log ? low * (high / low) ** place : low + place * (high - low);
}

/** A map as a picture of one pixel a cell, +y upward; see-through where there is no value. `fringes`: bright at whole numbers. */
export function mapPicture(
  values: ArrayLike<number>,
  columns: number,
  rows: number,
  scale: Scale,
  bytes: Uint8ClampedArray,
  fringes = false,
): ImageData {
  const image = new ImageData(columns, rows);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const value = values[row * columns + column];
      const seen = fringes ? (1 + Math.cos(2 * Math.PI * value)) / 2 : value;
      const k = 3 * Math.round(255 * placeOn(scale, seen));
      const o = 4 * ((rows - 1 - row) * columns + column);
      image.data[o] = bytes[k];
      image.data[o + 1] = bytes[k + 1];
      image.data[o + 2] = bytes[k + 2];
      image.data[o + 3] = Number.isNaN(value) ? 0 : 255;
    }
  return image;
}

/** A map smoothed by a Gaussian of so many cells (one standard deviation), the light kept: each cell is shared out whole. */
export function smoothed(values: Float64Array, columns: number, rows: number, sigma: number): Float64Array {
  if (!(sigma > 0)) return values;
  const reach = Math.ceil(3 * sigma);
  const kernel = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)));
  const pass = (source: Float64Array, count: number, lines: number, step: number, stride: number) => {
    const target = new Float64Array(source.length);
    for (let line = 0; line < lines; line++)
      for (let i = 0; i < count; i++) {
        const from = source[line * stride + i * step];
        if (from === 0) continue;
        let sum = 0;
        for (let k = -reach; k <= reach; k++) if (i + k >= 0 && i + k < count) sum += kernel[k + reach];
        for (let k = -reach; k <= reach; k++)
          if (i + k >= 0 && i + k < count) target[line * stride + (i + k) * step] += (from * kernel[k + reach]) / sum;
      }
    return target;
  };
  return pass(pass(values, columns, rows, 1, columns), rows, columns, columns, 1);
}
