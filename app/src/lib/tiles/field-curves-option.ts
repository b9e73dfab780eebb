import type { FieldCurves } from '@ulvex/core';
import { niceStep } from '../format.ts';
import type { EChartsOption } from './echarts.ts';

export interface FieldCurvesStyle {
  readonly ink: string;
  readonly muted: string;
  readonly grid: string;
  readonly wave: (nm: number) => string;
}

/** Symmetric bounds of an axis: the next round number that holds all values. */
export function roundBound(values: readonly number[], least: number): number {
  const largest = Math.max(least, ...values.filter(Number.isFinite).map(Math.abs));
  const step = niceStep(largest, 3);
  return Number((Math.ceil((largest * 1.02) / step) * step).toPrecision(6));
}

/** Three charts side by side, the field upward: foci of each colour, distortion, relative illumination. */
export function fieldCurvesOption(
  curves: FieldCurves,
  style: FieldCurvesStyle,
  { width, height }: { readonly width: number; readonly height: number },
  before: FieldCurves | null = null,
): EChartsOption {
  const gap = 30;
  const left = 46;
  const each = Math.max(20, (width - left - 3 * gap) / 3);
  const bounds = [
    roundBound([curves, ...(before ? [before] : [])].flatMap(({ foci }) => foci.flatMap(({ tangential, sagittal }) => [...tangential, ...sagittal])), 0.001),
    roundBound([...curves.distortion, ...(before?.distortion ?? [])], 0.01),
  ]; // prettier-ignore
  const titles = ['focus from the image, mm', 'distortion, %', 'relative illumination, %'];
  const field = (from: FieldCurves) => from.share.map((share) => share * curves.largest);
  const line = (
    chart: number,
    name: string,
    values: readonly number[],
    color: string,
    type: 'solid' | 'dashed' | 'dotted' = 'solid',
    from = curves,
  ) => ({
    type: 'line' as const,
    name,
    xAxisIndex: chart,
    yAxisIndex: chart,
    showSymbol: false,
    data: values.map((value, k) => [Number.isFinite(value) ? value : '-', field(from)[k]]),
    lineStyle: { width: from === curves ? 1.5 : 1, color, type },
    itemStyle: { color },
  });
  const percent = (values: readonly number[]) => values.map((value) => 100 * value);
  const clipped = curves.vignetted.some((value, k) => Math.abs(value - curves.illumination[k]) > 1e-4);
  const old = before
    ? [
        ...before.foci.slice(0, 1).flatMap(({ tangential, sagittal }) => [
          line(0, 'reference, tangential', tangential, style.muted, 'solid', before),
          line(0, 'reference, sagittal', sagittal, style.muted, 'dashed', before),
        ]),
        line(1, 'reference', before.distortion, style.muted, 'solid', before),
        line(2, 'reference', percent(before.illumination), style.muted, 'solid', before),
      ]
    : [];
  const named = { nameTextStyle: { color: style.muted, fontSize: 11 }, axisLabel: { color: style.muted, fontSize: 10, formatter: (value: number) => String(Number(value.toPrecision(4))).replace('-', '−') } };
  return {
    animation: false,
    textStyle: { fontFamily: 'IBM Plex Sans Variable, sans-serif' },
    tooltip: { trigger: 'item', confine: true },
    grid: titles.map((_, i) => ({ left: left + i * (each + gap), width: each, top: 8, height: Math.max(20, height - 46) })),
    xAxis: titles.map((name, i) => ({
      gridIndex: i,
      type: 'value' as const,
      min: i === 2 ? 0 : -bounds[i],
      max: i === 2 ? 100 : bounds[i],
      interval: i === 2 ? 50 : bounds[i],
      name,
      nameLocation: 'middle' as const,
      nameGap: 20,
      splitLine: { lineStyle: { color: style.grid } },
      ...named,
    })),
    yAxis: titles.map((_, i) => ({
      gridIndex: i,
      type: 'value' as const,
      min: 0,
      max: curves.largest,
      interval: curves.largest / 2,
      name: i === 0 ? `field, ${curves.unit}` : '',
      nameLocation: 'middle' as const,
      nameGap: 26,
      splitLine: { lineStyle: { color: style.grid } },
      ...named,
      axisLabel: { ...named.axisLabel, show: i === 0 },
    })),
    series: [
      ...old,
      ...curves.foci.flatMap(({ nm, tangential, sagittal }) => [
        line(0, `${nm} nm tangential`, tangential, style.wave(nm)),
        line(0, `${nm} nm sagittal`, sagittal, style.wave(nm), 'dashed'),
      ]),
      line(1, 'distortion', curves.distortion, style.ink),
      line(2, 'whole pupil', percent(curves.illumination), style.ink),
      ...(clipped ? [line(2, 'through set apertures', percent(curves.vignetted), style.ink, 'dotted')] : []),
    ],
  };
} // prettier-ignore
