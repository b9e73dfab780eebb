import type { Axis, BarPanel, Curve, CurvePanel, DotPanel, Panel, Stroke, Tint } from '@ulvex/core';
import { niceStep, significant } from '../format.ts';
import type { EChartsOption } from './echarts.ts';
import { UNDERNEATH } from './underneath.ts';

export interface PanelStyle {
  readonly ink: string;
  readonly muted: string;
  readonly grid: string;
  readonly fields: readonly string[];
  readonly wave: (nm: number) => string;
}

export type ChartPanel = CurvePanel | BarPanel | DotPanel;

export const isChart = (panel: Panel): panel is ChartPanel =>
  panel.kind === 'curves' || panel.kind === 'bars' || panel.kind === 'dots';

/** The colour of a tint. */
export function colourOf(tint: Tint, style: PanelStyle): string {
  if (tint === 'ink') return style.ink;
  if (tint === 'limit') return style.muted;
  return 'nm' in tint ? style.wave(tint.nm) : (style.fields[tint.field] ?? style.ink);
}

/** A name in which the id of a field or surface, where it comes first, is what it is called on screen. */
export function shownName(name: string, labels: ReadonlyMap<string, string>): string {
  const [first, ...rest] = name.split(' ');
  return [labels.get(first) ?? first, ...rest].join(' ');
}

/** The words with which two names begin alike, up to a comma; the first name where there are none. */
function inCommon(one: string, other: string): string {
  const [first] = one.split(', ');
  return one !== other && other.startsWith(`${first}, `) ? first : one;
}

/** What the colours of some charts stand for, each once. */
export function legendOf(panels: readonly ChartPanel[], style: PanelStyle, labels: ReadonlyMap<string, string>) {
  const found = new Map<string, { name: string; colour: string; stroke: Stroke }>();
  const add = (name: string, tint: Tint, stroke: Stroke) => {
    // Curves in ink differ in their strokes, all others in their colours.
    const key = tint === 'ink' ? `ink ${stroke}` : JSON.stringify(tint);
    const known = found.get(key);
    if (known) {
      // One entry for several of a colour bears what their names have in common.
      if (tint === 'limit') known.name = inCommon(known.name, name);
      return;
    }
    const [first] = name.split(' ');
    const plain = name.replace(/ (tangential|sagittal|across [xy])$/, '');
    const shown = typeof tint === 'object' && 'field' in tint && labels.has(first) ? labels.get(first)! : plain;
    if (tint === 'ink' && [...found.values()].some((entry) => entry.name === shown)) return;
    found.set(key, { name: shown, colour: colourOf(tint, style), stroke });
  };
  for (const panel of panels) {
    if (panel.kind === 'bars')
      panel.series.forEach(({ name, tint }) => panel.series.length > 1 && add(name, tint, 'solid'));
    else {
      if (panel.kind === 'dots') panel.groups.forEach(({ name, tint }) => add(name, tint, 'solid'));
      (panel.kind === 'dots' ? panel.outlines : panel.curves).forEach((curve) => {
        if (!isPoint(curve)) add(curve.name, curve.tint, curve.stroke ?? 'solid');
      });
    }
  }
  return found.size > 1 ? [...found.values()] : [];
}

const isPoint = ({ x, y }: Curve) => x.length === 2 && x[0] === x[1] && y[0] === y[1];

/** Steps of ticks that read well, over powers of ten. */
const ROUND = [1, 1.2, 1.5, 1.6, 2, 2.5, 3, 4, 5, 6, 8, 10];

/** The least step of ticks that reads well and is not below another. */
function roundStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return Number((power * ROUND.find((step) => step * power >= least * (1 - 1e-9))!).toPrecision(3));
}

