import { QUALITIES, imageQuality, type Quality } from '../imaging/point/quality.ts';
import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { airyRing, coneFNumber, innermostField } from '../imaging/wavefront/image-cone.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { FieldPoint } from '../project/model.ts';
import { atWavelengths } from '../sequence/lens-model.ts';
import type { PupilSampling } from '../sequence/pupil-sampling.ts';
import { ALL_FIELDS, COLOURS, defineAnalysis, fieldsOf, PUPIL, pupilWords, waveOf, waveWords } from './analysis.ts';
import type { Axis, Curve, CurvePanel, MapPanel } from './panels.ts';

const QUALITY = { kind: 'choice', title: 'Of', options: QUALITIES, fallback: 'spot' } as const;
const SAMPLINGS: Readonly<Record<Detail, PupilSampling>> = {
  draft: { kind: 'polar', rings: 6, arms: 12 },
  full: { kind: 'polar', rings: 12, arms: 24 },
};
const STEPS = { draft: 12, full: 32 } as const;
const sampled = (detail: Detail) => (detail === 'draft' ? '6 × 12 rays a colour' : '12 × 24 rays a colour');

/** How a quality is plotted. */
export function qualityAxis(quality: Quality): Axis {
  if (quality === 'spot') return { title: 'RMS spot radius', unit: 'µm' };
  return quality === 'wavefront'
    ? { title: 'RMS wavefront', unit: 'λ' }
    : { title: 'Strehl ratio', unit: '', range: [0, 1] };
}

/** What counts as limited by diffraction: the Airy radius, 1/14 of a wave (Maréchal), a Strehl ratio of 0.8. */
function limitOf(
  lens: LensEvaluation,
  quality: Quality,
  field: FieldPoint,
): { readonly name: string; readonly value: number } {
  if (quality === 'wavefront') return { name: 'λ/14', value: 1 / 14 };
  if (quality === 'strehl') return { name: 'diffraction limited', value: 0.8 };
  const ring = airyRing(lens, field);
  return { name: 'Airy radius', value: ring ? Math.sqrt(ring[0] * ring[1]) : NaN };
}

/** The limit over what is not a field: that of one of the fields, or of the innermost one for all. */
function limitCurve(
  lens: LensEvaluation,
  quality: Quality,
  x: readonly number[],
  fields: readonly FieldPoint[] = [],
): Curve[] {
  const { name, value } = limitOf(lens, quality, fields.length === 1 ? fields[0] : innermostField(lens));
  return Number.isFinite(value)
    ? [{ name, tint: 'limit', stroke: 'dotted', x: [x[0], x.at(-1)!], y: [value, value] }]
    : [];
}

/** The limit over the field, of each point by its own cone. */
function limitOverField(
  lens: LensEvaluation,
  quality: Quality,
  x: readonly number[],
  fields: readonly FieldPoint[],
): Curve[] {
  const limits = fields.map((field) => limitOf(lens, quality, field));
  return [{ name: limits[0].name, tint: 'limit', stroke: 'dotted', x, y: limits.map(({ value }) => value) }];
}

const valueOf = (outcome: Outcome<number>) => (outcome.ok ? outcome.value : NaN);

/** The first failure where no value is to be had at all. */
function unlessNone(values: readonly Outcome<number>[]): Outcome<null> {
  const failed = values.find((one) => !one.ok);
  return failed && values.every((one) => !one.ok) ? (failed as Outcome<never>) : success(null);
}

export const qualityOverField = defineAnalysis({
  id: 'quality_field',
  inAngle: true,
  title: 'Quality over field',
  topic: 'field',
  question: 'Where does it get worse?',
  meaning:
    'RMS spot radius about the centroid, RMS wavefront or Strehl ratio from the axis to the largest ' +
    'field, of all colours together and of each. Dotted: the Airy radius, λ/14 or 0.8.',
  settings: { quality: QUALITY, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const quality = settings.quality as Quality;
    const line = fieldLine(lens, STEPS[detail]);
    if (!line.ok) return line;
    const { fields, at, unit } = line.value;
    const pupil = settings.pupil === 'clipped' ? 'clipped' : 'full';
    const waves = [...lens.model.wavelengths.entries()].filter(([, { weight }]) => weight > 0);
    const curves: Curve[] = limitOverField(lens, quality, at, fields);
    for (const wave of [undefined, ...(waves.length > 1 ? waves.map(([w]) => w) : [])]) {
      const values = fields.map((field) =>
        imageQuality(lens, field, { quality, pupil, sampling: SAMPLINGS[detail], ...(wave !== undefined && { wave }) }),
      );
      yield;
      const any = unlessNone(values);
      if (!any.ok) return any;
      curves.push({
        name: waveWords(lens, wave),
        tint: wave === undefined ? 'ink' : { nm: lens.model.wavelengths[wave].nm },
        ...(wave !== undefined && { stroke: 'dashed' as const }),
        x: at,
        y: values.map(valueOf),
      });
    }
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'field', unit, range: [0, at.at(-1)!] },
      y: qualityAxis(quality),
      curves,
    };
    return success({
      panels: [panel],
      about: ['all colours full, each dashed', sampled(detail), ...pupilWords(lens, pupil)],
    });
  },
});

