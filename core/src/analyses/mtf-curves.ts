import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { CELLS, modulations, sampledPupils } from '../imaging/point/through-focus.ts';
import { mtfChartSteps, roundBelow } from '../imaging/point/mtf-chart.ts';
import type { MtfMethod } from '../imaging/point/mtf.ts';
import { coneModulation, cutoffOf, imageCone, innermostField } from '../imaging/wavefront/image-cone.ts';
import { referenceSphere } from '../imaging/wavefront/reference-sphere.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { FieldPoint } from '../project/model.ts';
import {
  ALL_FIELDS,
  COLOURS,
  defineAnalysis,
  fieldsOf,
  PUPIL,
  pupilWords,
  waveOf,
  waveWords,
  withoutNulls,
} from './analysis.ts';
import { besideReason } from './compact.ts';
import type { Curve, CurvePanel, Stroke } from './panels.ts';
import { focusRange, RANGE } from './quality.ts';

const FREQUENCY = {
  kind: 'number',
  title: 'Cycles per mm',
  unit: '/mm',
  min: 0,
  max: 100_000,
  fallback: 0,
} as const;
/** The frequency that is asked for; 0 leaves it to the image: a round one near an eighth of its own cutoff. */
function frequencyOf(lens: LensEvaluation, asked: number): Outcome<number> {
  if (asked > 0) return success(asked);
  const cone = imageCone(lens, innermostField(lens));
  return cone.ok ? success(roundBelow(Math.max(cutoffOf(cone.value, 0), cutoffOf(cone.value, 1)) / 8)) : cone;
}

const HOW = (detail: Detail) => `pupil on the reference sphere, ${2 * CELLS[detail]} cells across`;

const METHODS: Readonly<Record<MtfMethod, string>> = {
  physical: 'pupil on the reference sphere',
  simple: 'pupil in ray coordinates (faster, off by up to 0.03, more with long throws)',
  geometric: 'of the spot alone, without diffraction',
};

export const mtfOverFrequency = defineAnalysis({
  id: 'mtf',
  title: 'MTF',
  topic: 'image',
  question: 'How much contrast is left?',
  meaning:
    'Modulation of patterns by their frequency; tangential: along y, sagittal: along x. Dotted: what the same ' +
    'pupils pass without aberration. Highest frequency 0: about a quarter of what the image can hold.',
  settings: {
    method: { kind: 'choice', title: 'Method', options: ['physical', 'simple', 'geometric'], fallback: 'physical' },
    colours: { kind: 'choice', title: 'Colours', options: ['all', 'primary'], fallback: 'all' },
    highest: { kind: 'number', title: 'Up to', unit: '/mm', min: 0, max: 1e6, fallback: 0 },
  },
  older: withoutNulls,
  *evaluate(lens, settings, detail) {
    const method = settings.method as MtfMethod;
    const colours = settings.colours === 'primary' ? 'primary' : 'all';
    const found = yield* mtfChartSteps(lens, { method, colours, detail, highest: settings.highest || null });
    if (!found.ok) return found;
    const { unit, frequencies: x, fields } = found.value;
    const known = fields.flatMap(({ curves }, field) => (curves.ok ? [{ ...curves.value, index: field }] : []));
    const pair = (
      name: string,
      tint: Curve['tint'],
      { tangential, sagittal }: { readonly tangential: readonly number[]; readonly sagittal: readonly number[] },
      strokes: readonly [Stroke, Stroke],
    ): Curve[] => [
      { name: `${name} tangential`, tint, stroke: strokes[0], x, y: tangential },
      { name: `${name} sagittal`, tint, stroke: strokes[1], x, y: sagittal },
    ];
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'frequency', unit: `cycles/${unit}`, range: [0, x.at(-1)!] },
      y: { title: 'modulation', unit: '', range: [0, 1] },
      curves: [
        ...known.flatMap(({ limits }) => pair('limit of diffraction', 'limit', limits, ['dotted', 'dotted'])),
        ...known.flatMap((one) => pair(one.field, { field: one.index }, one, ['solid', 'dashed'])),
      ],
    };
    const residual = Math.max(0, ...known.map((one) => one.residual));
    return success({
      panels: [panel],
      resolved: { highest: x.at(-1)! },
      missing: fields.flatMap(({ field, curves }) => (curves.ok ? [] : [besideReason(field, curves.reason)])),
      about: [
        METHODS[method],
        colours === 'all' ? 'all colours by weight' : 'primary colour',
        'tangential full, sagittal dashed, limit of diffraction dotted',
        ...pupilWords(lens, 'full'),
        ...(residual >= 1e-3 ? [`fits leave ${Number(residual.toPrecision(1))} λ`] : []),
      ],
    });
  },
});