/** Bounds of an axis, and the step of its ticks: as asked for, or round ones that hold all values; about 0 or from 0 where that suits. */
export function boundsOf(axis: Axis, values: readonly number[], ticks = 4): { min: number; max: number; step: number } {
  if (axis.range) {
    const [min, max] = axis.range;
    const step = niceStep(max - min || 1, ticks);
    if (Math.abs(min + max) >= 1e-12 * max) return { min, max, step };
    // About 0 the ends bear figures: they are moved out to where those can be read.
    const wanted = Math.max(1, Math.round(max / step));
    const exact = [wanted, wanted + 1, wanted - 1].find(
      (count) => count > 0 && roundStep(max / count) * count < max * (1 + 1e-9),
    );
    const count = exact ?? wanted;
    const round = roundStep(max / count);
    return { min: -count * round, max: count * round, step: round };
  }
  const known = values.filter(Number.isFinite);
  const [low, high] =
    known.length > 0 ? [known.reduce((a, b) => Math.min(a, b)), known.reduce((a, b) => Math.max(a, b))] : [0, 1];
  if (axis.centred) {
    const most = Math.max(Math.abs(low), Math.abs(high)) || 1e-3;
    const step = niceStep(most, Math.max(1, ticks / 2));
    const bound = Number((Math.ceil((most * 1.02) / step) * step).toPrecision(6));
    return { min: -bound, max: bound, step };
  }
  const from = low >= 0 && low < 0.6 * high ? 0 : low;
  const span = high - from || Math.abs(high) || 1;
  const step = niceStep(span, ticks);
  const bound = (value: number, round: (x: number) => number) => Number((round(value / step) * step).toPrecision(6));
  return {
    min: from === 0 ? 0 : bound(from - 0.005 * span, Math.floor),
    max: bound(high + 0.005 * span, Math.ceil),
    step,
  };
}

/** How many columns give each of some panels the most room at its proportion (width over height). */
export function columnsFor(
  count: number,
  { width, height }: { readonly width: number; readonly height: number },
  ratio: number,
): number {
  let [best, most] = [1, 0];
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns);
    const room = Math.min(width / columns / ratio, height / rows);
    if (room > most * 1.001) [best, most] = [columns, room];
  }
  return best;
}

/** What the axes of a panel stand for: only what stands for the same can be laid over each other. */
function axesOf(panel: ChartPanel): string {
  const axes = panel.kind === 'bars' ? [panel.value] : [panel.x, panel.y];
  return axes.map(({ title, unit }) => `${title} ${unit}`).join();
}

/** How charts stand side by side. */
export interface ChartLayout {
  /** As many side by side as asked; as fits best by default. */
  readonly columns?: number | undefined;
  /** Whether axes are not named on each: many small pictures, or pictures to a scale that is said elsewhere. */
  readonly compact: boolean;
}

/** How the charts of an analysis stand: as it asks for, compact if there are many pictures of dots. */
export function layoutOf(
  panels: readonly ChartPanel[],
  { columns, compact }: { readonly columns?: number; readonly compact?: boolean },
): ChartLayout {
  return { columns, compact: compact ?? (panels.length > 3 && panels.every(({ kind }) => kind === 'dots')) };
}

/** Whether charts are small pictures of dots, which are drawn without axes. */
export const areDots = (panels: readonly ChartPanel[], { compact }: ChartLayout) =>
  compact && panels.length > 0 && panels.every(({ kind }) => kind === 'dots');

const FONT = 'IBM Plex Sans Variable, sans-serif';

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Charts as they are drawn: what of them depends on all together. */
interface Drawing {
  readonly panels: readonly ChartPanel[];
  readonly before: readonly ChartPanel[];
  readonly labels: ReadonlyMap<string, string>;
  readonly style: PanelStyle;
  readonly compact: boolean;
  readonly columns: number;
  /** Text over each panel, and how many lines it has. */
  readonly heads: readonly string[];
  readonly lines: number;
  readonly margin: { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number };
  readonly boxes: readonly (Size & { readonly left: number; readonly top: number })[];
}

