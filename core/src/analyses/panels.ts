/** What pictures are made of: enough for a screen to draw them, for a table to list them, and for two of them to be laid over each other. */

export interface Axis {
  readonly title: string;
  /** Empty for a pure number. */
  readonly unit: string;
  /** Bounds to keep to; those of the values when left out. */
  readonly range?: readonly [number, number];
  /** Whether 0 stands in the middle, so that signs can be told. */
  readonly centred?: boolean;
}

/** Which colour something is drawn in: that of a field, of a wavelength, of a limit, or plain ink. */
export type Tint = { readonly field: number } | { readonly nm: number } | 'ink' | 'limit';

export type Stroke = 'solid' | 'dashed' | 'dotted';

export interface Curve {
  readonly name: string;
  readonly tint: Tint;
  readonly stroke?: Stroke;
  readonly x: readonly number[];
  /** NaN where there is no value. */
  readonly y: readonly number[];
}

/** A figure told below a picture. */
export interface Figure {
  readonly name: string;
  readonly value: number;
  readonly unit: string;
  /** One standard deviation, where the value is sampled at random. */
  readonly error?: number;
}

interface PanelBase {
  readonly title: string;
  readonly figures?: readonly Figure[];
}

export interface CurvePanel extends PanelBase {
  readonly kind: 'curves';
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
}

export interface BarPanel extends PanelBase {
  readonly kind: 'bars';
  readonly value: Axis;
  readonly names: readonly string[];
  readonly series: readonly { readonly name: string; readonly tint: Tint; readonly values: readonly number[] }[];
}

/** Places in a plane, x and y to one scale. */
export interface DotPanel extends PanelBase {
  readonly kind: 'dots';
  readonly x: Axis;
  readonly y: Axis;
  readonly groups: readonly {
    readonly name: string;
    readonly tint: Tint;
    readonly x: readonly number[];
    readonly y: readonly number[];
  }[];
  readonly outlines: readonly Curve[];
}

/** Values over a plane. */
export interface MapPanel extends PanelBase {
  readonly kind: 'map';
  readonly columns: number;
  readonly rows: number;
  /** Row by row, x and y rising; NaN where there is none. */
  readonly values: Float64Array;
  readonly x: Axis & { readonly range: readonly [number, number] };
  readonly y: Axis & { readonly range: readonly [number, number] };
  readonly value: Axis;
  /** Whether x and y are different things, each to a scale of its own. */
  readonly free?: boolean;
  /** `heat`: from 0 up. `signed`: about 0. `fringes`: dark and bright by whole numbers. `picture`: grey, 0 to 1. */
  readonly look: 'heat' | 'signed' | 'fringes' | 'picture';
  /** Whether the scale is logarithmic, over four decades. */
  readonly log?: boolean;
  /** Standard error of each value, where it is sampled at random. */
  readonly errors?: Float64Array;
  /** Ellipses about the middle by their semi-axes along x and y, with what they mean. */
  readonly rings?: readonly { readonly name: string; readonly semi: readonly [number, number] }[];
}

export interface PanelColumn {
  readonly title: string;
  readonly unit: string;
  /** Whether its texts are ids of surfaces or fields, which are shown by what they are called. */
  readonly ids?: boolean;
  /** How many digits are shown of numbers; five by default. */
  readonly digits?: number;
  /** Whether a bar behind each number shows its share of the largest. */
  readonly bars?: boolean;
  /** Whether it stands out, as that of the primary wavelength. */
  readonly strong?: boolean;
}

export interface TablePanel extends PanelBase {
  readonly kind: 'table';
  readonly columns: readonly PanelColumn[];
  readonly rows: readonly (readonly (string | number)[])[];
  /** The row that all others add up to. */
  readonly total?: readonly (string | number)[];
}

/** A picture in colours, as light. */
export interface PicturePanel extends PanelBase {
  readonly kind: 'picture';
  readonly columns: number;
  readonly rows: number;
  /** Red, green and blue of each cell, row by row, x and y rising; 1 is white. */
  readonly rgb: Float64Array;
  readonly x: Axis & { readonly range: readonly [number, number] };
  readonly y: Axis & { readonly range: readonly [number, number] };
}

