import type { MapPanel } from '@ulvex/core';
import { svgText } from '../svg-text.ts';
import { plain, significant } from '../format.ts';
import { shownName } from './panel-option.ts';
import { DECADES, placeOn, type Palette, type Scale } from '../plots/light-map.ts';

/** The palette of a look. */
export function pictureOf(look: MapPanel['look']): Palette {
  if (look === 'signed') return 'signed';
  return look === 'heat' ? 'depth' : 'grey';
}

/** What is along x of a map. */
export function axisText({ x: { title, unit } }: MapPanel): string {
  return unit ? `${title}, ${unit}` : title;
}

/** A map as it is shown. */
export interface ShownMap {
  readonly panel: MapPanel;
  readonly name: string;
  /** Whether it is the reference, in grey. */
  readonly grey: boolean;
}

/** The maps of a tile, each with the reference beside it, or what is left when the reference is taken off. */
export function shownMaps(
  maps: readonly MapPanel[],
  before: readonly MapPanel[],
  compare: 'beside' | 'difference',
  labels: ReadonlyMap<string, string>,
): readonly ShownMap[] {
  return maps.flatMap((panel): ShownMap[] => {
    const name = shownName(panel.title, labels);
    const earlier = before.find((one) => isLike(one, panel));
    if (!earlier) return [{ panel, name, grey: false }];
    const was = resampled(earlier, panel);
    // On the same cells, so that both pictures show the same stretch.
    if (compare === 'beside')
      return [
        { panel, name, grey: false },
        { panel: { ...panel, values: was, value: earlier.value }, name: `${name}, reference`, grey: true },
      ];
    const values = panel.values.map((value, i) => value - was[i]);
    const look = panel.look === 'fringes' ? 'fringes' : 'signed';
    return [{ panel: { ...panel, values, look }, name: `${name} less the reference`, grey: false }];
  });
}

/** Whether two maps show the same of two lenses: by their titles, and by what their places and values are. */
function isLike(one: MapPanel, other: MapPanel): boolean {
  const meaning = ({ title, x, y, value }: MapPanel) => [title, x.unit, y.unit, value.title, value.unit].join();
  return meaning(one) === meaning(other);
}

/** One scale for several maps, so that they can be compared. */
export function sharedScale(panels: readonly MapPanel[]): Scale {
  if (panels.some(({ look }) => look === 'fringes')) return { low: 0, high: 1, log: false };
  let [low, high] = [Infinity, -Infinity];
  for (const { values, value, look } of panels) {
    if (value.range && look !== 'signed') [low, high] = [Math.min(low, value.range[0]), Math.max(high, value.range[1])];
    else for (const one of values) if (!Number.isNaN(one)) [low, high] = [Math.min(low, one), Math.max(high, one)];
  }
  if (panels.some(({ look }) => look === 'signed')) {
    const most = Math.max(Math.abs(low), Math.abs(high), 1e-12);
    return { low: -most, high: most, log: false };
  }
  if (!(high > low)) return { low: 0, high: 1, log: false };
  if (panels.some(({ log }) => log)) return { low: high / 10 ** DECADES, high, log: true };
  // Light counts from nothing.
  return { low: panels.some(({ errors }) => errors) ? 0 : low, high, log: false };
}

/** The values of a map at the cells of another one, by straight lines between its own; NaN where it has none. */
export function resampled(from: MapPanel, onto: MapPanel): Float64Array {
  const { columns, rows } = onto;
  const values = new Float64Array(columns * rows);
  const cell = ([low, high]: readonly [number, number], count: number, place: number) =>
    ((place - low) / (high - low)) * count - 0.5;
  const middle = ([low, high]: readonly [number, number], count: number, k: number) =>
    low + ((high - low) * (k + 0.5)) / count;
  const at = (column: number, row: number) =>
    column < 0 || row < 0 || column >= from.columns || row >= from.rows
      ? NaN
      : from.values[row * from.columns + column];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const u = cell(from.x.range, from.columns, middle(onto.x.range, columns, column));
      const v = cell(from.y.range, from.rows, middle(onto.y.range, rows, row));
      const [i, j] = [Math.floor(u + 1e-9), Math.floor(v + 1e-9)];
      const [s, t] = [Math.max(0, u - i), Math.max(0, v - j)];
      const mix = (a: number, b: number, share: number) => (share < 1e-6 ? a : a + share * (b - a));
      values[row * columns + column] = mix(
        mix(at(i, j), at(i + 1, j), s),
        s < 1e-6 && t < 1e-6 ? 0 : mix(at(i, j + 1), at(i + 1, j + 1), s),
        t,
      );
    }
  return values;
}