/** The panel of a reference that can be laid under a panel: of the same name and axes. */
export const earlierOf = (before: readonly ChartPanel[], panel: ChartPanel) =>
  before.find(
    (earlier) => earlier.kind === panel.kind && earlier.title === panel.title && axesOf(earlier) === axesOf(panel),
  );

/** Room on the left of a panel: for the names of bars, the figures of an axis, or those of the first column alone. */
function leftMargin(panels: readonly ChartPanel[], labels: ReadonlyMap<string, string>, compact: boolean): number {
  if (compact) return 36;
  const names = panels.flatMap((panel) => (panel.kind === 'bars' ? panel.names : []));
  if (names.length === 0) return 50;
  return Math.min(170, 12 + 5.6 * Math.max(...names.map((name) => shownName(name, labels).length)));
}

function drawingOf(
  panels: readonly ChartPanel[],
  before: readonly ChartPanel[],
  { columns: wanted, compact }: ChartLayout,
  labels: ReadonlyMap<string, string>,
  style: PanelStyle,
  size: Size,
): Drawing {
  const square = panels.every(({ kind }) => kind === 'dots');
  const columns = wanted ?? columnsFor(panels.length, size, square ? 1 : 1.5);
  const heads = panels.map(({ title }) => shownName(title, labels));
  const lines = heads.some((head) => head !== '') ? 1 : 0;
  const margin = {
    left: leftMargin(panels, labels, compact),
    right: compact ? 6 : 14,
    top: lines > 0 ? 7 + 13 * lines : 8,
    bottom: compact ? 4 : 32,
  };
  // Compact charts have figures in the first column alone: the others need no room for them.
  const inner = compact ? 6 : margin.left;
  const cell = {
    width: (size.width - (margin.left - inner)) / columns,
    height: size.height / Math.ceil(panels.length / columns),
  };
  const boxes = panels.map((_, i) => {
    const width = Math.max(12, cell.width - inner - margin.right);
    const height = Math.max(12, cell.height - margin.top - margin.bottom);
    const left = margin.left - inner + (i % columns) * cell.width + inner;
    const top = Math.floor(i / columns) * cell.height + margin.top;
    if (!square) return { left, top, width, height };
    const side = Math.min(width, height);
    return { left: left + (width - side) / 2, top, width: side, height: side };
  });
  return { panels, before, labels, style, compact, columns, heads, lines, margin, boxes };
}

interface AxisValues {
  readonly axis: Axis;
  readonly values: readonly number[];
}

const alongX = (panel: ChartPanel): AxisValues =>
  panel.kind === 'bars'
    ? { axis: panel.value, values: [0, ...panel.series.flatMap(({ values }) => values)] }
    : { axis: panel.x, values: curvesOf(panel).flatMap(({ x }) => x) };
const alongY = (panel: ChartPanel): AxisValues | null =>
  panel.kind === 'bars' ? null : { axis: panel.y, values: curvesOf(panel).flatMap(({ y }) => y) };

/** Values along an axis over all panels that have the same one, so that they can be compared. */
function shared(
  { panels, before }: Drawing,
  pick: (panel: ChartPanel) => AxisValues | null,
  of: ChartPanel,
): readonly number[] {
  const own = pick(of)!.axis;
  return [...panels, ...before].flatMap((panel) => {
    const found = panel.kind === of.kind ? pick(panel) : null;
    return found && found.axis.title === own.title && found.axis.unit === own.unit ? found.values : [];
  });
}

/** The axis of a panel, its range wide enough for the one of what is laid under it. */
function axisOf({ before }: Drawing, pick: (panel: ChartPanel) => AxisValues | null, of: ChartPanel): Axis {
  const { axis } = pick(of)!;
  const { range } = axis;
  if (!range) return axis;
  const ranges = before.flatMap((panel) => {
    const found = panel.kind === of.kind ? pick(panel)?.axis : undefined;
    return found?.range && found.title === axis.title && found.unit === axis.unit ? [found.range] : [];
  });
  const wide = ranges.reduce(([a, b], [low, high]) => [Math.min(a, low), Math.max(b, high)] as const, range);
  return { ...axis, range: wide };
}

