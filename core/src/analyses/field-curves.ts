import { wavelengthName } from '../light/spectral-lines.ts';
import { fieldCurves } from '../imaging/field/field-curves.ts';
import { IMAGE_LAWS, type ImageLaw } from '../imaging/field/image-point.ts';
import { IMAGE_SCALES, type ImageScale } from '../imaging/field/image-scale.ts';
import { success } from '../math/outcome.ts';
import { defineAnalysis } from './analysis.ts';
import type { Axis, Curve, CurvePanel } from './panels.ts';

const SCALE_WORDS: Readonly<Record<ImageScale, string>> = {
  'image surface': 'the scale of the image surface',
  'paraxial image': 'the scale of the paraxial image',
  calibrated: 'the scale of least largest error',
};

export const fieldCurveCharts = defineAnalysis({
  id: 'field_curves',
  title: 'Field curves',
  topic: 'field',
  question: 'How does it change over the field?',
  meaning:
    'Tangential and sagittal foci of narrow bundles by colour, distortion and relative illumination, from the axis ' +
    'to the largest field. Foci are measured from the image surface, along its axis.',
  wide: true,
  settings: {
    law: { kind: 'choice', title: 'Distortion about', options: IMAGE_LAWS, fallback: IMAGE_LAWS[0] },
    scale: { kind: 'choice', title: 'To the scale of', options: IMAGE_SCALES, fallback: IMAGE_SCALES[0] },
  },
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const [law, scale] = [settings.law as ImageLaw, settings.scale as ImageScale];
    const found = fieldCurves(lens, { law, scale });
    if (!found.ok) return found;
    const { share, largest, unit, foci, distortion, illumination, vignetted } = found.value;
    const y = share.map((part) => part * largest);
    const field: Axis = { title: 'field', unit, range: [0, largest] };
    const panel = (title: string, x: Axis, curves: readonly Omit<Curve, 'y'>[]): CurvePanel => ({
      kind: 'curves',
      title,
      x,
      y: field,
      curves: curves.map((curve) => ({ ...curve, y })),
    });
    const panels = [
      panel(
        'focus',
        { title: 'focus', unit: 'mm', centred: true },
        foci.flatMap(({ nm, tangential, sagittal }) => [
          { name: `${wavelengthName(nm)} tangential`, tint: { nm }, x: tangential },
          { name: `${wavelengthName(nm)} sagittal`, tint: { nm }, stroke: 'dashed' as const, x: sagittal },
        ]),
      ),
      panel('distortion', { title: 'distortion', unit: '%', centred: true }, [
        { name: 'distortion', tint: 'ink', x: distortion },
      ]),
      panel('illumination', { title: 'illumination', unit: '', range: [0, 1] }, [
        { name: 'whole pupil', tint: 'ink', x: illumination },
        { name: 'through set apertures', tint: 'limit', stroke: 'dotted', x: vignetted },
      ]),
    ];
    return success({
      panels,
      columns: 3,
      about: [
        'tangential full, sagittal dashed, each colour',
        `distortion about ${unit === '°' ? `${law}, ` : ''}${SCALE_WORDS[scale]}`,
        'illumination of the whole pupil, dotted through set apertures',
        `field to ${Number(largest.toPrecision(5))} ${unit}`,
        lens.model.lens.pupil.aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil',
      ],
    });
  },
});