const SIDE = 220;

/** Maps as one SVG document, cell by cell, with their ranges and a scale. */
export function mapsSvg(
  shown: readonly { readonly panel: MapPanel; readonly name: string }[],
  scale: Scale,
  bytes: Uint8ClampedArray,
  style: { readonly ink: string; readonly muted: string; readonly ground: string },
): string | null {
  if (shown.length === 0) return null;
  const width = shown.length * (SIDE + 24) + 90;
  const text = (x: number, y: number, words: string, anchor = 'start') =>
    `<text x="${x}" y="${y}" text-anchor="${anchor}" fill="${style.muted}">${svgText(words)}</text>`;
  const colour = (value: number, fringes: boolean) => {
    const seen = fringes ? (1 + Math.cos(2 * Math.PI * value)) / 2 : value;
    const k = 3 * Math.round(255 * placeOn(scale, seen));
    return `rgb(${bytes[k]},${bytes[k + 1]},${bytes[k + 2]})`;
  };
  const maps = shown.map(({ panel, name }, i) => {
    const left = 12 + i * (SIDE + 24);
    const [across, up] = [SIDE / panel.columns, SIDE / panel.rows];
    const cells: string[] = [];
    for (let row = 0; row < panel.rows; row++)
      for (let column = 0; column < panel.columns; column++) {
        const value = panel.values[row * panel.columns + column];
        if (Number.isNaN(value)) continue;
        cells.push(
          `<rect x="${(left + column * across).toFixed(2)}" y="${(24 + SIDE - (row + 1) * up).toFixed(2)}" ` +
            `width="${(across + 0.3).toFixed(2)}" height="${(up + 0.3).toFixed(2)}" fill="${colour(value, panel.look === 'fringes')}"/>`,
        );
      }
    const perUnit = [SIDE / (panel.x.range[1] - panel.x.range[0]), SIDE / (panel.y.range[1] - panel.y.range[0])];
    const rings = (panel.rings ?? []).map(
      ({ semi }) =>
        `<ellipse cx="${(left - panel.x.range[0] * perUnit[0]).toFixed(2)}" cy="${(24 + panel.y.range[1] * perUnit[1]).toFixed(2)}" ` +
        `rx="${(semi[0] * perUnit[0]).toFixed(2)}" ry="${(semi[1] * perUnit[1]).toFixed(2)}" fill="none" ` +
        `stroke="${style.muted}" stroke-dasharray="4 3"/>`,
    );
    return (
      `${text(left, 16, name)}${cells.join('')}${rings.join('')}<rect x="${left}" y="24" width="${SIDE}" ` +
      `height="${SIDE}" fill="none" stroke="${style.ink}"/>` +
      text(left, SIDE + 38, plain(panel.x.range[0], 3)) +
      text(left + SIDE / 2, SIDE + 38, axisText(panel), 'middle') +
      text(left + SIDE, SIDE + 38, plain(panel.x.range[1], 3), 'end')
    );
  });
  const x = width - 72;
  const bar = Array.from(
    { length: 64 },
    (_, k) =>
      `<rect x="${x}" y="${24 + SIDE - ((k + 1) * SIDE) / 64}" width="12" height="${SIDE / 64 + 0.3}" ` +
      `fill="rgb(${[0, 1, 2].map((c) => bytes[3 * Math.round((255 * k) / 63) + c]).join(',')})"/>`,
  );
  const unit = shown[0].panel.value.unit;
  const ends =
    text(x + 16, 32, significant(scale.high, 3)) + text(x + 16, 24 + SIDE, `${significant(scale.low, 3)} ${unit}`);
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${SIDE + 48}" ` +
    'font-family="sans-serif" font-size="11"><rect width="100%" height="100%" ' +
    `fill="${style.ground}"/>${maps.join('')}${bar.join('')}${ends}</svg>`
  );
}