/** A number at a tick: large ones in thousands or millions, which the room beside an axis has place for. */
function figure(value: number): string {
  const [unit, sign] = Math.abs(value) >= 1e6 ? [1e6, 'M'] : Math.abs(value) >= 1e4 ? [1e3, 'k'] : [1, ''];
  return `${Number((value / unit).toPrecision(4))}${sign}`.replace('-', '−');
}

function axisStyle({ style, compact }: Drawing) {
  return {
    nameTextStyle: { color: style.muted, fontSize: 11 },
    axisLabel: { color: style.muted, fontSize: 10, show: !compact, hideOverlap: true },
    axisTick: { show: false },
    splitLine: { show: true, lineStyle: { color: style.grid } },
  };
}

/** An axis of values: named with round ticks, or in compact charts a line through 0 between the ends of its range. */
function valueAxis(drawing: Drawing, i: number, axis: Axis, values: readonly number[], place: 'x' | 'y') {
  const { boxes, style, compact, columns } = drawing;
  const common = axisStyle(drawing);
  if (compact && axis.range) {
    const [min, max] = axis.range;
    return {
      ...common,
      gridIndex: i,
      type: 'value' as const,
      min,
      max,
      interval: max,
      axisLine: { onZero: true, show: true, lineStyle: { color: style.muted } },
      axisLabel: { ...common.axisLabel, formatter: figure, show: place === 'y' && i % columns === 0 },
    };
  }
  const ticks = Math.max(2, Math.min(6, boxes[i][place === 'x' ? 'width' : 'height'] / 45));
  const { min, max, step } = boundsOf(axis, values, ticks);
  return {
    ...common,
    gridIndex: i,
    type: 'value' as const,
    min,
    max,
    interval: step,
    name: compact ? '' : axis.unit ? `${axis.title}, ${axis.unit}` : axis.title,
    nameLocation: 'middle' as const,
    nameGap: place === 'x' ? 20 : 36,
    axisLine: { onZero: false, show: true, lineStyle: { color: style.muted } },
    axisLabel: {
      ...common.axisLabel,
      formatter: figure,
      showMaxLabel: Math.abs(max / step - Math.round(max / step)) < 1e-6, // an end between ticks would stand on the last of them
    },
  };
}

/** The axis of the names of bars: every bar is named while the names can be read at all. */
function namesAxis(drawing: Drawing, i: number, { names }: BarPanel) {
  const { boxes, labels, margin } = drawing;
  const common = axisStyle(drawing);
  const pitch = boxes[i].height / Math.max(1, names.length);
  const crowded = pitch < 7.5;
  return {
    ...common,
    gridIndex: i,
    type: 'category' as const,
    inverse: true,
    data: names.map((name) => shownName(name, labels)),
    axisLabel: {
      ...common.axisLabel,
      fontSize: Math.max(8, Math.min(10, pitch)),
      hideOverlap: crowded,
      ...(!crowded && { interval: 0 }),
      width: margin.left - 14,
      overflow: 'truncate' as const,
    },
  };
}

/** Titles over the panels. */
function titles({ heads, boxes, style, compact, columns, lines }: Drawing) {
  return heads.map((text, i) => ({
    text,
    left: boxes[i].left,
    top: boxes[i].top - 4 - 13 * lines,
    padding: [1, 0],
    textStyle: {
      color: style.muted,
      fontSize: 11,
      lineHeight: 13,
      fontWeight: 'normal' as const,
      width: Math.max(40, compact && columns > 1 ? boxes[1].left - boxes[0].left - 4 : boxes[i].width),
      overflow: 'truncate' as const,
    },
  }));
}

