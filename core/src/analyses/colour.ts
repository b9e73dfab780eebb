import { wavelengthName } from '../light/spectral-lines.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { fieldLine } from '../imaging/field/field-line.ts';
import { isAfocal } from '../imaging/evaluation/image-space.ts';
import { airyRing } from '../imaging/wavefront/image-cone.ts';
import { RAY_STATUS } from '../compute/ray-block.ts';
import { failure, success } from '../math/outcome.ts';
import { traceBundle } from '../sequence/bundle.ts';
import { defineAnalysis, pupilWords } from './analysis.ts';
import type { Curve, CurvePanel } from './panels.ts';
import { spectrumLine } from './quality.ts';

const weighted = ({ model }: LensEvaluation) =>
  [...model.wavelengths.keys()].filter((w) => model.wavelengths[w].weight > 0 || w === model.primary);

export const lateralColour = defineAnalysis({
  id: 'lateral_colour',
  inAngle: true,
  title: 'Lateral colour',
  topic: 'field',
  question: 'Do the colours part at the edge?',
  meaning:
    'How much further from the axis the chief ray of a colour meets the image than that of the primary ' +
    'one, over the field, along its direction. Dotted: the Airy radius.',
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens) {
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: compare angles in the ray fans.');
    const line = fieldLine(lens, 24);
    if (!line.ok) return line;
    const { fields, at, unit } = line.value;
    const { model } = lens;
    const height = (k: number, wave: number): readonly [number, number] | null => {
      const chief = lens.chief(fields[k], wave);
      return chief.ok && chief.value.status[0] === RAY_STATUS.alive ? [chief.value.x[0], chief.value.y[0]] : null;
    };
    const far = height(fields.length - 1, model.primary) ?? [0, 1];
    const size = Math.hypot(...far) || 1;
    const curves = weighted(lens).map((wave): Curve => ({
      name: wavelengthName(model.wavelengths[wave].nm),
      tint: { nm: model.wavelengths[wave].nm },
      x: at,
      y: fields.map((_, k) => {
        const [own, primary] = [height(k, wave), height(k, model.primary)];
        return own && primary ? (1000 * ((own[0] - primary[0]) * far[0] + (own[1] - primary[1]) * far[1])) / size : NaN;
      }),
    }));
    if (curves.every(({ y }) => y.every(Number.isNaN))) return failure('No chief ray reaches the image.');
    // Of each field's own cone, along the direction in which the field lies.
    const airy = fields.map((field) => {
      const ring = airyRing(lens, field);
      return ring ? 1 / Math.hypot(far[0] / size / ring[0], far[1] / size / ring[1]) : NaN;
    });
    const limits = [1, -1].map((sign): Curve => ({
      name: 'Airy radius',
      tint: 'limit',
      stroke: 'dotted',
      x: at,
      y: airy.map((value) => sign * value),
    }));
    const spread = at.map(
      (_, k) => Math.max(...curves.map(({ y }) => y[k])) - Math.min(...curves.map(({ y }) => y[k])),
    );
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'field', unit, range: [0, at.at(-1)!] },
      y: { title: 'beyond the primary', unit: 'µm', centred: true },
      curves: [...limits, ...curves],
      figures: [{ name: 'widest', value: spread.reduce((a, b) => Math.max(a, b), 0), unit: 'µm' }],
    };
    return success({
      panels: [panel],
      about: [
        `beyond the chief ray of ${wavelengthName(model.wavelengths[model.primary].nm)}`,
        pupilWords(lens, 'full')[1],
      ],
    });
  },
});