export type Panel = CurvePanel | BarPanel | DotPanel | MapPanel | TablePanel | PicturePanel;

/** The numbers of some pictures as one table after another, header first, every digit kept; pictures over the same axes are one table. */
export function panelRows(panels: readonly Panel[]): (string | number)[][] {
  const tables: (string | number)[][][] = [];
  for (let i = 0; i < panels.length;) {
    const alike = alikeFrom(panels, i);
    tables.push(alike.length > 1 ? joinedRows(alike) : rowsOf(panels[i]));
    i += Math.max(1, alike.length);
  }
  return tables.flatMap((rows) => [...rows, []]).slice(0, -1);
}

type Plot = CurvePanel | DotPanel;

const isPlot = (panel: Panel | undefined): panel is Plot => panel?.kind === 'curves' || panel?.kind === 'dots';

/** The plots from a place on that have the same axes; none if there is no plot. */
function alikeFrom(panels: readonly Panel[], from: number): readonly Plot[] {
  const found: Plot[] = [];
  const axes = ({ x, y }: Plot) => `${headed(x)}, ${headed(y)}`;
  for (let i = from; i < panels.length; i++) {
    const panel = panels[i];
    if (!isPlot(panel) || (found.length > 0 && axes(panel) !== axes(found[0]))) break;
    found.push(panel);
  }
  return found;
}

const seriesOf = (panel: Plot) => (panel.kind === 'curves' ? panel.curves : [...panel.groups, ...panel.outlines]);

function joinedRows(plots: readonly Plot[]): (string | number)[][] {
  return [
    ['picture', 'series', headed(plots[0].x), headed(plots[0].y)],
    ...plots.flatMap((plot) =>
      seriesOf(plot).flatMap(({ name, x, y }) => x.map((value, k) => [plot.title, name, value, y[k]])),
    ),
  ];
}

const headed = ({ title, unit }: Axis) => (unit ? `${title} ${unit}` : title);

function rowsOf(panel: Panel): (string | number)[][] {
  switch (panel.kind) {
    case 'curves':
    case 'dots':
      return [
        [panel.title, headed(panel.x), headed(panel.y)],
        ...seriesOf(panel).flatMap(({ name, x, y }) => x.map((value, k) => [name, value, y[k]])),
      ];
    case 'bars':
      return [
        [panel.title, ...panel.series.map(({ name }) => `${name} ${panel.value.unit}`.trim())],
        ...panel.names.map((name, k) => [name, ...panel.series.map(({ values }) => values[k])]),
      ];
    case 'map': {
      const { columns, rows, values, x, y } = panel;
      const at = ([from, to]: readonly [number, number], k: number, count: number) =>
        from + ((to - from) * (k + 0.5)) / count;
      return [
        [
          `${panel.title}: ${headed(panel.value)} by ${headed(y)} down and ${headed(x)} across`,
          ...Array.from({ length: columns }, (_, k) => at(x.range, k, columns)),
        ],
        ...Array.from({ length: rows }, (_, row) => [
          at(y.range, row, rows),
          ...values.subarray(row * columns, (row + 1) * columns),
        ]),
      ];
    }
    case 'picture': {
      const { columns, rgb, x, y, rows } = panel;
      const at = ([from, to]: readonly [number, number], k: number, count: number) =>
        from + ((to - from) * (k + 0.5)) / count;
      return [
        [headed(x), headed(y), 'red', 'green', 'blue'],
        ...Array.from({ length: columns * rows }, (_, i) => [
          at(x.range, i % columns, columns),
          at(y.range, Math.floor(i / columns), rows),
          rgb[3 * i],
          rgb[3 * i + 1],
          rgb[3 * i + 2],
        ]),
      ];
    }
    case 'table':
      return [
        panel.columns.map(({ title, unit }) => (unit ? `${title} ${unit}` : title)),
        ...panel.rows.map((row) => [...row]),
        ...(panel.total ? [[...panel.total]] : []),
      ];
  }
}