/** Charts side by side in one drawing; `before` is the reference, laid under them in grey. */
export function panelOption(
  panels: readonly ChartPanel[],
  before: readonly ChartPanel[],
  layout: ChartLayout,
  labels: ReadonlyMap<string, string>,
  style: PanelStyle,
  size: Size,
): EChartsOption {
  const drawing = drawingOf(panels, before, layout, labels, style, size);
  const { boxes, compact } = drawing;
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    tooltip: {
      trigger: 'item',
      confine: true,
      valueFormatter: (value) =>
        (Array.isArray(value) ? value : [value]).map((one) => significant(Number(one), 4)).join(', '),
    },
    title: titles(drawing),
    grid: boxes.map((box) => ({
      ...box,
      show: compact,
      borderColor: style.grid,
      outerBoundsMode: 'none' as const, // room is kept for all figures
    })),
    xAxis: panels.map((panel, i) =>
      valueAxis(drawing, i, axisOf(drawing, alongX, panel), shared(drawing, alongX, panel), 'x'),
    ),
    yAxis: panels.map((panel, i) =>
      panel.kind === 'bars'
        ? namesAxis(drawing, i, panel)
        : valueAxis(drawing, i, axisOf(drawing, alongY, panel), shared(drawing, alongY, panel), 'y'),
    ),
    series: panels.flatMap((panel, i) => {
      const earlier = earlierOf(before, panel);
      return [
        ...(earlier ? seriesOf(earlier, i, labels, style, true) : []),
        ...seriesOf(panel, i, labels, style, false),
      ];
    }),
  };
}

const curvesOf = (panel: CurvePanel | DotPanel) =>
  panel.kind === 'curves' ? panel.curves : [...panel.outlines, ...panel.groups];

function seriesOf(panel: ChartPanel, i: number, labels: ReadonlyMap<string, string>, style: PanelStyle, grey: boolean) {
  const at = { xAxisIndex: i, yAxisIndex: i, ...(grey && UNDERNEATH) };
  const colour = (tint: Tint) => (grey ? style.muted : colourOf(tint, style));
  const named = (name: string) => (grey ? `reference, ${shownName(name, labels)}` : shownName(name, labels));
  if (panel.kind === 'bars')
    return panel.series.map(({ name, tint, values }) => ({
      ...at,
      type: 'bar' as const,
      name: named(name),
      data: values.map((value) => (Number.isFinite(value) ? value : 0)),
      itemStyle: { color: grey ? 'transparent' : colour(tint), borderColor: colour(tint), borderWidth: grey ? 1 : 0 },
      barMaxWidth: 12,
    }));
  const lines = (panel.kind === 'curves' ? panel.curves : panel.outlines).map((curve) => {
    const { x, y, tint, stroke = 'solid' as const } = curve;
    const data = x.map((value, k) => [Number.isFinite(value) ? value : '-', Number.isFinite(y[k]) ? y[k] : '-']);
    const own = { ...at, name: named(curve.name), itemStyle: { color: colour(tint) } };
    if (isPoint(curve))
      return { ...own, ...pointOf(shownName(curve.name, labels), style, grey), data: data.slice(0, 1) };
    const width = grey ? 1 : tint === 'limit' ? 1.2 : 1.6;
    return {
      ...own,
      type: 'line' as const,
      showSymbol: false,
      data,
      lineStyle: { width, color: colour(tint), type: stroke },
    };
  });
  if (panel.kind === 'curves') return lines;
  const dots = panel.groups.map(({ name, tint, x, y }) => ({
    ...at,
    type: 'scatter' as const,
    name: named(name),
    data: x.map((value, k) => [value, y[k]]),
    symbolSize: 2.4,
    itemStyle: { color: colour(tint) },
  }));
  return [...lines, ...dots];
}

/** How a curve of one point is drawn: as a dot with its name. */
function pointOf(name: string, style: PanelStyle, grey: boolean) {
  return {
    type: 'scatter' as const,
    symbolSize: 6,
    label: { show: !grey, formatter: name, position: 'right' as const, fontSize: 10, color: style.muted },
    labelLayout: { hideOverlap: true },
  };
}
