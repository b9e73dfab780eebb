import type { RayBlock } from '../compute/ray-block.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { imageUnit, isAfocal } from '../imaging/evaluation/image-space.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { drift, focusDirection } from '../imaging/point/refocus.ts';
import { fieldSpot, forEachArrival, type FieldSpot } from '../imaging/point/spot.ts';
import { spotDiagram, type SpotPicture } from '../imaging/point/spot-diagram.ts';
import { airyRing } from '../imaging/wavefront/image-cone.ts';
import { wavelengthName } from '../light/spectral-lines.ts';
import { failure, success } from '../math/outcome.ts';
import { ALL_FIELDS, CLIPPED, defineAnalysis, fieldsOf, pupilWords, withoutNulls } from './analysis.ts';
import { besideReason, ring, roundScale } from './compact.ts';
import type { DotPanel } from './panels.ts';
import { focusRange, RANGE } from './quality.ts';

/** Rays of a colour, as rings × arms. */
const SAMPLINGS = ['4 × 8', '6 × 12', '12 × 24', '24 × 48'] as const;

export const spots = defineAnalysis({
  id: 'spots',
  title: 'Spots',
  topic: 'rays',
  question: 'Is it sharp?',
  meaning:
    'Where the rays of a point arrive, for each field, all to one scale: about the centroid of all colours, or ' +
    'about the chief ray of the primary one. The ring is the Airy disk. Box: half the side of each picture, in µm ' +
    'or for an afocal lens in mrad; 0: what holds all rays.',
  settings: {
    reference: { kind: 'choice', title: 'About', options: ['centroid', 'chief'], fallback: 'centroid' },
    pupil: CLIPPED,
    sampling: { kind: 'choice', title: 'Rays', options: SAMPLINGS, fallback: '12 × 24', word: 'sampling' },
    box: { kind: 'number', title: 'Box ±', unit: '', min: 0, max: 1e6, fallback: 0, word: 'scale' },
  },
  older({ sampling, ...given }) {
    // A sampling was kept by its place in the list.
    const named = typeof sampling === 'number' ? SAMPLINGS[sampling] : sampling;
    return { ...withoutNulls(given), ...(named !== undefined && { sampling: named }) };
  },
  exact: true,
  atOnce: true,
  // eslint-disable-next-line require-yield -- drawn at once
  *evaluate(lens, settings) {
    const [rings, arms] = settings.sampling.split(' × ').map(Number);
    const found = spotDiagram(lens, {
      reference: settings.reference === 'chief' ? 'chief' : 'centroid',
      pupil: settings.pupil === 'full' ? 'full' : 'clipped',
      rings,
      arms,
    });
    if (!found.ok) return found;
    const { pictures, unit } = found.value;
    const drawn = pictures.flatMap(({ spot }) => (spot.ok ? [spot.value] : []));
    const largest = Math.max(0, ...drawn.map((spot) => Math.max(spot.largest, ...(spot.airy ?? []))));
    const half = settings.box || roundScale(largest, unit === 'µm' ? 0.1 : 1e-4, 10);
    const axis = (title: string) => ({ title, unit, range: [-half, half] as const });
    const panels = pictures.map(({ field, spot }): DotPanel => {
      const empty = { kind: 'dots', title: field, x: axis('x'), y: axis('y'), groups: [], outlines: [] } as const;
      return spot.ok ? { ...empty, ...drawing(spot.value, unit) } : { ...empty, title: besideReason(field, 'no spot') };
    });
    return success({
      panels,
      compact: true,
      columns: panels.length,
      resolved: { box: half },
      missing: pictures.flatMap(({ field, spot }) => (spot.ok ? [] : [besideReason(field, spot.reason)])),
      about: [
        ...airyWords(drawn, unit),
        `box ±${Number(half.toPrecision(2))} ${unit}`,
        `about the ${settings.reference === 'chief' ? 'chief ray' : 'centroid'}`,
        `${settings.sampling} rays a colour`,
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});

/** What a picture shows of a spot, with its radius and, if some are lost, how many of the rays it is of. */
function drawing(
  { colours, rms, airy, launched, arrived }: SpotPicture,
  unit: string,
): Pick<DotPanel, 'groups' | 'outlines' | 'figures'> {
  return {
    groups: colours.map(({ nm, x, y }) => ({ name: wavelengthName(nm), tint: { nm }, x: [...x], y: [...y] })),
    outlines: airy ? [ring('Airy', airy)] : [],
    figures: [
      { name: 'RMS', value: rms, unit },
      ...(arrived < launched
        ? [{ name: 'of the rays', value: Math.round((100 * arrived) / launched), unit: '%' }]
        : []),
    ],
  };
}

/** Semi-axes of the Airy rings of all fields, as a range if they differ in the digits shown. */
function airyWords(drawn: readonly SpotPicture[], unit: string): string[] {
  const semis = drawn.flatMap(({ airy }) => airy ?? []);
  if (semis.length === 0) return [];
  const [least, most] = [Math.min(...semis), Math.max(...semis)].map((semi) => Number(semi.toPrecision(2)));
  return [`Airy ${least === most ? least : `${least}–${most}`} ${unit}`];
}

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
  const direction = focusDirection(model);
  const place = (rays: RayBlock, i: number) => {
    const [dx, dy] = drift(rays, i, direction);
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
