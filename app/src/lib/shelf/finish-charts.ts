import type { FaceCurve } from '@ulvex/core';
import { fixed, significant } from '../format.ts';
import type { EChartsOption } from '../tiles/echarts.ts';
import { axis, ends, FONT, type ShelfStyle } from './shelf-charts.ts';

/** What of a face is drawn. */
export const SHOWN = {
  reflected: 'reflected',
  transmitted: 'transmitted',
  all: 'reflected, transmitted, absorbed',
} as const;
export type Shown = keyof typeof SHOWN;

/** What the curve goes along. */
type Over = 'nm' | 'angle of incidence °';

/** A curve of shares in percent: its name, how it is drawn, and its values. */
interface Line {
  readonly name: string;
  readonly colour: string;
  readonly type: 'solid' | 'dashed' | 'dotted';
  readonly width: number;
  readonly values: readonly number[];
}

const mean = (a: readonly number[], b: readonly number[]) => a.map((value, i) => (100 * (value + b[i])) / 2);
/** What is left of 100 %; rounding aside. */
const rest = (value: number) => (value < 1e-10 ? 0 : value);
const percent = (values: readonly number[]) => values.map((value) => 100 * value);

/** The curves of what is shown, in percent: the mean of both polarisations, and each by itself where they part. */
export function linesOf(curve: FaceCurve, shown: Shown, style: ShelfStyle): readonly Line[] {
  const [reflected, through] = [mean(curve.rs, curve.rp), mean(curve.ts, curve.tp)];
  const solid = (name: string, colour: string, values: readonly number[]): Line => ({
    name,
    colour,
    type: 'solid',
    width: 2,
    values,
  });
  if (shown === 'all')
    return [
      solid('reflected', style.accent, reflected),
      solid('transmitted', style.ink, through),
      solid(
        'absorbed',
        style.edge,
        reflected.map((value, i) => rest(100 - value - through[i])),
      ),
    ];
  const [middle, s, p] = shown === 'reflected' ? [reflected, curve.rs, curve.rp] : [through, curve.ts, curve.tp];
  const colour = shown === 'reflected' ? style.accent : style.ink;
  const parted = s.some((value, i) => Math.abs(value - p[i]) > 1e-9);
  const one = (name: string, type: Line['type'], values: readonly number[]): Line => ({
    name,
    colour,
    type,
    width: 1,
    values: percent(values),
  });
  return [solid(shown, colour, middle), ...(parted ? [one('s', 'dashed', s), one('p', 'dotted', p)] : [])];
}

/** Says the shares at a place of the curve. */
function tooltipOf(curve: FaceCurve, over: Over, lines: readonly Line[]) {
  return {
    trigger: 'axis' as const,
    confine: true,
    formatter: (at: unknown) => {
      const [{ dataIndex }] = at as { dataIndex: number }[];
      const where = over === 'nm' ? `${fixed(curve.at[dataIndex], 0)} nm` : `${fixed(curve.at[dataIndex], 1)}°`;
      return [where, ...lines.map(({ name, values }) => `${name} ${significant(values[dataIndex], 4)} %`)].join('<br>');
    },
  };
}

/**
 * A chart of shares in percent.
 *
 * @param before - the same of the reference, in grey; null without one
 * @param mark - where along the axis the other chart is taken
 */
export function finishOption(
  curve: FaceCurve,
  before: FaceCurve | null,
  over: Over,
  shown: Shown,
  mark: number,
  style: ShelfStyle,
): EChartsOption {
  const lines = linesOf(curve, shown, style);
  const earlier = before ? linesOf(before, shown, style).filter(({ type }) => type === 'solid') : [];
  const whole = [...lines, ...earlier].flatMap(({ values }) => values);
  const top = Math.min(100, ends([0, ...whole], 5).max);
  const points = (values: readonly number[]) => values.map((value, i) => [curve.at[i], value]);
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    grid: { left: 48, right: 18, top: 24, bottom: 38 },
    tooltip: tooltipOf(curve, over, lines),
    xAxis: {
      ...axis(style, over),
      min: curve.at[0],
      max: curve.at[curve.at.length - 1],
      nameLocation: 'middle',
      nameGap: 22,
      ...(over === 'nm' ? {} : { interval: 15 }),
    },
    yAxis: { ...axis(style, '%'), min: 0, max: top, nameGap: 8 },
    series: [
      ...earlier.map(({ values }) => ({
        type: 'line' as const,
        silent: true,
        showSymbol: false,
        data: points(values),
        lineStyle: { color: style.muted, width: 1.5, opacity: 0.6 },
      })),
      ...lines.map(({ name, colour, type, width, values }) => ({
        type: 'line' as const,
        name,
        showSymbol: false,
        data: points(values),
        lineStyle: { color: colour, type, width },
        itemStyle: { color: colour },
      })),
      {
        type: 'line' as const,
        silent: true,
        showSymbol: false,
        data: [
          [mark, 0],
          [mark, top],
        ],
        lineStyle: { color: style.muted, type: 'dotted', width: 1 },
      },
    ],
  } as EChartsOption;
}
