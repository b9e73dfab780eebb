import type { MtfChart } from '@ulvex/core';
import type { EChartsOption } from './echarts.ts';
import { UNDERNEATH } from './underneath.ts';

export interface MtfStyle {
  readonly muted: string;
  readonly grid: string;
  /** One for each field. */
  readonly fields: readonly string[];
}

/** Modulation over frequency: tangential in full lines, sagittal in dashes, the limit of diffraction dotted. */
export function mtfOption(
  chart: MtfChart,
  labels: ReadonlyMap<string, string>,
  style: MtfStyle,
  before: MtfChart | null = null,
): EChartsOption {
  const points = (values: readonly number[], from: MtfChart) =>
    values.map((value, k) => [from.frequencies[k], Number.isFinite(value) ? value : '-']);
  const line = (
    name: string,
    values: readonly number[],
    color: string,
    type: 'solid' | 'dashed' | 'dotted',
    from = chart,
    width = 1.5,
  ) => ({
    type: 'line' as const,
    name,
    showSymbol: false,
    data: points(values, from),
    lineStyle: { width, color, type },
    itemStyle: { color },
  });
  const of = (from: MtfChart, colour: (i: number) => string, prefix: string, width: number) =>
    from.fields.flatMap(({ field, curves }, i) =>
      curves.ok
        ? [
            line(`${prefix}${labels.get(field) ?? field} tangential`, curves.value.tangential, colour(i), 'solid', from, width),
            line(`${prefix}${labels.get(field) ?? field} sagittal`, curves.value.sagittal, colour(i), 'dashed', from, width),
          ]
        : [],
    ); // prettier-ignore
  return {
    animation: false,
    textStyle: { fontFamily: 'IBM Plex Sans Variable, sans-serif' },
    tooltip: { trigger: 'axis', confine: true, valueFormatter: (value) => Number(value).toFixed(3) },
    grid: { left: 40, right: 16, top: 10, bottom: 36 },
    xAxis: {
      type: 'value',
      min: 0,
      max: chart.frequencies.at(-1)!,
      name: `cycles/${chart.unit}`,
      nameLocation: 'middle',
      nameGap: 22,
      nameTextStyle: { color: style.muted, fontSize: 11 },
      axisLabel: { color: style.muted, fontSize: 10 },
      splitLine: { lineStyle: { color: style.grid } },
    },
    yAxis: {
      type: 'value',
      min: 0,
      max: 1,
      interval: 0.2,
      axisLabel: { color: style.muted, fontSize: 10 },
      splitLine: { lineStyle: { color: style.grid } },
    },
    series: [
      line('limit of diffraction', chart.limit, style.muted, 'dotted'),
      ...(before
        ? of(before, () => style.muted, 'reference, ', 1).map((one) => ({ ...one, ...UNDERNEATH }))
        : []),
      ...of(chart, (i) => style.fields[i] ?? style.muted, '', 1.6),
    ],
  };
}
