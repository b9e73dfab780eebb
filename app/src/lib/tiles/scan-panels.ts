import { findMeasure, type Panel, type ScanRow } from '@ulvex/core';
import type { ScanRange, ScanSettings } from './scan-settings.ts';

/** What a scan has found so far: rows in their order, undefined where there is none yet. */
export type ScanFound = readonly (ScanRow | undefined)[];

export interface AxisWords {
  readonly title: string;
  readonly unit: string;
}

/** Lines over one number, maps over two, and all of it as a table. */
export function scanPanels({ axes, measures }: ScanSettings, found: ScanFound, words: readonly AxisWords[]): Panel[] {
  const unitOf = (m: number) => {
    const row = found.find((one) => one?.measured[m]?.ok);
    const measured = row?.measured[m];
    return (measured?.ok ? measured.value.unit : undefined) ?? findMeasure(measures[m].measure)?.unit ?? '';
  };
  const titles = measures.map(({ measure, settings }) => {
    const choices = Object.values(settings).map(String).join(', ');
    return `${findMeasure(measure)?.title ?? measure}${choices ? ` [${choices}]` : ''}`;
  });
  const valueAt = (point: number, m: number) => {
    const measured = found[point]?.measured[m];
    return measured?.ok ? measured.value.value : NaN;
  };
  const errorAt = (point: number, m: number) => {
    const measured = found[point]?.measured[m];
    return measured?.ok ? (measured.value.standardError ?? 0) : 0;
  };
  const panels = measures.map((_, m): Panel => {
    const one: Scanned = {
      title: titles[m],
      unit: unitOf(m),
      count: found.length,
      valueAt: (point) => valueAt(point, m),
      errorAt: (point) => errorAt(point, m),
    };
    return axes.length === 1 ? line(axes[0], words, one) : map(axes, words, one);
  });
  const rows = found.flatMap((row) =>
    row ? [[...row.at, ...row.measured.map((one) => (one.ok ? one.value.value : NaN))]] : [],
  );
  return [
    ...panels,
    {
      kind: 'table',
      title: 'scan',
      columns: [...words.slice(0, axes.length), ...titles.map((title, m) => ({ title, unit: unitOf(m) }))],
      rows,
    },
  ];
}

/** What a scan has found of one measure, by point. */
interface Scanned {
  readonly title: string;
  readonly unit: string;
  readonly count: number;
  valueAt(point: number): number;
  errorAt(point: number): number;
}

/** A measure over one number, between its standard errors if it is sampled. */
function line(axis: ScanRange, words: readonly AxisWords[], scanned: Scanned): Panel {
  const { title, unit, valueAt, errorAt } = scanned;
  const x = valuesOf(axis);
  const y = x.map((_, k) => valueAt(k));
  const errors = x.map((_, k) => errorAt(k));
  const bound = (sign: number) => ({
    name: `${title} ${sign > 0 ? '+' : '−'} σ`,
    tint: 'limit' as const,
    stroke: 'dotted' as const,
    x,
    y: y.map((value, k) => value + sign * errors[k]),
  });
  return {
    kind: 'curves',
    title,
    x: words[0],
    y: { title, unit },
    curves: [{ name: title, tint: 'ink', x, y }, ...(errors.some((error) => error > 0) ? [bound(1), bound(-1)] : [])],
    figures: extremes([axis], words, scanned),
  };
}

/** A measure over two numbers. */
function map(axes: readonly ScanRange[], words: readonly AxisWords[], scanned: Scanned): Panel {
  const { title, unit, valueAt } = scanned;
  const [down, across] = axes;
  const values = Float64Array.from({ length: down.points * across.points }, (_, point) => valueAt(point));
  return {
    kind: 'map',
    title,
    columns: across.points,
    rows: down.points,
    values: ordered(values, down, across),
    x: { ...words[1], range: cellsOf(across) },
    y: { ...words[0], range: cellsOf(down) },
    value: { title, unit },
    look: 'heat',
    free: true,
    figures: extremes(axes, words, scanned),
  };
}

/** Least and largest value with where they are. */
function extremes(axes: readonly ScanRange[], words: readonly AxisWords[], { count, valueAt, unit }: Scanned) {
  let [least, most] = [-1, -1];
  for (let k = 0; k < count; k++) {
    const value = valueAt(k);
    if (Number.isNaN(value)) continue;
    if (least < 0 || value < valueAt(least)) least = k;
    if (most < 0 || value > valueAt(most)) most = k;
  }
  if (least < 0) return [];
  const inner = axes[1]?.points ?? 1;
  const place = (k: number) => [
    valuesOf(axes[0])[Math.floor(k / inner)],
    ...(axes[1] ? [valuesOf(axes[1])[k % inner]] : []),
  ];
  return [
    { name: 'least', value: valueAt(least), unit },
    ...place(least).map((value, axis) => ({ name: `at ${words[axis].title}`, value, unit: words[axis].unit })),
    { name: 'largest', value: valueAt(most), unit },
  ];
}

function valuesOf({ from, to, points }: ScanRange): number[] {
  return Array.from({ length: points }, (_, k) => from + ((to - from) * k) / (points - 1));
}

/** A map has its values in the middles of cells: its edges lie half a step further out. */
function cellsOf({ from, to, points }: ScanRange): readonly [number, number] {
  const half = Math.abs(to - from) / (points - 1) / 2;
  return [Math.min(from, to) - half, Math.max(from, to) + half];
}

/** Rows and columns rising, whichever way the scan went. */
function ordered(values: Float64Array, down: ScanRange, across: ScanRange): Float64Array {
  const [rows, columns] = [down.points, across.points];
  return Float64Array.from(values, (_value, at) => {
    const [row, column] = [Math.floor(at / columns), at % columns];
    const from =
      (down.to < down.from ? rows - 1 - row : row) * columns +
      (across.to < across.from ? columns - 1 - column : column);
    return values[from];
  });
}
