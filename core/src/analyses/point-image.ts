import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import {
  encircledEnergy,
  ensquaredEnergy,
  lineAndEdge,
  pointSpectrum,
  type PointSpectrum,
} from '../imaging/point/point-energy.ts';
import { pointSpread, type PointSpread } from '../imaging/point/point-spread.ts';
import { airyRing } from '../imaging/wavefront/image-cone.ts';
import { fieldSpot, forEachArrival } from '../imaging/point/spot.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { FieldPoint } from '../project/model.ts';
import { ALL_FIELDS, COLOURS, defineAnalysis, fieldsOf, PUPIL, pupilWords, waveOf, waveWords } from './analysis.ts';
import type { Curve, CurvePanel, MapPanel, Panel } from './panels.ts';

const METHOD = {
  kind: 'choice',
  title: 'Method',
  options: ['transform', 'direct'],
  fallback: 'transform',
} as const;
const METHOD_WORDS = {
  transform: 'transform of the pupil on the reference sphere',
  direct: 'sum over rays at every place',
} as const;

type Method = keyof typeof METHOD_WORDS;

interface Wanted {
  readonly field: string;
  readonly colour: string;
  readonly pupil: string;
  readonly method: string;
}

interface Found {
  readonly field: FieldPoint;
  /** Place of the field in the lens's list, for its colour. */
  readonly index: number;
  readonly spread: PointSpread;
}

/** Point spread functions of the fields of a choice, one after another; fields that have none are told. */
function* spreads(
  lens: LensEvaluation,
  wanted: Wanted,
  detail: Detail,
): Generator<void, Outcome<{ found: Found[]; missing: string[]; wave: number | undefined }>, void> {
  const fields = fieldsOf(lens, wanted.field);
  if (!fields.ok) return fields;
  const wave = waveOf(lens, wanted.colour);
  if (!wave.ok) return wave;
  const found: Found[] = [];
  const missing: string[] = [];
  for (const field of fields.value) {
    // What a sum over rays shows at last, a transform shows nearly at once.
    const method = detail === 'draft' ? 'transform' : (wanted.method as Method);
    const choice = {
      method,
      detail,
      pupil: wanted.pupil === 'clipped' ? 'clipped' : 'full',
      ...(wave.value !== undefined && { wave: wave.value }),
    } as const;
    let spread = pointSpread(lens, field, choice);
    if (!spread.ok && detail === 'draft' && wanted.method === 'direct')
      spread = pointSpread(lens, field, { ...choice, method: 'direct' });
    if (spread.ok) found.push({ field, index: lens.model.lens.fields.points.indexOf(field), spread: spread.value });
    else missing.push(spread.reason);
    yield;
  }
  if (found.length === 0) return failure(missing[0]);
  return success({ found, missing, wave: wave.value });
}

function aboutOf(
  lens: LensEvaluation,
  wanted: Wanted,
  wave: number | undefined,
  found: readonly Found[],
  detail: Detail,
): string[] {
  const { n, pitch, sampling } = found[0].spread;
  const rays = wanted.method === 'direct' && detail === 'full';
  return [
    rays ? METHOD_WORDS.direct : METHOD_WORDS.transform,
    `${n} × ${n} cells of ${(1000 * pitch).toPrecision(2)} µm`,
    rays ? `${sampling} × ${3 * sampling} rays a colour` : `${sampling} cells across the pupil`,
    waveWords(lens, wave),
    ...pupilWords(lens, wanted.pupil),
  ];
}

/** Half of the square that is worth looking at, mm: all rays, and some rings of a perfect image. */
function halfOf(lens: LensEvaluation, found: readonly Found[]): number {
  return Math.max(
    ...found.map(({ field, spread }) => {
      const airy = Math.max(...(airyRing(lens, field) ?? [0])) / 1000;
      const reach = Math.max(3.2 * airy, Math.min(1.15 * spread.reach, 2.6 * spread.rms));
      return Math.min((spread.n / 2) * spread.pitch, reach);
    }),
  );
}

/** The part of a map within a distance of the chief ray's point, in shares of the perfect height. */
function cropped(
  { n, pitch, values, perfect }: PointSpread,
  half: number,
): { cells: number; side: number; values: Float64Array } {
  const reach = Math.min(n / 2 - 1, Math.ceil(half / pitch));
  const cells = 2 * reach + 1;
  const part = new Float64Array(cells * cells);
  for (let row = 0; row < cells; row++)
    for (let column = 0; column < cells; column++)
      part[row * cells + column] = values[(n / 2 - reach + row) * n + n / 2 - reach + column] / perfect;
  return { cells, side: (reach + 0.5) * pitch, values: part };
}

