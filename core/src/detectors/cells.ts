/**
 * How places on a detector become coordinates of its map.
 *
 * `flat`: x and y, mm. `cylinder`: its wall unrolled, x the way round it from its own x axis and y along its axis, mm. `sphere`:
 * azimuth atan2(x, z) and elevation asin(y/r), degrees, which are also those of `directions`, the far field. `volume`: a block of cells,
 * layer by layer along z.
 */
export type Chart =
  | { readonly kind: 'flat' | 'directions' | 'volume' }
  | { readonly kind: 'cylinder' | 'sphere'; readonly radius: number };

type Range = readonly [number, number];

/** The map of a detector, cut into cells. */
export interface CellMap {
  readonly chart: Chart;
  /** What it covers: x and y of its face in mm, or degrees; see `Chart`. */
  readonly range: { readonly x: Range; readonly y: Range };
  /** By cell: mm² of its face (of curved ones without a chart as seen along the axis), sr, or mm³; 0 for cells beside a disc. */
  readonly size: Float64Array;
  /** For a block of cells: its size about the origin, mm, and the cells along x, y, z. */
  readonly block?: {
    readonly size: readonly [number, number, number];
    readonly cells: readonly [number, number, number];
  };
}

/** A range to both sides of 0. */
export const around = (x: number, y: number): CellMap['range'] => ({ x: [-x, x], y: [-y, y] });

/** Equal cells of a rectangle. */
export function flatMap(range: CellMap['range'], columns: number, rows: number): CellMap {
  const { x, y } = range;
  const size = new Float64Array(columns * rows).fill(((x[1] - x[0]) * (y[1] - y[0])) / (columns * rows));
  return { chart: { kind: 'flat' }, range, size };
}

/** The wall of a cylinder about z, unrolled. */
export function wallMap(radius: number, from: number, to: number, columns: number, rows: number): CellMap {
  const range = { x: [-Math.PI * radius, Math.PI * radius], y: [from, to] } as const;
  return { ...flatMap(range, columns, rows), chart: { kind: 'cylinder', radius } };
}

/** Azimuth and elevation on a ball: a cell holds r² ΔH (sin V₂ − sin V₁). */
export function ballMap(chart: Chart, halfX: number, halfY: number, columns: number, rows: number): CellMap {
  const radius = 'radius' in chart ? chart.radius : 1;
  const degree = Math.PI / 180;
  const width = ((2 * halfX) / columns) * degree * radius * radius;
  const size = Float64Array.from({ length: columns * rows }, (_, cell) => {
    const row = Math.floor(cell / columns);
    const from = (-halfY + (2 * halfY * row) / rows) * degree;
    const to = (-halfY + (2 * halfY * (row + 1)) / rows) * degree;
    return width * (Math.sin(to) - Math.sin(from));
  });
  return { chart, range: around(halfX, halfY), size };
}