/** How far to look through focus where nothing is said: some depths of focus, or as far as blurs of the best spot matter, mm. */
export function focusRange(lens: LensEvaluation): number {
  const n = coneFNumber(lens);
  if (n === null) return 0.1;
  const mm = lens.model.wavelengths[lens.model.primary].nm * 1e-6;
  const spots = lens.model.lens.fields.points.map((field) =>
    imageQuality(lens, field, { quality: 'spot', pupil: 'full', sampling: SAMPLINGS.draft }),
  );
  const blur = Math.max(0, ...spots.map((spot) => (spot.ok ? spot.value / 1000 : 0)));
  const rough = Math.max(6 * mm * n * n, 4 * blur * n);
  if (!(rough > 0) || !Number.isFinite(rough)) return 0.1;
  const power = 10 ** Math.floor(Math.log10(rough));
  return Math.min(
    RANGE.max,
    [1, 2, 5, 10].map((digit) => digit * power).find((value) => value >= rough)!,
  );
}

export const RANGE = { kind: 'number', title: 'Range', unit: 'mm', min: 0, max: 1000, fallback: 0 } as const;

export const qualityThroughFocus = defineAnalysis({
  id: 'quality_focus',
  title: 'Quality through focus',
  topic: 'field',
  question: 'Where would each field want the image?',
  meaning:
    'RMS spot radius, RMS wavefront or Strehl ratio of each field while the image surface is moved along ' +
    'its axis by so much; positive: away from the lens. Range 0: one that suits the lens.',
  settings: { quality: QUALITY, field: ALL_FIELDS, colour: COLOURS, range: RANGE, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const quality = settings.quality as Quality;
    const fields = fieldsOf(lens, settings.field);
    const wave = waveOf(lens, settings.colour);
    if (!fields.ok) return fields;
    if (!wave.ok) return wave;
    const range = settings.range || focusRange(lens);
    const steps = STEPS[detail];
    const shifts = Array.from({ length: steps + 1 }, (_, k) => range * ((2 * k) / steps - 1));
    const pupil = settings.pupil === 'clipped' ? 'clipped' : 'full';
    const figures: { name: string; value: number; unit: string }[] = [];
    const curves: Curve[] = limitCurve(lens, quality, shifts, fields.value);
    for (const field of fields.value) {
      const values = shifts.map((shift) =>
        imageQuality(lens, field, {
          quality,
          pupil,
          shift,
          sampling: SAMPLINGS[detail],
          ...(wave.value !== undefined && { wave: wave.value }),
        }),
      );
      yield;
      const any = unlessNone(values);
      if (!any.ok) return any;
      const y = values.map(valueOf);
      curves.push({ name: field.id, tint: { field: lens.model.lens.fields.points.indexOf(field) }, x: shifts, y });
      figures.push({
        name: `${field.id} best at`,
        value: bestPlace(shifts, quality === 'strehl' ? y.map((value) => -value) : y.map((value) => value * value)),
        unit: 'mm',
      });
    }
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'image moved by', unit: 'mm', range: [-range, range] },
      y: qualityAxis(quality),
      curves,
      figures,
    };
    return success({
      panels: [panel],
      resolved: { range },
      about: [waveWords(lens, wave.value), sampled(detail), ...pupilWords(lens, pupil)],
    });
  },
});

/** Where values are least, by the parabola through the least one and its neighbours (squares of an RMS are one); NaN where it lies at an end. */
function bestPlace(x: readonly number[], y: readonly number[]): number {
  let k = 0;
  y.forEach((value, i) => {
    if (value < y[k]) k = i;
  });
  if (k === 0 || k === y.length - 1) return NaN;
  const [a, b, c] = [y[k - 1], y[k], y[k + 1]];
  return x[k] + ((x[k + 1] - x[k]) * (a - c)) / (2 * (a - 2 * b + c) || 1);
}

