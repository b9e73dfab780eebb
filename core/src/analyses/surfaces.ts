import { fitLeastSquares } from '../math/linear-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { chiefAtImage, IMAGE_LAWS, type ImageLaw } from '../imaging/field/image-point.ts';
import { idealPlace, IMAGE_SCALES, type ImageScale } from '../imaging/field/image-scale.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { defineAnalysis } from './analysis.ts';
import { SURFACE, surfaceOf } from './bundles.ts';
import type { Curve, DotPanel, Figure, MapPanel } from './panels.ts';

const FROM = ['vertex plane', 'best sphere', 'base conic', 'base sphere', 'another surface'] as const;

/** Sag of a conic. */
const conic = (r2: number, c: number, k: number) => (c * r2) / (1 + Math.sqrt(1 - (1 + k) * c * c * r2));

export const sagMap = defineAnalysis({
  id: 'sag_map',
  title: 'Sag of a surface',
  topic: 'wavefront',
  question: 'How far from a sphere is this surface?',
  meaning:
    'Sag over the semi-aperture of a surface from its vertex plane, from the sphere that fits it best ' +
    '(its vertex free), from its base conic, from the sphere of its vertex radius, or from another ' +
    'surface of the lens, vertex on vertex. Positive: toward +z.',
  settings: {
    surface: { ...SURFACE, also: ['first curved', 'stop'], fallback: 'first curved' },
    from: { kind: 'choice', title: 'From', options: FROM, fallback: 'best sphere' },
    other: { ...SURFACE, title: 'Which', when: { setting: 'from', is: ['another surface'] } },
  },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const surface = surfaceOf(lens, settings.surface);
    if (!surface.ok) return surface;
    const { shape, id } = lens.model.surfaces[surface.value];
    const { semi } = lens.extents()[surface.value];
    const cells = 65;
    const places: { x: number; y: number; z: number; at: number }[] = [];
    for (let row = 0; row < cells; row++)
      for (let column = 0; column < cells; column++) {
        const [x, y] = [column, row].map((k) => semi * ((2 * (k + 0.5)) / cells - 1));
        if (Math.hypot(x, y) > semi) continue;
        const z = shape.sag(x, y);
        if (!Number.isNaN(z)) places.push({ x, y, z, at: row * cells + column });
      }
    if (places.length === 0) return failure(`The surface ${id} does not exist inside of its semi-aperture.`, id);
    const from = departureFrom(lens, shape, settings, places, semi);
    if (!from.ok) return from;
    const values = new Float64Array(cells * cells).fill(NaN);
    let [low, high, squares, mean, count] = [Infinity, -Infinity, 0, 0, 0];
    for (const { x, y, z, at } of places) {
      const value = 1000 * (z - from.value.sag(x, y));
      if (Number.isNaN(value)) continue; // the other surface does not reach so far
      values[at] = value;
      count++;
      [low, high] = [Math.min(low, value), Math.max(high, value)];
      squares += value * value;
      mean += value;
    }
    if (count === 0) return failure('The two surfaces have no place in common.', id);
    mean /= count;
    // Never less than a picometre: rounding is no picture.
    const largest = Math.max(1e-6, Math.abs(low), Math.abs(high));
    const axis = (title: string) => ({ title, unit: 'mm', range: [-semi, semi] as const });
    const panel: MapPanel = {
      kind: 'map',
      title: id,
      columns: cells,
      rows: cells,
      values,
      x: axis('x'),
      y: axis('y'),
      value: { title: `sag from the ${settings.from}`, unit: 'µm', range: [-largest, largest] },
      look: 'signed',
      figures: [
        ...from.value.figures,
        { name: 'RMS', value: Math.sqrt(Math.max(0, squares / count - mean * mean)), unit: 'µm' },
        { name: 'P–V', value: high - low, unit: 'µm' },
      ],
    };
    return success({
      panels: [panel],
      about: [
        `from the ${settings.from}`,
        `semi-aperture ${Number(semi.toPrecision(5))} mm`,
        `${cells} × ${cells} cells`,
      ],
    });
  },
});

/** What a sag is measured from, and what is worth telling of it. */
interface Reference {
  readonly sag: (x: number, y: number) => number;
  readonly figures: readonly Figure[];
}

function departureFrom(
  lens: LensEvaluation,
  shape: LensEvaluation['model']['surfaces'][number]['shape'],
  { from, other: which }: { readonly from: string; readonly other: string },
  places: readonly { readonly x: number; readonly y: number; readonly z: number }[],
  semi: number,
): Outcome<Reference> {
  const plain = (sag: Reference['sag']) => success({ sag, figures: [] });
  if (from === 'vertex plane') return plain(() => 0);
  if (from === 'best sphere') {
    const [c, z0] = bestSphere(places, shape.curvature || 1e-9, semi);
    const radius = Math.abs(c) < 1e-12 ? Infinity : 1 / c;
    return success({
      sag: (x, y) => z0 + conic(x * x + y * y, c, 0),
      figures: [{ name: 'radius of the best sphere', value: radius, unit: 'mm' }],
    });
  }
  if (from === 'another surface') {
    const other = surfaceOf(lens, which);
    return other.ok ? plain((x, y) => lens.model.surfaces[other.value].shape.sag(x, y)) : other;
  }
  const k = from === 'base conic' ? (shape.form?.k ?? 0) : 0;
  const c = from === 'base conic' ? (shape.form?.c ?? shape.curvature) : shape.curvature;
  return plain((x, y) => conic(x * x + y * y, c, k));
}

