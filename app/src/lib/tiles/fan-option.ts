import type { FanCurve, RayFans } from '@ulvex/core';
import { niceStep } from '../format.ts';
import type { EChartsOption } from './echarts.ts';
import { UNDERNEATH } from './underneath.ts';
import type { FanSettings } from './settings.ts';

export interface FanStyle {
  readonly ink: string;
  readonly muted: string;
  readonly line: string;
  readonly grid: string;
  readonly wave: (nm: number) => string;
}

/** Half the height of all charts, µm: the next round number that holds every error. */
export function fanScale(fans: RayFans, settings: FanSettings): number {
  if (settings.scale) return settings.scale;
  const largest = Math.max(fans.largest, fans.unit === 'mrad' ? 1e-4 : 0.01);
  const step = niceStep(largest, 5);
  return Math.ceil((largest * 1.02) / step) * step;
}

const figure = (value: number) => String(Number(value.toPrecision(4))).replace('-', '−');

/** Which fans are drawn, row by row. */
export function fanRows(settings: FanSettings): readonly ('tangential' | 'sagittal')[] {
  return settings.direction === 'both' ? ['tangential', 'sagittal'] : [settings.direction];
}

/** Room for the figures of the first column: a gap, and so much for each sign. */
const LEFT = { gap: 12, sign: 6 };
const TITLE = 17;
const GAP = 12;

/**
 * Charts of all fields to one scale: a column a field, a row a direction; the pupil across, the error up.
 *
 * @param before - the reference, drawn in grey underneath
 */
export function fanOption(
  fans: RayFans,
  settings: FanSettings,
  labels: ReadonlyMap<string, string>,
  style: FanStyle,
  size: { readonly width: number; readonly height: number },
  before: RayFans | null = null,
): EChartsOption {
  const rows = fanRows(settings);
  const columns = fans.fields.length;
  const scale = fanScale(fans, settings);
  const left = LEFT.gap + LEFT.sign * figure(-scale).length;
  const width = Math.max(10, (size.width - left - columns * GAP) / columns);
  const height = Math.max(10, size.height / rows.length - TITLE - 8);
  const leftOf = (c: number) => left + c * (width + GAP);
  const topOf = (r: number) => (size.height / rows.length) * r + 3;
  const grids = rows.flatMap((_, r) =>
    fans.fields.map((__, c) => ({
      left: leftOf(c),
      width,
      top: topOf(r) + TITLE,
      height,
      outerBoundsMode: 'none' as const, // room is kept for all figures
    })),
  );
  const axis = { axisTick: { show: false }, axisLine: { onZero: true, lineStyle: { color: style.muted } } };
  const at = (r: number, c: number) => r * columns + c;
  return {
    animation: false,
    textStyle: { fontFamily: 'IBM Plex Sans Variable, sans-serif' },
    tooltip: {
      trigger: 'axis',
      confine: true,
      valueFormatter: (value) => `${Number(value).toFixed(fans.unit === 'µm' ? 2 : 4)} ${fans.unit}`,
    },
    title: rows.flatMap((row, r) =>
      fans.fields.map(({ field, fans: outcome }, c) => ({
        text: `${labels.get(field) ?? field}${width < 100 ? '' : ` ${row}`}${outcome.ok ? '' : ': no chief ray'}`,
        left: leftOf(c),
        top: topOf(r),
        padding: 0,
        textStyle: { fontSize: 11, fontWeight: 400, color: style.muted },
      })),
    ),
    grid: grids,
    xAxis: grids.map((_, i) => ({
      gridIndex: i,
      type: 'value' as const,
      min: -1,
      max: 1,
      interval: 1,
      ...axis,
      axisLabel: { show: false },
      splitLine: { lineStyle: { color: style.grid } },
    })),
    yAxis: grids.map((_, i) => ({
      gridIndex: i,
      type: 'value' as const,
      min: -scale,
      max: scale,
      interval: scale,
      ...axis,
      axisLabel: {
        show: i % columns === 0,
        color: style.muted,
        fontSize: 10,
        formatter: figure,
      },
      splitLine: { lineStyle: { color: style.grid } },
    })),
    series: [
      ...rows.flatMap((row, r) =>
        fans.fields.flatMap(({ field }, c) => {
          const earlier = before?.fields.find((entry) => entry.field === field)?.fans;
          return earlier?.ok
            ? earlier.value[row].map((curve) => ({
                ...lineOf(curve, at(r, c), style.muted),
                name: `reference, ${curve.nm} nm`,
                ...UNDERNEATH,
                lineStyle: { width: 1, type: [3, 2] as [number, number], color: style.muted, opacity: 0.8 },
              }))
            : [];
        }),
      ),
      ...rows.flatMap((row, r) =>
        fans.fields.flatMap(({ fans: outcome }, c) =>
          outcome.ok ? outcome.value[row].map((curve) => lineOf(curve, at(r, c), style.wave(curve.nm))) : [],
        ),
      ),
    ],
  };
}

function lineOf({ nm, pupil, error }: FanCurve, axis: number, color: string) {
  return {
    type: 'line' as const,
    xAxisIndex: axis,
    yAxisIndex: axis,
    showSymbol: false,
    clip: true,
    lineStyle: { width: 1.3, color },
    itemStyle: { color },
    name: `${nm} nm`,
    data: Array.from(pupil, (p, i) => [p, Number.isNaN(error[i]) ? '-' : error[i]]),
  };
}