export const mtfThroughFocus = defineAnalysis({
  id: 'mtf_focus',
  title: 'MTF through focus',
  topic: 'image',
  question: 'How deep is the focus?',
  meaning:
    'Modulation of a pattern of one frequency while the image surface is moved along its axis; ' +
    'tangential: along y, sagittal: along x. Dotted: what the cone of light there passes without ' +
    'aberration. Range or frequency 0: one that suits the lens.',
  settings: { frequency: FREQUENCY, field: ALL_FIELDS, colour: COLOURS, range: RANGE, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: no shift changes its contrast.');
    const fields = fieldsOf(lens, settings.field);
    const wave = waveOf(lens, settings.colour);
    if (!fields.ok) return fields;
    if (!wave.ok) return wave;
    const asked = frequencyOf(lens, settings.frequency);
    if (!asked.ok) return asked;
    const frequency = asked.value;
    const range = settings.range || focusRange(lens);
    const steps = detail === 'draft' ? 12 : 32;
    const shifts = Array.from({ length: steps + 1 }, (_, k) => range * ((2 * k) / steps - 1));
    const curves = limitsThroughFocus(lens, fields.value, wave.value, frequency, shifts);
    const missing: string[] = [];
    for (const field of fields.value) {
      const sampled = sampledPupils(lens, field, wave.value, settings.pupil === 'clipped', detail);
      yield;
      if (!sampled.ok) {
        missing.push(sampled.reason);
        continue;
      }
      const found: { tangential: number[]; sagittal: number[] }[] = [];
      for (const shift of shifts) {
        found.push(modulations(sampled.value, shift, [frequency]));
        if (found.length % 8 === 0) yield;
      }
      const tint = { field: lens.model.lens.fields.points.indexOf(field) };
      curves.push(
        { name: `${field.id} tangential`, tint, x: shifts, y: found.map(({ tangential }) => tangential[0]) },
        {
          name: `${field.id} sagittal`,
          tint,
          stroke: 'dashed',
          x: shifts,
          y: found.map(({ sagittal }) => sagittal[0]),
        },
      );
    }
    if (missing.length === fields.value.length) return failure(missing[0]);
    const panel: CurvePanel = {
      kind: 'curves',
      title: `${frequency} cycles/mm`,
      x: { title: 'image moved by', unit: 'mm', range: [-range, range] },
      y: { title: 'modulation', unit: '', range: [0, 1] },
      curves,
    };
    return success({
      panels: [panel],
      resolved: { range, frequency },
      about: [
        'tangential full, sagittal dashed',
        HOW(detail),
        waveWords(lens, wave.value),
        ...pupilWords(lens, settings.pupil),
        ...missing,
      ],
    });
  },
});

/** The same while the image surface is moved: of the one field that is looked at, or of the innermost. */
function limitsThroughFocus(
  lens: LensEvaluation,
  fields: readonly FieldPoint[],
  wave: number | undefined,
  frequency: number,
  shifts: readonly number[],
): Curve[] {
  const field = fields.length === 1 ? fields[0] : innermostField(lens);
  const own = wave ?? lens.model.primary;
  const cone = imageCone(lens, field, { wave: own });
  const here = referenceSphere(lens, field, own);
  if (!cone.ok || !here.ok) return [];
  const { half, mm } = cone.value;
  const along = (axis: 0 | 1) =>
    shifts.map((shift) => {
      const there = referenceSphere(lens, field, own, { shift });
      const ratio = there.ok && here.value.radius !== Infinity ? here.value.radius / there.value.radius : 1;
      return coneModulation(
        { half: [half[0] * ratio, half[1] * ratio], mm },
        axis,
        frequency,
        lens.model.lens.pupil.obscuration,
      );
    });
  return limitCurves(field.id, shifts, { tangential: along(1), sagittal: along(0) });
}

/** Limits as dotted curves; one for both directions if they are alike. */
function limitCurves(
  of: string,
  x: readonly number[],
  { tangential, sagittal }: { tangential: readonly number[]; sagittal: readonly number[] },
): Curve[] {
  const curve = (name: string, y: readonly number[]): Curve => ({ name, tint: 'limit', stroke: 'dotted', x, y });
  const alike = tangential.every((value, k) => !(Math.abs(value - sagittal[k]) > 0.002));
  return alike
    ? [curve(`limit, ${of}`, tangential)]
    : [curve(`tangential limit, ${of}`, tangential), curve(`sagittal limit, ${of}`, sagittal)];
}

/** What the cones of fields pass of a frequency without aberration, along y and along x; NaN if a cone cannot be measured. */
function limits(lens: LensEvaluation, fields: readonly FieldPoint[], wave: number | undefined, frequency: number) {
  const { obscuration } = lens.model.lens.pupil;
  const along = (axis: 0 | 1) =>
    fields.map((field) => {
      const cone = imageCone(lens, field, { ...(wave !== undefined && { wave }) });
      return cone.ok ? coneModulation(cone.value, axis, frequency, obscuration) : NaN;
    });
  return { tangential: along(1), sagittal: along(0) };
}