const WANTED = { field: ALL_FIELDS, colour: COLOURS, pupil: PUPIL, method: METHOD } as const;

export const pointSpreadMap = defineAnalysis({
  id: 'point_spread',
  inAngle: true,
  title: 'Point spread',
  topic: 'image',
  question: 'What becomes of a point?',
  meaning:
    'Irradiance of the image of a point, over the height that the same pupil would give without ' +
    'aberration: its value there is the Strehl ratio. Transform: |FT of the pupil on the reference ' +
    'sphere|². Direct: the light of each ray there summed at every place. The ring is the first dark one ' +
    'of a perfect lens with the same cone of light.',
  wide: true,
  settings: {
    ...WANTED,
    scale: { kind: 'choice', title: 'Scale', options: ['linear', 'logarithmic'], fallback: 'linear' },
  },
  *evaluate(lens, settings, detail) {
    const all = yield* spreads(lens, settings, detail);
    if (!all.ok) return all;
    const { found, missing, wave } = all.value;
    const half = halfOf(lens, found);
    const logarithmic = settings.scale === 'logarithmic';
    const panels = found.map(({ field, spread }): MapPanel => {
      const part = cropped(spread, half);
      const airy = airyRing(lens, field, { pupil: settings.pupil === 'clipped' ? 'clipped' : 'full' });
      const peak = part.values.reduce((a, b) => Math.max(a, b), 0);
      if (logarithmic) part.values.forEach((value, i) => (part.values[i] = Math.log10(Math.max(value / peak, 1e-5))));
      const range = [-1000 * part.side, 1000 * part.side] as const;
      return {
        kind: 'map',
        title: field.id,
        columns: part.cells,
        rows: part.cells,
        values: part.values,
        x: { title: 'x', unit: 'µm', range },
        y: { title: 'y', unit: 'µm', range },
        value: logarithmic
          ? { title: 'log₁₀ of the irradiance over its peak', unit: '', range: [-4, 0] }
          : { title: 'irradiance over that of a perfect lens', unit: '', range: [0, peak] },
        look: 'heat',
        ...(airy && { rings: [{ name: 'Airy', semi: airy }] }),
        figures: [{ name: 'peak', value: peak, unit: '' }],
      };
    });
    return success({ panels, about: [...aboutOf(lens, settings, wave, found, detail), ...missing] });
  },
});

export const pointSections = defineAnalysis({
  id: 'point_sections',
  inAngle: true,
  title: 'Point sections',
  topic: 'image',
  question: 'How wide is the image of a point?',
  meaning:
    'The point spread function along x and along y through the chief ray’s point, over the height of a perfect lens.',
  wide: true,
  settings: WANTED,
  *evaluate(lens, settings, detail) {
    const all = yield* spreads(lens, settings, detail);
    if (!all.ok) return all;
    const { found, missing, wave } = all.value;
    const half = halfOf(lens, found);
    const panels = (['x', 'y'] as const).map((along): CurvePanel => ({
      kind: 'curves',
      title: `along ${along}`,
      x: { title: along, unit: 'µm', centred: true },
      y: { title: 'over a perfect lens', unit: '' },
      curves: found.map(({ field, index, spread: { n, pitch, values, perfect } }): Curve => {
        const reach = Math.min(n / 2 - 1, Math.ceil(half / pitch));
        const ks = Array.from({ length: 2 * reach + 1 }, (_, k) => k - reach);
        return {
          name: field.id,
          tint: { field: index },
          x: ks.map((k) => 1000 * k * pitch),
          y: ks.map((k) => values[(n / 2 + (along === 'y' ? k : 0)) * n + n / 2 + (along === 'x' ? k : 0)] / perfect),
        };
      }),
    }));
    return success({ panels, about: [...aboutOf(lens, settings, wave, found, detail), ...missing] });
  },
});

const STEPS = 40;

/** Shares of rays within distances of the centroid, by sorting them. */
function geometricShares(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number | undefined,
  { pupil, about, shape }: { pupil: string; about: string; shape: string },
  radii: readonly number[],
): Outcome<number[]> {
  const spot = fieldSpot(
    lens,
    field,
    { sampling: { kind: 'polar', rings: 40, arms: 80 }, pupil: pupil === 'clipped' ? 'clipped' : 'full' },
    wave,
  );
  if (!spot.ok) return spot;
  const centre = about === 'chief' ? spot.value.chief : spot.value.centroid;
  if (!centre) return failure(`The chief ray of field ${field.id} does not reach the image.`);
  const inside = new Float64Array(radii.length);
  let total = 0;
  forEachArrival(spot.value.colours, ({ x, y }, i, weight) => {
    const [dx, dy] = [Math.abs(x[i] - centre[0]), Math.abs(y[i] - centre[1])];
    const distance = shape === 'square' ? Math.max(dx, dy) : Math.hypot(dx, dy);
    total += weight;
    radii.forEach((radius, k) => {
      if (distance <= radius) inside[k] += weight;
    });
  });
  return success(Array.from(inside, (value) => value / total));
}

