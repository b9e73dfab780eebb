import { RAY_STATUS } from '../compute/ray-block.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { clearShare } from '../imaging/evaluation/vignetting.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { traceBundle } from '../sequence/bundle.ts';
import { ALL_FIELDS, defineAnalysis, fieldsOf, ONE_COLOUR, PUPIL, pupilWords, waveOf, waveWords } from './analysis.ts';
import { ring } from './compact.ts';
import type { BarPanel, Curve, CurvePanel, DotPanel } from './panels.ts';

/** Rays through the rim and rings of the pupil, at a surface. */
function atSurface(
  lens: LensEvaluation,
  field: { readonly id: string; readonly x: number; readonly y: number; readonly weight: number },
  wave: number,
  px: ArrayLike<number>,
  py: ArrayLike<number>,
  surface: number,
  clip: boolean,
): Outcome<{ x: number[]; y: number[] }> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const [xs, ys] = [new Float64Array(px.length), new Float64Array(px.length)];
  const rays = traceBundle(
    aimer.value,
    { field, wave, px, py },
    {
      clip,
      visit(j, part, from, size) {
        if (j !== surface) return;
        xs.set(part.x.subarray(0, size), from);
        ys.set(part.y.subarray(0, size), from);
      },
    },
  );
  const there = [...xs.keys()].filter((i) => rays.status[i] === RAY_STATUS.alive || rays.at[i] > surface);
  return success({ x: there.map((i) => xs[i]), y: there.map((i) => ys[i]) });
}

/** Index of the surface of a choice: by its id, the stop, or the first that is not flat. */
export function surfaceOf({ model }: LensEvaluation, id: string): Outcome<number> {
  if (id === 'first curved') {
    const { surfaces } = model;
    const flat = ({ shape }: (typeof surfaces)[number]) => shape.curvature === 0 && shape.form !== undefined;
    return success(
      Math.max(
        0,
        surfaces.findIndex((surface) => !flat(surface)),
      ),
    );
  }
  if (id === 'stop') return model.stop >= 0 ? success(model.stop) : failure('No surface is the stop.');
  const j = model.surfaces.findIndex((surface) => surface.id === id);
  return j >= 0
    ? success(j)
    : failure(`There is no surface “${id}”; there are ${model.surfaces.map((surface) => surface.id).join(', ')}.`);
}

export const SURFACE = { kind: 'surface', title: 'Surface', also: ['stop'], fallback: 'stop' } as const;

export const footprint = defineAnalysis({
  id: 'footprint',
  title: 'Footprint',
  topic: 'rays',
  question: 'Which part of this surface is used?',
  meaning:
    'Where the bundles of all fields meet a surface, in its own x and y: the rim of the pupil and rings ' +
    'inside of it. Full pupil: set apertures are drawn but stop nothing.',
  settings: { surface: SURFACE, colour: ONE_COLOUR, pupil: PUPIL },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const surface = surfaceOf(lens, settings.surface);
    if (!surface.ok) return surface;
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const { points } = lens.model.lens.fields;
    const inner = lens.model.lens.pupil.obscuration;
    const rings = [1, ...(inner > 0 ? [inner] : []), ...[0.75, 0.5, 0.25].filter((radius) => radius > inner)];
    const angles = rings.flatMap((radius) =>
      Array.from({ length: 72 }, (_, k) => [radius, (2 * Math.PI * k) / 72] as const),
    );
    const [px, py] = [angles.map(([r, t]) => r * Math.cos(t)), angles.map(([r, t]) => r * Math.sin(t))];
    const groups: DotPanel['groups'][number][] = [];
    let reach = 0;
    for (const [index, field] of points.entries()) {
      const met = atSurface(lens, field, wave.value!, px, py, surface.value, settings.pupil === 'clipped');
      if (!met.ok) return met;
      met.value.x.forEach((x, i) => (reach = Math.max(reach, Math.hypot(x, met.value.y[i]))));
      groups.push({ name: field.id, tint: { field: index }, ...met.value });
    }
    const { semi, automatic } = lens.extents()[surface.value];
    const bound = 1.08 * Math.max(reach, semi);
    const panel: DotPanel = {
      kind: 'dots',
      title: lens.model.surfaces[surface.value].id,
      x: { title: 'x', unit: 'mm', range: [-bound, bound] },
      y: { title: 'y', unit: 'mm', range: [-bound, bound] },
      groups,
      outlines: [
        {
          ...ring(automatic ? 'clear semi-aperture' : 'set aperture', [semi, semi]),
          stroke: automatic ? 'dashed' : 'solid',
        },
      ],
      figures: [
        { name: 'farthest ray', value: reach, unit: 'mm' },
        { name: 'semi-aperture', value: semi, unit: 'mm' },
      ],
    };
    return success({
      panels: [panel],
      about: [waveWords(lens, wave.value), 'rim and rings of the pupil', ...pupilWords(lens, settings.pupil)],
    });
  },
});

