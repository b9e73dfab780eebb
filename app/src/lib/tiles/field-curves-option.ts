import type { FieldCurves } from '@ulvex/core';
import { niceStep } from '../format.ts';
import type { EChartsOption } from './echarts.ts';
import { UNDERNEATH } from './underneath.ts';

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

/** Times their median to which foci are shown: farther out they are on their way through infinity. */
const FAR_FOCUS = 8;

/** Bounds for foci: of all of them, but for those that run off to infinity and come back from the other side, as with long throws. */
export function focusBound(values: readonly number[]): number {
  const sizes = values
    .filter(Number.isFinite)
    .map(Math.abs)
    .sort((a, b) => a - b);
  const median = sizes[sizes.length >> 1] ?? 0;
  const near = sizes.filter((size) => size <= FAR_FOCUS * median);
  return roundBound(near.length > 0 ? near : sizes, 0.001);
}

/** A curve of foci, broken where it passes through infinity: its sign changes while it is far out. */
export function brokenAtInfinity(values: readonly number[], bound: number): number[] {
  return values.map((value, k) => {
    const next = values[k + 1] ?? value;
    return value < 0 !== next < 0 && Math.min(Math.abs(value), Math.abs(next)) > bound / 2 ? NaN : value;
  });
}

/** Three charts side by side, the field upward: foci of each colour, distortion, relative illumination. */
export function fieldCurvesOption(
  curves: FieldCurves,
  style: FieldCurvesStyle,
  { width, height }: { readonly width: number; readonly height: number },
  before: FieldCurves | null = null,
): EChartsOption {
  const both = before ? [curves, before] : [curves];
  const gap = 30;
  const left = 46;
  const each = Math.max(20, (width - left - 3 * gap) / 3);
  const percent = (values: readonly number[]) => values.map((value) => 100 * value);
  const brightest = Math.max(...both.flatMap(({ illumination }) => percent(illumination).filter(Number.isFinite)));
  const bounds = [
    focusBound(both.flatMap(({ foci }) => foci.flatMap(({ tangential, sagittal }) => [...tangential, ...sagittal]))),
    roundBound(
      both.flatMap(({ distortion }) => distortion),
      0.01,
    ),
    // Pupils grow towards the edge in some lenses, and the light with them.
    brightest <= 100.5 ? 100 : roundBound([brightest], 100),
  ];
  const largest = Math.max(...both.map((from) => from.largest));
  const titles = ['focus from the image, mm', 'distortion, %', 'relative illumination, %'];
  const field = (from: FieldCurves) => from.share.map((share) => share * from.largest);
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
  const isClipped = ({ vignetted, illumination }: FieldCurves) =>
    vignetted.some((value, k) => Math.abs(value - illumination[k]) > 1e-4);
  const old = before
    ? [
        ...before.foci.flatMap(({ nm, tangential, sagittal }) => [
          line(0, `reference, ${nm} nm tangential`, tangential, style.muted, 'solid', before),
          line(0, `reference, ${nm} nm sagittal`, sagittal, style.muted, 'dashed', before),
        ]),
        line(1, 'reference', before.distortion, style.muted, 'solid', before),
        line(2, 'reference', percent(before.illumination), style.muted, 'solid', before),
        ...(isClipped(before)
          ? [line(2, 'reference, through set apertures', percent(before.vignetted), style.muted, 'dotted', before)]
          : []),
      ].map((one) => ({ ...one, ...UNDERNEATH }))
    : [];
  const named = {
    nameTextStyle: { color: style.muted, fontSize: 11 },
    axisLabel: {
      color: style.muted,
      fontSize: 10,
      formatter: (value: number) => String(Number(value.toPrecision(4))).replace('-', '−'),
    },
  };
  return {
    animation: false,
    textStyle: { fontFamily: 'IBM Plex Sans Variable, sans-serif' },
    tooltip: { trigger: 'item', confine: true },
    grid: titles.map((_, i) => ({
      left: left + i * (each + gap),
      width: each,
      top: 8,
      height: Math.max(20, height - 46),
    })),
    xAxis: titles.map((name, i) => ({
      gridIndex: i,
      type: 'value' as const,
      min: i === 2 ? 0 : -bounds[i],
      max: bounds[i],
      interval: i === 2 ? bounds[i] / 2 : bounds[i],
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
      max: largest,
      interval: largest / 2,
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
        line(0, `${nm} nm tangential`, brokenAtInfinity(tangential, bounds[0]), style.wave(nm)),
        line(0, `${nm} nm sagittal`, brokenAtInfinity(sagittal, bounds[0]), style.wave(nm), 'dashed'),
      ]),
      line(1, 'distortion', curves.distortion, style.ink),
      line(2, 'whole pupil', percent(curves.illumination), style.ink),
      ...(isClipped(curves) ? [line(2, 'through set apertures', percent(curves.vignetted), style.ink, 'dotted')] : []),
    ],
  };
}