export const focalShift = defineAnalysis({
  id: 'focal_shift',
  title: 'Axial colour',
  topic: 'field',
  question: 'Do the colours come to one focus?',
  meaning:
    'Place of the paraxial image by wavelength, from that of the primary one along the axis; and where ' +
    'rays of a zone of the pupil cross the axis (0.7 of its radius). Dotted: the depth of focus, ±2λN² ' +
    'about the primary.',
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens) {
    const spectrum = spectrumLine(lens, 24);
    if (!spectrum.ok) return spectrum;
    const { nms, coloured } = spectrum.value;
    const primary = coloured.firstOrder(0);
    if (!primary.ok) return primary;
    const { imageDistance, workingFNumber } = primary.value;
    if (!Number.isFinite(imageDistance))
      return failure('The image lies at infinity: its colours part in angle, see the ray fans.');
    const places = nms.map((_, k) => {
      const one = coloured.firstOrder(k + 1);
      return one.ok ? one.value.imageDistance - imageDistance : NaN;
    });
    const gap = lens.model.surfaces.at(-2)!.gap;
    const zone = nms.map((_, k) => {
      const cross = crossings(coloured, k + 1, Float64Array.of(Math.SQRT1_2));
      return cross ? cross[0] + gap - imageDistance : NaN;
    });
    const { nm } = lens.model.wavelengths[lens.model.primary];
    const depth = 2 * nm * 1e-6 * workingFNumber ** 2;
    const ends = [nms[0], nms.at(-1)!];
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'wavelength', unit: 'nm' },
      y: { title: 'focus from the primary one', unit: 'mm', centred: true },
      curves: [
        ...[depth, -depth].map((value): Curve => ({
          name: 'depth of focus',
          tint: 'limit',
          stroke: 'dotted',
          x: ends,
          y: [value, value],
        })),
        { name: 'paraxial', tint: 'ink', x: nms, y: places },
        { name: 'zone 0.7', tint: 'ink', stroke: 'dashed', x: nms, y: zone },
      ],
      figures: [{ name: 'paraxial, from first to last', value: Math.max(...places) - Math.min(...places), unit: 'mm' }],
    };
    return success({
      panels: [panel],
      about: ['paraxial full, zone 0.7 dashed', `from the focus of ${wavelengthName(nm)}`],
    });
  },
});

/**
 * Where rays of the axial field cross the axis, mm along z from the image surface, by their height in the pupil; null
 * where there is no such field.
 */
function crossings(lens: LensEvaluation, wave: number, heights: Float64Array): Float64Array | null {
  const aimer = lens.aimer();
  if (!aimer.ok) return null;
  const axis = { id: 'axis', x: 0, y: 0, weight: 1 };
  const rays = traceBundle(
    aimer.value,
    { field: axis, wave, px: new Float64Array(heights.length), py: heights },
    { clip: false },
  );
  return heights.map((_, i) =>
    rays.status[i] === RAY_STATUS.alive ? rays.z[i] - (rays.y[i] * rays.n[i]) / rays.m[i] : NaN,
  );
}

export const longitudinal = defineAnalysis({
  id: 'longitudinal',
  title: 'Longitudinal aberration',
  topic: 'rays',
  question: 'Where do the zones of the pupil focus?',
  meaning:
    'Where rays of the axial point cross the axis, from the image surface along z, by their height in the ' +
    'pupil, in each colour. Negative: before the image surface.',
  settings: {},
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens) {
    if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: its rays cross no axis.');
    const { model } = lens;
    const inner = Math.max(0.02, model.lens.pupil.obscuration);
    const heights = Float64Array.from({ length: 33 }, (_, k) => inner + ((1 - inner) * k) / 32);
    const curves: Curve[] = [];
    for (const wave of weighted(lens)) {
      const cross = crossings(lens, wave, heights);
      if (!cross) return failure('No ray can be launched from the axis.');
      curves.push({
        name: wavelengthName(model.wavelengths[wave].nm),
        tint: { nm: model.wavelengths[wave].nm },
        x: [...cross],
        y: [...heights],
      });
    }
    const panel: CurvePanel = {
      kind: 'curves',
      title: '',
      x: { title: 'from the image', unit: 'mm', centred: true },
      y: { title: 'height in the pupil', unit: '', range: [0, 1] },
      curves,
    };
    return success({ panels: [panel], about: ['axial field, upper half of the pupil', ...pupilWords(lens, 'full')] });
  },
});