/** Where a rising list of shares passes one, by straight lines between them; NaN where it does not. */
function passes(radii: readonly number[], shares: readonly number[], share: number): number {
  const k = shares.findIndex((value) => value >= share);
  if (k < 0) return NaN;
  if (k === 0) return radii[0];
  return radii[k - 1] + ((share - shares[k - 1]) / (shares[k] - shares[k - 1])) * (radii[k] - radii[k - 1]);
}

export const energyCurves = defineAnalysis({
  id: 'encircled_energy',
  inAngle: true,
  title: 'Encircled energy',
  topic: 'image',
  question: 'How much of the light falls close by?',
  meaning:
    'Share of the light of a point inside of circles about the centroid or the chief ray’s point by their ' +
    'radius, or inside of squares by half their side. Diffraction: from the transform of the point spread ' +
    'function, Σ OTF(ν) R J₁(2πRν)/ν. Geometric: rays alone. Dotted: a perfect lens.',
  settings: {
    ...WANTED,
    method: { kind: 'choice', title: 'Method', options: ['diffraction', 'geometric'], fallback: 'diffraction' },
    about: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid' },
    shape: { kind: 'choice', title: 'Inside of', options: ['circle', 'square'], fallback: 'circle' },
  },
  *evaluate(lens, settings, detail) {
    const geometric = settings.method === 'geometric';
    const wave = waveOf(lens, settings.colour);
    const fields = fieldsOf(lens, settings.field);
    if (!wave.ok) return wave;
    if (!fields.ok) return fields;
    const square = settings.shape === 'square';
    const curves: Curve[] = [];
    const figures: { name: string; value: number; unit: string }[] = [];
    const add = (field: FieldPoint, radii: readonly number[], shares: readonly number[]) => {
      const um = radii.map((radius) => 1000 * radius);
      curves.push({
        name: field.id,
        tint: { field: lens.model.lens.fields.points.indexOf(field) },
        x: um,
        y: shares.map((share) => 100 * share),
      });
      figures.push({ name: `${field.id} 80 %`, value: passes(um, shares, 0.8), unit: 'µm' });
    };
    let about: string[];
    if (geometric) {
      const reach = reachOf(lens, fields.value, settings.pupil, wave.value);
      if (!reach.ok) return reach;
      const radii = Array.from({ length: STEPS + 1 }, (_, k) => 1.1 * reach.value * (k / STEPS) ** 1.5);
      for (const field of fields.value) {
        const shares = geometricShares(lens, field, wave.value, settings, radii);
        if (!shares.ok) return shares;
        add(field, radii, shares.value);
        yield;
      }
      const how = [waveWords(lens, wave.value), ...pupilWords(lens, settings.pupil)];
      about = ['rays alone, without diffraction', '40 × 80 rays a colour', ...how];
    } else {
      const all = yield* spreads(lens, { ...settings, method: 'transform' }, detail);
      if (!all.ok) return all;
      const { found, missing } = all.value;
      const half = 2 * halfOf(lens, found);
      for (const { field, spread } of found) {
        const most = Math.min(half, 0.45 * spread.n * spread.pitch);
        const radii = Array.from({ length: STEPS + 1 }, (_, k) => most * (k / STEPS) ** 1.5);
        const spectrum = pointSpectrum(spread, settings.about === 'chief' ? [0, 0] : spread.centroid);
        add(field, radii, square ? ensquaredEnergy(spectrum, radii) : encircledEnergy(spectrum, radii));
        yield;
      }
      about = [...aboutOf(lens, { ...settings, method: 'transform' }, wave.value, found, detail), ...missing];
    }
    const perfect: Curve[] = [];
    for (const curve of curves) {
      perfect.push(...perfectCurve(lens, fieldNamed(fields.value, curve.name), curve, settings, wave.value));
      yield;
    }
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: square ? 'half side' : 'radius', unit: 'µm' },
      y: { title: 'share of the light', unit: '%', range: [0, 100] },
      curves: [...perfect, ...curves],
      figures,
    };
    return success({
      panels: [panel],
      about: [`about the ${settings.about === 'chief' ? 'chief ray' : 'centroid'}`, ...about],
    });
  },
});