export const qualityOverColour = defineAnalysis({
  id: 'quality_colour',
  inAngle: true,
  title: 'Quality over wavelength',
  topic: 'field',
  question: 'In which light is it good?',
  meaning:
    'RMS spot radius, RMS wavefront or Strehl ratio of each field by wavelength, from the shortest to the ' +
    'longest of the lens; pupils stay those of the primary one.',
  settings: { quality: QUALITY, field: ALL_FIELDS, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const quality = settings.quality as Quality;
    const fields = fieldsOf(lens, settings.field);
    if (!fields.ok) return fields;
    const spectrum = spectrumLine(lens, detail === 'draft' ? 10 : 24);
    if (!spectrum.ok) return spectrum;
    const { nms, coloured } = spectrum.value;
    const pupil = settings.pupil === 'clipped' ? 'clipped' : 'full';
    const curves: Curve[] = limitCurve(lens, quality, nms, fields.value);
    for (const field of fields.value) {
      const values = nms.map((_, k) =>
        imageQuality(coloured, field, { quality, pupil, sampling: SAMPLINGS[detail], wave: k + 1 }),
      );
      yield;
      const any = unlessNone(values);
      if (!any.ok) return any;
      curves.push({
        name: field.id,
        tint: { field: lens.model.lens.fields.points.indexOf(field) },
        x: nms,
        y: values.map(valueOf),
      });
    }
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'wavelength', unit: 'nm' },
      y: qualityAxis(quality),
      curves,
    };
    return success({ panels: [panel], about: [sampled(detail), ...pupilWords(lens, pupil)] });
  },
});

/** The lens in wavelengths from its shortest to its longest, evenly. */
export function spectrumLine(
  lens: LensEvaluation,
  steps: number,
): Outcome<{ readonly nms: readonly number[]; readonly coloured: LensEvaluation }> {
  const known = lens.model.wavelengths.map(({ nm }) => nm);
  const [from, to] = [Math.min(...known), Math.max(...known)];
  if (!(to > from)) return failure('The lens has a single wavelength: add others in the Brief.');
  const nms = Array.from({ length: steps + 1 }, (_, k) => from + ((to - from) * k) / steps);
  return success({ nms, coloured: lens.shared(`spectrum ${steps}`, () => lens.of(atWavelengths(lens.model, nms))) });
}

export const qualityMap = defineAnalysis({
  id: 'quality_map',
  inAngle: true,
  title: 'Quality over the whole field',
  topic: 'field',
  question: 'Is it the same on all sides?',
  meaning:
    'RMS spot radius, RMS wavefront or Strehl ratio over fields in x and y, up to the largest one on all ' +
    'sides; what is not of revolution shows here.',
  settings: { quality: QUALITY, colour: COLOURS, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const quality = settings.quality as Quality;
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const line = fieldLine(lens, 1);
    if (!line.ok) return line;
    const { largest, unit } = line.value;
    const pupil = settings.pupil === 'clipped' ? 'clipped' : 'full';
    const cells = detail === 'draft' ? 7 : 15;
    const values = new Float64Array(cells * cells).fill(NaN);
    const place = (k: number) => largest * ((2 * (k + 0.5)) / cells - 1);
    // One half is enough where the other is its mirror image.
    const columns = lens.model.mirrorX ? Math.ceil(cells / 2) : cells;
    let worst: Outcome<number> | null = null;
    for (let row = 0; row < cells; row++) {
      for (let column = 0; column < columns; column++) {
        const field: FieldPoint = { id: `map_${column}_${row}_${cells}`, x: place(column), y: place(row), weight: 1 };
        if (Math.hypot(field.x, field.y) > 1.02 * largest) continue;
        const found = imageQuality(lens, field, {
          quality,
          pupil,
          sampling: SAMPLINGS.draft,
          ...(wave.value !== undefined && { wave: wave.value }),
        });
        if (!found.ok) worst = found;
        values[row * cells + column] = values[row * cells + (lens.model.mirrorX ? cells - 1 - column : column)] =
          valueOf(found);
      }
      yield;
    }
    const known = values.filter((value) => !Number.isNaN(value));
    if (known.length === 0) return worst ?? failure('No field gives an image.');
    const axis = (title: string) => ({ title, unit, range: [-largest, largest] as const });
    const panel: MapPanel = {
      kind: 'map',
      title: qualityAxis(quality).title,
      columns: cells,
      rows: cells,
      values,
      x: axis('field x'),
      y: axis('field y'),
      value: { ...qualityAxis(quality), range: [0, quality === 'strehl' ? 1 : known.reduce((a, b) => Math.max(a, b))] },
      look: 'heat',
      figures: [
        { name: 'least', value: known.reduce((a, b) => Math.min(a, b)), unit: qualityAxis(quality).unit },
        { name: 'largest', value: known.reduce((a, b) => Math.max(a, b)), unit: qualityAxis(quality).unit },
      ],
    };
    return success({
      panels: [panel],
      about: [`${cells} × ${cells} fields`, waveWords(lens, wave.value), sampled('draft'), ...pupilWords(lens, pupil)],
    });
  },
});
