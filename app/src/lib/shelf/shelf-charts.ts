import { inRange, refractiveIndex, type Material } from '@ulvex/core';
import { fixed, niceStep } from '../format.ts';
import type { EChartsOption } from '../tiles/echarts.ts';
import type { Stock } from './stock.ts';

export interface ShelfStyle {
  readonly ink: string;
  readonly muted: string;
  readonly grid: string;
  readonly accent: string;
  readonly tint: (vd: number) => string;
  readonly edge: string;
  readonly wave: (nm: number) => string;
}

const SYMBOL = { glass: 'circle', plastic: 'triangle', crystal: 'diamond', own: 'rect' } as const;
export const FONT = 'IBM Plex Sans Variable, sans-serif';

/** An axis of numbers in quiet lines. */
export function axis(style: ShelfStyle, name: string) {
  return {
    type: 'value' as const,
    name,
    nameTextStyle: { color: style.muted, fontSize: 11 },
    axisLabel: { color: style.muted, fontSize: 10 },
    axisLine: { lineStyle: { color: style.muted } },
    splitLine: { lineStyle: { color: style.grid } },
  };
}

/** Ends of an axis that hold values with a little room, on round numbers. */
export function ends(values: readonly number[], count: number): { min: number; max: number } {
  if (values.length === 0) return { min: 0, max: 1 };
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const step = niceStep(Math.max(high - low, 1e-6), count);
  const digits = (value: number) => Number(value.toPrecision(12));
  return { min: digits(Math.floor(low / step) * step), max: digits(Math.ceil(high / step) * step) };
}

/**
 * Index against Abbe number, high numbers at the left as the trade draws it; what the lens is made of and what is chosen stand out.
 * What has no index in the visible, or so much that it would squeeze the rest, is left out.
 */
export function mapOption(
  stock: readonly Stock[],
  used: ReadonlySet<string>,
  chosen: string | null,
  style: ShelfStyle,
): EChartsOption {
  const shown = stock.filter(({ nd, vd }) => nd < 2.2 && vd > 0 && vd < 120);
  const rank = (id: string) => (id === chosen ? 2 : used.has(id) ? 1 : 0);
  const points = [...shown].sort((a, b) => rank(a.material.id) - rank(b.material.id));
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    grid: { left: 46, right: 22, top: 26, bottom: 40 },
    tooltip: {
      trigger: 'item',
      confine: true,
      formatter: (at) => {
        const { material, nd, vd } = points[(at as { dataIndex: number }).dataIndex];
        return `${escape(material.label)}, ${escape(material.family)}<br>nd ${nd.toFixed(5)}, Vd ${vd.toFixed(2)}`;
      },
    },
    xAxis: {
      ...axis(style, 'Abbe number Vd'),
      ...ends(
        shown.map(({ vd }) => vd),
        8,
      ),
      inverse: true,
      nameLocation: 'middle',
      nameGap: 24,
    },
    yAxis: {
      ...axis(style, 'index nd'),
      ...ends(
        shown.map(({ nd }) => nd),
        6,
      ),
      nameGap: 8,
    },
    series: [
      {
        type: 'scatter',
        data: points.map((one) => stockPoint(one, rank(one.material.id), style)),
      },
    ],
  } as EChartsOption;
}

/** The place of a glass on the map; `level` 1 if the lens is made of it, 2 if it is chosen. */
function stockPoint({ material, nd, vd, sort }: Stock, level: number, style: ShelfStyle) {
  return {
    value: [vd, nd],
    name: material.id,
    symbol: SYMBOL[sort],
    symbolSize: [8, 11, 13][level],
    itemStyle: {
      color: level === 2 ? style.accent : style.tint(vd),
      borderColor: level > 0 ? style.accent : style.edge,
      borderWidth: level > 0 ? 2 : 1,
    },
    ...(level > 0 && {
      label: { show: true, formatter: material.label, position: 'top', fontSize: 11, color: style.ink, distance: 4 },
    }),
  };
}

const escape = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** Index against wavelength over the range of a material, with the wavelengths of the lens marked on it. */
export function dispersionOption(
  material: Material,
  waves: readonly { readonly nm: number }[],
  style: ShelfStyle,
): EChartsOption {
  const [from, to] = material.range;
  const curve = dispersionCurve(material);
  const marks = waves.filter(({ nm }) => inRange(material, nm));
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    grid: { left: 48, right: 14, top: 12, bottom: 36 },
    tooltip: {
      trigger: 'axis',
      confine: true,
      formatter: (at) => {
        const [nm, n] = (at as unknown as { value: readonly [number, number] }[])[0].value;
        return `${fixed(nm, 1)} nm: ${n.toFixed(5)}`;
      },
    },
    xAxis: {
      ...axis(style, 'nm'),
      type: 'log',
      min: from,
      max: to,
      nameLocation: 'middle',
      nameGap: 22,
      splitNumber: 4,
      axisLabel: {
        color: style.muted,
        fontSize: 10,
        hideOverlap: true,
        formatter: (value: number) => String(Number(value.toPrecision(3))),
      },
    },
    yAxis: {
      ...axis(style, ''),
      ...ends(
        curve.map(([, n]) => n),
        4,
      ),
      axisLabel: { color: style.muted, fontSize: 10 },
    },
    series: [
      {
        type: 'line',
        showSymbol: false,
        data: curve as unknown as number[][],
        lineStyle: { width: 1.5, color: style.ink },
        itemStyle: { color: style.ink },
      },
      {
        type: 'scatter',
        silent: true,
        symbolSize: 8,
        data: marks.map(({ nm }) => ({
          value: [nm, refractiveIndex(material.dispersion, nm)],
          itemStyle: { color: style.wave(nm) },
        })),
      },
    ],
  } as EChartsOption;
}

/** Wavelength and index over the range of a material, evenly on a logarithmic axis. */
function dispersionCurve({ range: [from, to], dispersion }: Material): readonly (readonly [nm: number, n: number])[] {
  const count = 120;
  return Array.from({ length: count + 1 }, (_, i) => {
    const nm = from * (to / from) ** (i / count);
    return [nm, refractiveIndex(dispersion, nm)] as const;
  }).filter(([, n]) => n > 0);
}