const fieldNamed = (fields: readonly FieldPoint[], name: string) => fields.find(({ id }) => id === name)!;

/** The largest distance of a ray, or of an Airy ring, from the centroid of its spot, mm. */
function reachOf(
  lens: LensEvaluation,
  fields: readonly FieldPoint[],
  pupil: string,
  wave: number | undefined,
): Outcome<number> {
  let reach = Math.max(...fields.flatMap((field) => airyRing(lens, field) ?? [0])) / 1000;
  const sampling = { kind: 'polar', rings: 12, arms: 24 } as const;
  for (const field of fields) {
    const spot = fieldSpot(lens, field, { sampling, pupil: pupil === 'clipped' ? 'clipped' : 'full' }, wave);
    if (!spot.ok) return spot;
    const [cx, cy] = spot.value.centroid;
    forEachArrival(spot.value.colours, ({ x, y }, i) => (reach = Math.max(reach, Math.hypot(x[i] - cx, y[i] - cy))));
  }
  return success(reach);
}

/** What the same pupils would enclose without aberration; nothing if their diffraction cannot be computed. */
function perfectCurve(
  lens: LensEvaluation,
  field: FieldPoint,
  { x }: Curve,
  { pupil, shape }: { pupil: string; shape: string },
  wave: number | undefined,
): Curve[] {
  const spread = pointSpread(lens, field, {
    method: 'transform',
    detail: 'draft',
    pupil: pupil === 'clipped' ? 'clipped' : 'full',
    perfect: true,
    ...(wave !== undefined && { wave }),
  });
  if (!spread.ok) return [];
  const spectrum = pointSpectrum(spread.value, [0, 0]);
  const radii = x.map((um) => um / 1000);
  const shares = shape === 'square' ? ensquaredEnergy(spectrum, radii) : encircledEnergy(spectrum, radii);
  return [
    {
      name: `without aberration, ${field.id}`,
      tint: 'limit',
      stroke: 'dotted',
      x,
      y: shares.map((share) => 100 * share),
    },
  ];
}

export const lineSpread = defineAnalysis({
  id: 'line_edge',
  inAngle: true,
  title: 'Lines and edges',
  topic: 'image',
  question: 'How soft is an edge?',
  meaning:
    'The image of a fine line (share of the light per µm) and of an edge (share of the light), across x ' +
    'for lines along y, and across y. Diffraction counted.',
  wide: true,
  settings: { field: ALL_FIELDS, colour: COLOURS, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const wanted = { ...settings, method: 'transform' };
    const all = yield* spreads(lens, wanted, detail);
    if (!all.ok) return all;
    const { found, missing, wave } = all.value;
    const half = halfOf(lens, found);
    const places = Array.from({ length: 81 }, (_, k) => (half * (k - 40)) / 40);
    const spectra = found.map(({ field, index, spread }) => ({
      field,
      index,
      spectrum: pointSpectrum(spread, spread.centroid),
    }));
    yield;
    const panels: Panel[] = (['line', 'edge'] as const).map((what): CurvePanel => ({
      kind: 'curves',
      title: what === 'line' ? 'a fine line' : 'an edge',
      x: { title: 'from the centroid', unit: 'µm', centred: true },
      y: what === 'line' ? { title: 'light', unit: '%/µm' } : { title: 'light', unit: '%', range: [0, 100] },
      curves: spectra.flatMap(({ field, index, spectrum }) =>
        (['y', 'x'] as const).map((across): Curve => ({
          name: `${field.id} across ${across}`,
          tint: { field: index },
          stroke: across === 'y' ? 'solid' : 'dashed',
          x: places.map((place) => 1000 * place),
          y: lineAndEdge(spectrum, across, places)[what].map((value) => (what === 'line' ? value / 10 : 100 * value)),
        })),
      ),
    }));
    return success({
      panels,
      about: ['across y full, across x dashed', ...aboutOf(lens, wanted, wave, found, detail), ...missing],
    });
  },
});

/** For measures: the transform of the point spread function of one field. */
export function spectrumOf(
  lens: LensEvaluation,
  field: FieldPoint,
  pupil: 'full' | 'clipped',
  about: string,
): Outcome<{ readonly spectrum: PointSpectrum; readonly spread: PointSpread }> {
  const spread = pointSpread(lens, field, { method: 'transform', detail: 'full', pupil });
  if (!spread.ok) return spread;
  return success({
    spread: spread.value,
    spectrum: pointSpectrum(spread.value, about === 'chief' ? [0, 0] : spread.value.centroid),
  });
}