export const mtfOverField = defineAnalysis({
  id: 'mtf_field',
  inAngle: true,
  title: 'MTF over field',
  topic: 'image',
  question: 'Is it as sharp at the edge?',
  meaning:
    'Modulation of patterns of three frequencies from the axis to the largest field: the one given, half ' +
    'of it and twice it; tangential along y, sagittal along x. Frequency 0: one that suits the lens.',
  settings: { frequency: FREQUENCY, colour: COLOURS, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const line = fieldLine(lens, detail === 'draft' ? 6 : 16);
    if (!line.ok) return line;
    const { fields, at, unit } = line.value;
    const asked = frequencyOf(lens, settings.frequency);
    if (!asked.ok) return asked;
    const frequency = asked.value;
    const frequencies = [frequency / 2, frequency, 2 * frequency];
    const found: (ReturnType<typeof modulations> | null)[] = [];
    let missing: string | null = null;
    for (const field of fields) {
      const sampled = sampledPupils(lens, field, wave.value, settings.pupil === 'clipped', detail);
      found.push(sampled.ok ? modulations(sampled.value, 0, frequencies) : null);
      if (!sampled.ok) missing ??= sampled.reason;
      yield;
    }
    if (missing && found.every((one) => one === null)) return failure(missing);
    // Lower frequencies drawn nearer to the start of the ramp.
    const curves = frequencies.flatMap((nu, k): Curve[] => [
      ...limitCurves(`${nu}/mm`, at, limits(lens, fields, wave.value, nu)),
      { name: `${nu}/mm tangential`, tint: { field: k }, x: at, y: found.map((one) => one?.tangential[k] ?? NaN) },
      {
        name: `${nu}/mm sagittal`,
        tint: { field: k },
        stroke: 'dashed',
        x: at,
        y: found.map((one) => one?.sagittal[k] ?? NaN),
      },
    ]);
    const panel: CurvePanel = {
      kind: 'curves',
      title: `${frequencies.join(', ')} cycles/mm`,
      x: { title: 'field', unit, range: [0, at.at(-1)!] },
      y: { title: 'modulation', unit: '', range: [0, 1] },
      curves,
    };
    return success({
      panels: [panel],
      resolved: { frequency },
      about: [
        'tangential full, sagittal dashed',
        HOW(detail),
        waveWords(lens, wave.value),
        ...pupilWords(lens, settings.pupil),
        ...(missing ? [missing] : []),
      ],
    });
  },
});

export const mtfMap = defineAnalysis({
  id: 'mtf_map',
  inAngle: true,
  title: 'MTF over the whole field',
  topic: 'image',
  question: 'How sharp is every corner?',
  meaning:
    'Modulation of a pattern of one frequency over fields in x and y, up to the largest one on all sides: tangential along y, sagittal along x.',
  wide: true,
  settings: { frequency: FREQUENCY, colour: { ...COLOURS, fallback: 'primary' }, pupil: PUPIL },
  *evaluate(lens, settings, detail) {
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const asked = frequencyOf(lens, settings.frequency);
    if (!asked.ok) return asked;
    const frequency = asked.value;
    const line = fieldLine(lens, 1);
    if (!line.ok) return line;
    const { largest, unit } = line.value;
    const cells = detail === 'draft' ? 5 : 11;
    const maps = [new Float64Array(cells * cells).fill(NaN), new Float64Array(cells * cells).fill(NaN)];
    const place = (k: number) => largest * ((2 * (k + 0.5)) / cells - 1);
    const columns = lens.model.mirrorX ? Math.ceil(cells / 2) : cells;
    let missing: string | null = null;
    for (let row = 0; row < cells; row++)
      for (let column = 0; column < columns; column++) {
        const field = { id: `map_${column}_${row}_${cells}`, x: place(column), y: place(row), weight: 1 };
        if (Math.hypot(field.x, field.y) > 1.02 * largest) continue;
        const sampled = sampledPupils(lens, field, wave.value, settings.pupil === 'clipped', 'draft');
        yield;
        if (!sampled.ok) {
          missing ??= sampled.reason;
          continue;
        }
        const { tangential, sagittal } = modulations(sampled.value, 0, [frequency]);
        for (const at of [column, ...(lens.model.mirrorX ? [cells - 1 - column] : [])])
          [maps[0][row * cells + at], maps[1][row * cells + at]] = [tangential[0], sagittal[0]];
      }
    if (missing && maps[0].every(Number.isNaN)) return failure(missing);
    const axis = (title: string) => ({ title, unit, range: [-largest, largest] as const });
    return success({
      panels: (['tangential', 'sagittal'] as const).map((title, k) => ({
        kind: 'map' as const,
        title,
        columns: cells,
        rows: cells,
        values: maps[k],
        x: axis('field x'),
        y: axis('field y'),
        value: { title: 'modulation', unit: '', range: [0, 1] as const },
        look: 'heat' as const,
      })),
      resolved: { frequency },
      about: [
        `${frequency} cycles/mm`,
        `${cells} × ${cells} fields`,
        HOW('draft'),
        waveWords(lens, wave.value),
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});
