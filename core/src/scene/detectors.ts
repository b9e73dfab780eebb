import { BUDGET, cellsOf, overBudget } from '../project/budget.ts';
import type { FaceForm } from '../bodies/face-form.ts';
import type { Chart } from './charts.ts';
import type { Channel } from './channels.ts';
import type { VolumeMeter } from './volume-meter.ts';
import { inverse, type Rigid } from '../math/rigid.ts';
import type { Detector, Scene } from '../project/scene.ts';
import type { Finding } from '../sequence/lens-model.ts';
import { standingOf, type Standing } from './standing.ts';

/** A detector made ready. */
export interface CompiledDetector {
  readonly id: string;
  readonly detector: Detector;
  /** The face it lies on; null for free ones and the far field. */
  readonly face: { readonly part: string; readonly name: string } | null;
  /** Where a free one stands; null for those on faces. */
  readonly pose: Rigid | null;
  /** From the coordinates of the scene to its own, where it stands free. */
  readonly toOwn: Rigid | null;
  readonly chart: Chart;
  /** What its map covers: x and y of its face in mm, or degrees; see `Chart`. */
  readonly range: { readonly x: readonly [number, number]; readonly y: readonly [number, number] };
  /** By cell: mm² of its face (of curved ones without a chart as seen along the axis), sr, or mm³; 0 for cells beside a disc. */
  readonly size: Float64Array;
  /** What it counts apart. */
  readonly channels: readonly Channel[];
  /** What a block of cells needs to count. */
  readonly volume?: VolumeMeter;
}

type Faces = readonly {
  readonly part: string;
  readonly name: string;
  readonly form: Pick<FaceForm, 'box' | 'chart'>;
}[];

/**
 * Makes the detectors ready that are not excluded.
 *
 * @param channels - most channels that each counts apart
 */
export function compileDetectors(
  scene: Scene,
  standing: Standing,
  faces: Faces,
  channels: number,
  findings: Finding[],
): Uncounted[] {
  let count = 0;
  return scene.detectors.flatMap((detector): Uncounted[] => {
    const pose = standingOf(standing, detector.id);
    if (!pose) return [];
    const own = cellsOf(detector);
    const wrong = (text: string) => {
      findings.push({ severity: 'error', where: detector.id, text });
      return [];
    };
    const many = own * Math.max(1, channels);
    if (count + many > BUDGET.cells) return wrong(overBudget('cells', own, count, channels));
    count += many;
    const { on } = detector;
    const made = on.kind === 'face' ? faceDetector(detector, on, faces) : freeDetector(detector, on, pose);
    return typeof made === 'string' ? wrong(made) : [made];
  });
}

type Place = Detector['on'];
/** A detector before it is known what it counts apart. */
export type Uncounted = Omit<CompiledDetector, 'channels'>;
type FacePlace = Extract<Place, { kind: 'face' }>;

/** What counts light on the face of a part; what is wrong, in a sentence, if there is no such face. */
function faceDetector(detector: Detector, { part: of, face: name }: FacePlace, faces: Faces): Uncounted | string {
  const { id, columns, rows } = detector;
  const face = faces.find((one) => one.part === of && one.name === name);
  if (!face) return `There is no face ${of}.${name} to count light on.`;
  const { min, max } = face.form.box;
  const { chart } = face.form;
  const common = { id, detector, face: { part: of, name }, pose: null, toOwn: null };
  if (chart?.kind === 'cylinder') return { ...common, chart, ...wallMap(chart.radius, min[2], max[2], columns, rows) };
  if (chart?.kind === 'sphere') return { ...common, chart, ...ballMap(chart.radius, 180, 90, columns, rows) };
  const range = { x: [min[0], max[0]], y: [min[1], max[1]] } as const;
  return { ...common, chart: FLAT, range, size: flatCells(range, columns, rows) };
}

/** What counts light by itself: on a sheet of its own, in a block of cells, or over directions. */
function freeDetector(detector: Detector, on: Exclude<Place, FacePlace>, pose: Rigid): Uncounted {
  const { id, columns, rows } = detector;
  const free = { id, detector, face: null, pose, toOwn: inverse(pose), chart: FLAT };
  switch (on.kind) {
    case 'rectangle': {
      const range = around(on.width / 2, on.height / 2);
      return { ...free, range, size: flatCells(range, columns, rows) };
    }
    case 'disc': {
      const range = around(on.radius, on.radius);
      return { ...free, range, size: discCells(on.radius, columns, rows) };
    }
    case 'cylinder':
      return { ...free, chart: on, ...wallMap(on.radius, -on.length / 2, on.length / 2, columns, rows) };
    case 'sphere':
      return { ...free, chart: on, ...ballMap(on.radius, 180, 90, columns, rows) };
    case 'block': {
      const { width, height, depth, layers } = on;
      const cells = columns * rows * layers;
      return {
        ...free,
        chart: { kind: 'volume' },
        range: around(width / 2, height / 2),
        size: new Float64Array(cells).fill((width * height * depth) / cells),
        volume: { toOwn: free.toOwn, size: [width, height, depth], cells: [columns, rows, layers] },
      };
    }
    case 'far':
      return { ...free, chart: { kind: 'directions' }, ...ballMap(1, on.halfX, on.halfY, columns, rows) };
  }
}

const FLAT: Chart = { kind: 'flat' };
const around = (x: number, y: number) => ({ x: [-x, x], y: [-y, y] }) as const;

/** The wall of a cylinder, unrolled. */
function wallMap(radius: number, from: number, to: number, columns: number, rows: number) {
  const range = { x: [-Math.PI * radius, Math.PI * radius], y: [from, to] } as const;
  return { range, size: flatCells(range, columns, rows) };
}

/** Azimuth and elevation on a ball: a cell holds r² ΔH (sin V₂ − sin V₁). */
function ballMap(radius: number, halfX: number, halfY: number, columns: number, rows: number) {
  const degree = Math.PI / 180;
  const width = ((2 * halfX) / columns) * degree * radius * radius;
  const size = Float64Array.from({ length: columns * rows }, (_, cell) => {
    const row = Math.floor(cell / columns);
    const from = (-halfY + (2 * halfY * row) / rows) * degree;
    const to = (-halfY + (2 * halfY * (row + 1)) / rows) * degree;
    return width * (Math.sin(to) - Math.sin(from));
  });
  return { range: around(halfX, halfY), size };
}

/** Lines that a cell on the edge of a disc is measured with. */
const LINES = 64;

/** What of each cell of the square about a disc lies on the disc. */
function discCells(radius: number, columns: number, rows: number): Float64Array {
  const [dx, dy] = [(2 * radius) / columns, (2 * radius) / rows];
  return Float64Array.from({ length: columns * rows }, (_, cell) => {
    const left = -radius + (cell % columns) * dx;
    const low = -radius + Math.floor(cell / columns) * dy;
    let area = 0;
    for (let line = 0; line < LINES; line++) {
      const y = low + ((line + 0.5) / LINES) * dy;
      const half = Math.sqrt(Math.max(0, radius * radius - y * y));
      area += Math.max(0, Math.min(left + dx, half) - Math.max(left, -half));
    }
    return (area / LINES) * dy;
  });
}

function flatCells(
  { x, y }: { readonly x: readonly [number, number]; readonly y: readonly [number, number] },
  columns: number,
  rows: number,
): Float64Array {
  return new Float64Array(columns * rows).fill(((x[1] - x[0]) * (y[1] - y[0])) / (columns * rows));
}