/** Curvature and vertex of the sphere with the least squares of departures, by Gauss and Newton: the sag is nearly linear in both. */
function bestSphere(
  places: readonly { readonly x: number; readonly y: number; readonly z: number }[],
  start: number,
  semi: number,
): readonly [curvature: number, vertex: number] {
  let [c, z0] = [start, 0];
  const h = 1e-6 / semi;
  for (let round = 0; round < 12; round++) {
    const rows = places.map(({ x, y }) => {
      const r2 = x * x + y * y;
      return [(conic(r2, c + h, 0) - conic(r2, c - h, 0)) / (2 * h), 1];
    });
    const step = fitLeastSquares(
      rows,
      places.map(({ x, y, z }) => z - z0 - conic(x * x + y * y, c, 0)),
    );
    if (!step || step.some(Number.isNaN)) break;
    [c, z0] = [c + step[0], z0 + step[1]];
    if (Math.abs(step[0]) < 1e-15) break;
  }
  return [c, z0];
}

export const distortionGrid = defineAnalysis({
  id: 'distortion_grid',
  inAngle: true,
  title: 'Distortion grid',
  topic: 'field',
  question: 'What becomes of a square grid?',
  meaning:
    'A square grid in the field, its corners at the largest field, as chief rays of the primary ' +
    'wavelength draw it in the image, over the same grid without distortion (dotted): to the scale of the ' +
    'image surface in use, of the paraxial image, or calibrated so that the largest error is least. ' +
    'Enlarged: departures drawn larger by so much.',
  settings: {
    scale: { kind: 'choice', title: 'Scale of', options: IMAGE_SCALES, fallback: IMAGE_SCALES[0] },
    law: { kind: 'choice', title: 'About', options: IMAGE_LAWS, fallback: IMAGE_LAWS[0] },
    enlarged: { kind: 'number', title: 'Enlarged', unit: '×', min: 1, max: 1000, fallback: 10 },
  },
  exact: true,
  *evaluate(lens, settings) {
    const line = fieldLine(lens, 1);
    if (!line.ok) return line;
    const { largest } = line.value;
    const angles = lens.model.lens.fields.kind === 'angle';
    const most = angles ? Math.tan((largest * Math.PI) / 180) : largest;
    const steps = 8;
    const scale = (k: number) => ((2 * k) / steps - 1) * (most / Math.SQRT2);
    const asField = (value: number) => (angles ? (Math.atan(value) * 180) / Math.PI : value);
    const [real, ideal]: [GridPlace[][], GridPlace[][]] = [[], []];
    let worst = 0;
    for (let row = 0; row <= steps; row++) {
      real.push([]);
      ideal.push([]);
      for (let column = 0; column <= steps; column++) {
        const field = { id: `grid_${column}_${row}`, x: asField(scale(column)), y: asField(scale(row)), weight: 1 };
        const place = idealPlace(lens, field, { scale: settings.scale as ImageScale, law: settings.law as ImageLaw });
        if (!place.ok) return place;
        const { origin, from } = place.value;
        const wanted = [origin[0] + from[0], origin[1] + from[1]] as const;
        const chief = chiefAtImage(lens, field);
        ideal[row].push(wanted);
        if (!chief.ok) {
          real[row].push(null);
          continue;
        }
        const [dx, dy] = [chief.value.x[0] - wanted[0], chief.value.y[0] - wanted[1]];
        const out = Math.hypot(...from);
        if (out > 0)
          worst =
            Math.abs(worst) > Math.hypot(dx, dy) / out ? worst : (dx * from[0] + dy * from[1]) / out / out || worst;
        real[row].push([wanted[0] + settings.enlarged * dx, wanted[1] + settings.enlarged * dy]);
      }
      yield;
    }
    const all = [...real.flat(), ...ideal.flat()].filter((point) => point !== null);
    const largestPlace = Math.max(...all.map(([x, y]) => Math.max(Math.abs(x), Math.abs(y))));
    // The next of two digits beyond, so that ticks are round.
    const power = 10 ** (Math.floor(Math.log10(largestPlace || 1)) - 1);
    const reach = Math.ceil((1.02 * largestPlace) / power / 2) * 2 * power;
    const panel: DotPanel = {
      kind: 'dots',
      title: '',
      x: { title: 'x', unit: 'mm', range: [-reach, reach] },
      y: { title: 'y', unit: 'mm', range: [-reach, reach] },
      groups: [],
      outlines: [
        ...gridLines(ideal, { name: 'without distortion', tint: 'limit', stroke: 'dotted' }),
        ...gridLines(real, { name: 'image', tint: 'ink', stroke: 'solid' }),
      ],
      figures: [{ name: 'largest distortion', value: 100 * worst, unit: '%' }],
    };
    return success({
      panels: [panel],
      about: [
        `scale of the ${settings.scale === 'calibrated' ? 'least largest error' : settings.scale}`,
        ...(angles ? [`about ${settings.law}`] : []),
        'chief rays, primary wavelength',
        settings.enlarged === 1 ? 'true to scale' : `departures ${settings.enlarged} ×`,
      ],
    });
  },
});

/** A corner of a grid in the image, mm; null if its chief ray does not arrive. */
type GridPlace = readonly [number, number] | null;

/** The lines of a grid, rows and columns. */
function gridLines(grid: readonly (readonly GridPlace[])[], look: Pick<Curve, 'name' | 'tint' | 'stroke'>): Curve[] {
  const line = (points: readonly GridPlace[]): Curve => ({
    ...look,
    x: points.map((point) => point?.[0] ?? NaN),
    y: points.map((point) => point?.[1] ?? NaN),
  });
  return [...grid.map(line), ...grid[0].map((_, column) => line(grid.map((row) => row[column])))];
}
