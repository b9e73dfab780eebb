import type { MtfChart } from '@ulvex/core';
import type { EChartsOption } from './echarts.ts';
import { UNDERNEATH } from './underneath.ts';

export interface MtfStyle {
  readonly muted: string;
  readonly grid: string;
  /** One for each field. */
  readonly fields: readonly string[];
}

/** Whether the limits of all fields and directions lie so near together that one line tells them all. */
const ALIKE = 0.01;

/** The limits of diffraction as lines: one for all if they are alike, else each in the colour of its field. */
function limitLines(
  { fields }: MtfChart,
  labels: ReadonlyMap<string, string>,
  style: MtfStyle,
): { name: string; values: readonly number[]; colour: string }[] {
  const all = fields.flatMap(({ field, curves }, i) =>
    curves.ok
      ? (['tangential', 'sagittal'] as const).map((way) => ({
          name: `${labels.get(field) ?? field} ${way} limit`,
          values: curves.value.limits[way],
          colour: style.fields[i] ?? style.muted,
        }))
      : [],
  );
  const [first] = all;
  if (!first) return [];
  const alike = all.every(({ values }) => values.every((value, k) => Math.abs(value - first.values[k]) < ALIKE));
  return alike ? [{ name: 'limit of diffraction', values: first.values, colour: style.muted }] : all;
}

/** Modulation over frequency: tangential in full lines, sagittal in dashes, limits of diffraction dotted. */
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
            line(
              `${prefix}${labels.get(field) ?? field} tangential`,
              curves.value.tangential,
              colour(i),
              'solid',
              from,
              width,
            ),
            line(
              `${prefix}${labels.get(field) ?? field} sagittal`,
              curves.value.sagittal,
              colour(i),
              'dashed',
              from,
              width,
            ),
          ]
        : [],
    );
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
      ...limitLines(chart, labels, style).map(({ name, values, colour }) =>
        line(name, values, colour, 'dotted', chart, 1.2),
      ),
      ...(before ? of(before, () => style.muted, 'reference, ', 1).map((one) => ({ ...one, ...UNDERNEATH })) : []),
      ...of(chart, (i) => style.fields[i] ?? style.muted, '', 1.6),
    ],
  };
}
