import { wavelengthName } from '../light/spectral-lines.ts';
import { RAY_STATUS, type RayBlock } from '../compute/ray-block.ts';
import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { imageUnit, isAfocal } from '../imaging/evaluation/image-space.ts';
import { drift } from '../imaging/point/refocus.ts';
import { airyRing } from '../imaging/wavefront/image-cone.ts';
import { fieldSpot, forEachArrival, type FieldSpot } from '../imaging/point/spot.ts';
import { clearShare } from '../imaging/evaluation/vignetting.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { traceBundle } from '../sequence/bundle.ts';
import {
  ALL_FIELDS,
  CLIPPED,
  defineAnalysis,
  fieldsOf,
  ONE_COLOUR,
  PUPIL,
  pupilWords,
  waveOf,
  waveWords,
} from './analysis.ts';
import type { BarPanel, Curve, CurvePanel, DotPanel } from './panels.ts';
import { focusRange, RANGE } from './quality.ts';

const RINGS = { draft: { rings: 6, arms: 12 }, full: { rings: 12, arms: 24 } } as const;

export const spotsThroughFocus = defineAnalysis({
  id: 'spots_focus',
  title: 'Spots through focus',
  topic: 'rays',
  question: 'How does the spot change through focus?',
  meaning:
    'The spots of each field at five places of the image surface along its axis, about the centroid of ' +
    'each, all to one scale. The ring is the Airy disk. Range 0: one that suits the lens.',
  wide: true,
  tall: true,
  settings: { field: ALL_FIELDS, range: RANGE, pupil: CLIPPED },
  *evaluate(lens, settings, detail) {
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: no shift changes its spots.');
    const fields = fieldsOf(lens, settings.field);
    if (!fields.ok) return fields;
    const range = settings.range || focusRange(lens);
    const panels: DotPanel[] = [];
    let half = 0;
    for (const field of fields.value) {
      const airy = airyRing(lens, field, { pupil: settings.pupil === 'full' ? 'full' : 'clipped' });
      half = Math.max(half, ...(airy ?? []));
      const spot = fieldSpot(lens, field, {
        sampling: { kind: 'polar', ...RINGS[detail] },
        pupil: settings.pupil === 'full' ? 'full' : 'clipped',
      });
      yield;
      if (!spot.ok) return spot;
      for (const step of [-1, -0.5, 0, 0.5, 1]) {
        const { panel, reach } = shiftedSpot(lens, spot.value, step * range);
        half = Math.max(half, reach);
        panels.push({ ...panel, outlines: airy ? [ring('Airy', airy)] : [] });
      }
    }
    const bound = [-1.05 * half, 1.05 * half] as const;
    const { rings, arms } = RINGS[detail];
    return success({
      columns: 5,
      resolved: { range },
      panels: panels.map((panel) => ({ ...panel, x: { ...panel.x, range: bound }, y: { ...panel.y, range: bound } })),
      about: [
        `box ±${Number((1.05 * half).toPrecision(2))} µm`,
        'all colours',
        `${rings} × ${arms} rays a colour`,
        'RMS about the centroid',
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});

/** A spot about its centroid in an image surface moved by `shift` mm; `reach` is how far its rays are from there, µm. */
function shiftedSpot(
  { model }: LensEvaluation,
  { field, colours }: FieldSpot,
  shift: number,
): { readonly panel: DotPanel; readonly reach: number } {
  const place = (rays: RayBlock, i: number) => {
    const [dx, dy] = drift(rays, i);
    return [1000 * (rays.x[i] + shift * dx), 1000 * (rays.y[i] + shift * dy)] as const;
  };
  let [total, cx, cy, squares, reach] = [0, 0, 0, 0, 0];
  forEachArrival(colours, (rays, i, weight) => {
    const [x, y] = place(rays, i);
    total += weight;
    cx += weight * x;
    cy += weight * y;
    squares += weight * (x * x + y * y);
  });
  [cx, cy] = [cx / total, cy / total];
  const groups = colours.map((colour) => {
    const [xs, ys]: [number[], number[]] = [[], []];
    forEachArrival([colour], (rays, i) => {
      const [x, y] = place(rays, i);
      xs.push(x - cx);
      ys.push(y - cy);
      reach = Math.max(reach, Math.abs(x - cx), Math.abs(y - cy));
    });
    const { nm } = model.wavelengths[colour.wave];
    return { name: wavelengthName(nm), tint: { nm }, x: xs, y: ys };
  });
  const moved = `${shift > 0 ? '+' : shift < 0 ? '−' : ''}${Math.abs(Number(shift.toPrecision(3)))} mm`;
  const rms = Math.sqrt(Math.max(0, squares / total - cx * cx - cy * cy));
  return {
    reach,
    panel: {
      kind: 'dots',
      title: `${field.id} ${moved}`,
      x: { title: 'x', unit: 'µm' },
      y: { title: 'y', unit: 'µm' },
      groups,
      outlines: [],
      figures: [{ name: 'RMS', value: rms, unit: 'µm' }],
    },
  };
}

/** An ellipse by its semi-axes. */
export function ring(name: string, [a, b]: readonly [number, number], [x, y] = [0, 0]): Curve {
  const turns = Array.from({ length: 49 }, (_, k) => (2 * Math.PI * k) / 48);
  return {
    name,
    tint: 'limit',
    x: turns.map((turn) => x + a * Math.cos(turn)),
    y: turns.map((turn) => y + b * Math.sin(turn)),
  };
}

const SCALE = { kind: 'number', title: 'Scale', unit: '', min: 0, max: 1e6, fallback: 0 } as const;

export const spotsOverField = defineAnalysis({
  id: 'spots_field',
  title: 'Spots over the whole field',
  topic: 'rays',
  question: 'What do the corners look like?',
  meaning:
    'Spots of fields on all sides, each at its place in the field and enlarged by the same factor; what ' +
    'is not of revolution shows here. Scale: how far from its centroid, in µm or of an afocal lens in ' +
    'mrad, a spot has room; 0: as far as the largest needs.',
  settings: { scale: SCALE, pupil: CLIPPED },
  exact: true,
  *evaluate(lens, settings) {
    const line = fieldLine(lens, 1);
    if (!line.ok) return line;
    const { largest, unit } = line.value;
    const found: { x: number; y: number; dots: { nm: number; x: number[]; y: number[] }[] }[] = [];
    let half = 0;
    for (const row of [-1, -0.5, 0, 0.5, 1])
      for (const column of [-1, -0.5, 0, 0.5, 1]) {
        const field = {
          id: `whole_${column}_${row}`,
          x: (column * largest) / Math.SQRT2,
          y: (row * largest) / Math.SQRT2,
          weight: 1,
        };
        const spot = fieldSpot(lens, field, {
          sampling: { kind: 'polar', rings: 8, arms: 16 },
          pupil: settings.pupil === 'full' ? 'full' : 'clipped',
        });
        yield;
        if (!spot.ok) continue;
        const { centroid, colours } = spot.value;
        const dots = colours.map((colour) => {
          const [x, y]: [number[], number[]] = [[], []];
          forEachArrival([colour], (rays, i) => {
            const [dx, dy] = [rays.x[i] - centroid[0], rays.y[i] - centroid[1]];
            half = Math.max(half, Math.abs(dx), Math.abs(dy));
            x.push(dx);
            y.push(dy);
          });
          return { nm: lens.model.wavelengths[colour.wave].nm, x, y };
        });
        found.push({ x: field.x, y: field.y, dots });
      }
    if (found.length === 0) return failure('No field has a spot: no ray reaches the image.');
    const small = imageUnit(lens.model.lens);
    const scale = settings.scale || Math.min(SCALE.max, roundedUp(1000 * half));
    // A spot that needs all the room comes near to the next one.
    const enlarged = ((largest / Math.SQRT2) * 0.22 * 1000) / (scale || 1);
    const groups = found[0].dots.map(({ nm }, k) => ({
      name: wavelengthName(nm),
      tint: { nm },
      x: found.flatMap(({ x, dots }) => dots[k]?.x.map((dx) => x + enlarged * dx) ?? []),
      y: found.flatMap(({ y, dots }) => dots[k]?.y.map((dy) => y + enlarged * dy) ?? []),
    }));
    const bound = [-0.95 * largest, 0.95 * largest] as const;
    const panel: DotPanel = {
      kind: 'dots',
      title: '',
      x: { title: 'field x', unit, range: bound },
      y: { title: 'field y', unit, range: bound },
      groups,
      outlines: [],
      figures: [{ name: 'largest spot ±', value: 1000 * half, unit: small }],
    };
    return success({
      panels: [panel],
      resolved: { scale },
      about: [
        '5 × 5 fields, 8 × 16 rays a colour',
        `each about its centroid, room for ±${scale} ${small}`,
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});

/** A positive number of two digits that is not below another; 0 of 0. */
function roundedUp(value: number): number {
  if (!(value > 0)) return 0;
  const unit = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number((Math.ceil(value / unit - 1e-9) * unit).toPrecision(2));
}

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