export const pupilAberration = defineAnalysis({
  id: 'pupil_aberration',
  title: 'Pupil aberration',
  topic: 'rays',
  question: 'Do rays need to be aimed at the real stop?',
  meaning:
    'How far from their place in the stop rays end that are aimed at the paraxial entrance pupil, in ' +
    'shares of the stop’s radius, along py and px. Where it is large, aim at the stop.',
  wide: true,
  settings: { field: ALL_FIELDS, colour: ONE_COLOUR },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const fields = fieldsOf(lens, settings.field);
    const wave = waveOf(lens, settings.colour);
    const aimer = lens.aimer();
    if (!fields.ok) return fields;
    if (!wave.ok) return wave;
    if (!aimer.ok) return aimer;
    const { model } = lens;
    const semi = aimer.value.pupil.stopSemi;
    const across = Array.from({ length: 41 }, (_, k) => k / 20 - 1);
    const none = across.map(() => 0);
    let largest = 0;
    const panels = (['y', 'x'] as const).map((along): CurvePanel => ({
      kind: 'curves',
      title: `along ${along}`,
      x: { title: `pupil ${along}`, unit: '', range: [-1, 1] },
      y: { title: 'miss in the stop', unit: '%', centred: true },
      curves: fields.value.map((field): Curve => {
        const values = new Array<number>(across.length).fill(NaN);
        const [px, py] = along === 'y' ? [none, across] : [across, none];
        const rays = traceBundle(
          aimer.value,
          { field, wave: wave.value!, px, py, aim: 'paraxial' },
          {
            clip: false,
            visit(j, part, from, size) {
              if (j !== model.stop) return;
              for (let i = 0; i < size; i++)
                values[from + i] = 100 * ((along === 'y' ? part.y[i] : part.x[i]) / semi - across[from + i]);
            },
          },
        );
        const y = values.map((value, i) =>
          rays.status[i] === RAY_STATUS.alive || rays.at[i] > model.stop ? value : NaN,
        );
        y.forEach((value) => (largest = Number.isNaN(value) ? largest : Math.max(largest, Math.abs(value))));
        return { name: field.id, tint: { field: model.lens.fields.points.indexOf(field) }, x: across, y };
      }),
    }));
    return success({
      panels,
      about: [
        'aimed at the paraxial entrance pupil',
        waveWords(lens, wave.value),
        `largest miss ${Number(largest.toPrecision(2))} %`,
      ],
    });
  },
});

export const vignettingOverField = defineAnalysis({
  id: 'vignetting_field',
  title: 'Vignetting over field',
  topic: 'rays',
  question: 'How much of the pupil is left at the edge?',
  meaning:
    'Share of the pupil’s area through which rays reach the image past the set apertures, from the axis to the largest field, primary wavelength.',
  settings: {},
  *evaluate(lens, _settings, detail) {
    const line = fieldLine(lens, detail === 'draft' ? 8 : 20);
    if (!line.ok) return line;
    const { fields, at, unit } = line.value;
    const y: number[] = [];
    for (const field of fields) {
      const share = clearShare(lens, field, detail === 'draft' ? 16 : 48);
      y.push(share.ok ? 100 * share.value : NaN);
      yield;
    }
    const set = lens.model.surfaces.some(({ open }) => open !== null);
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'field', unit, range: [0, at.at(-1)!] },
      y: { title: 'clear', unit: '%', range: [0, 100] },
      curves: [{ name: 'clear', tint: 'ink', x: at, y }],
      figures: [{ name: 'at the largest field', value: y.at(-1)!, unit: '%' }],
    };
    return success({
      panels: [panel],
      about: [
        set ? 'through set apertures' : 'no aperture is set: nothing is vignetted',
        `${detail === 'draft' ? 16 : 48} directions of the pupil`,
      ],
    });
  },
});

export const incidence = defineAnalysis({
  id: 'incidence',
  title: 'Angles of incidence',
  topic: 'rays',
  question: 'Where do rays turn hard?',
  meaning:
    'Largest angle between a ray and the normal at each surface, over the rim of the pupil, for each field, before the surface.',
  wide: true,
  settings: { colour: ONE_COLOUR, pupil: PUPIL },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const wave = waveOf(lens, settings.colour);
    const aimer = lens.aimer();
    if (!wave.ok) return wave;
    if (!aimer.ok) return aimer;
    const { model } = lens;
    const turns = Array.from({ length: 36 }, (_, k) => (2 * Math.PI * k) / 36);
    const [px, py] = [
      [0, ...turns.map(Math.cos)],
      [0, ...turns.map(Math.sin)],
    ];
    const indices = model.indices[wave.value!];
    const series = model.lens.fields.points.map((field, index) => {
      const worst = new Array<number>(model.surfaces.length - 1).fill(0);
      traceBundle(
        aimer.value,
        { field, wave: wave.value!, px, py },
        {
          clip: settings.pupil === 'clipped',
          visit(j, { l, m, n, nx, ny, nz, status }, _from, size) {
            if (j >= worst.length) return;
            for (let i = 0; i < size; i++) {
              if (status[i] !== RAY_STATUS.alive) continue;
              // Behind the surface; Snell's law gives the angle before it.
              const cosine = Math.abs(l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i]);
              const sine =
                Math.sqrt(Math.max(0, 1 - cosine * cosine)) *
                (model.surfaces[j].reflects ? 1 : indices[j + 1] / indices[j]);
              worst[j] = Math.max(worst[j], (Math.asin(Math.min(1, sine)) * 180) / Math.PI);
            }
          },
        },
      );
      return { name: field.id, tint: { field: index }, values: worst };
    });
    const panel: BarPanel = {
      kind: 'bars',
      title: '',
      value: { title: 'angle', unit: '°' },
      names: model.surfaces.slice(0, -1).map(({ id }) => id),
      series,
    };
    return success({
      panels: [panel],
      about: [waveWords(lens, wave.value), 'rim and centre of the pupil', ...pupilWords(lens, settings.pupil)],
    });
  },
});
