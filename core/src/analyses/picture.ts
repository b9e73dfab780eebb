import { simulatePicture, type Picture } from '../imaging/point/picture.ts';
import { PICTURE_MOST, pictureTarget, TARGETS, type TargetKind } from '../imaging/point/picture-targets.ts';
import { success } from '../math/outcome.ts';
import { COLOURS, defineAnalysis, fieldsOf, PUPIL, pupilWords, waveOf, waveWords } from './analysis.ts';
import type { PicturePanel } from './panels.ts';

const BLURS = ['automatic', 'rays', 'none'] as const;

/** Cells along a side of a picture around one field, and of the whole field; places at which points are imaged. */
const FINENESS = {
  draft: { part: 64, whole: 64, places: { part: 2, whole: 3 } },
  full: { part: 256, whole: 384, places: { part: 3, whole: 5 } },
} as const;

export const pictureSimulation = defineAnalysis({
  id: 'picture',
  inAngle: true,
  title: 'Picture of a target',
  topic: 'image',
  question: 'What would a picture look like?',
  meaning:
    'A target as the lens renders it: each colour where its chief rays go (distortion and lateral ' +
    'colour), spread by its own point spread function, which changes over the picture, and as bright as ' +
    'the relative illumination says. Shown as it lies on the image surface, x to the right and y up, with ' +
    'tones of a screen (sRGB). Bars, grids and dots have so many periods over the square, the star so ' +
    'many spokes.',
  settings: {
    target: { kind: 'choice', title: 'Target', options: TARGETS, fallback: 'text' },
    text: {
      kind: 'text',
      title: 'Text',
      most: 60,
      of: 'words',
      fallback: 'MERROW|SKERRY',
      when: { setting: 'target', is: ['text'] },
    },
    periods: {
      kind: 'number',
      title: 'Periods',
      unit: '',
      min: 0.5,
      max: 500,
      fallback: 12,
      when: { setting: 'target', is: ['bars', 'grid', 'star', 'dots'] },
    },
    picture: {
      kind: 'text',
      title: 'Picture',
      most: 4 * PICTURE_MOST * PICTURE_MOST + 10,
      of: 'picture',
      fallback: '',
      when: { setting: 'target', is: ['picture'] },
    },
    field: { kind: 'field', title: 'Around', also: ['whole', 'widest'], fallback: 'widest' },
    width: { kind: 'number', title: 'Width', unit: 'mm', min: 0.001, max: 1000, fallback: 0.3 },
    blur: { kind: 'choice', title: 'Spread', options: BLURS, fallback: 'automatic' },
    colour: COLOURS,
    pupil: PUPIL,
  },
  *evaluate(lens, settings, detail) {
    const target = pictureTarget({
      kind: settings.target as TargetKind,
      periods: settings.periods,
      text: settings.text,
      picture: settings.picture,
    });
    if (!target.ok) return target;
    const whole = settings.field === 'whole';
    const fields = whole ? success([]) : fieldsOf(lens, settings.field);
    if (!fields.ok) return fields;
    const wave = waveOf(lens, settings.colour);
    if (!wave.ok) return wave;
    const { model } = lens;
    const waves =
      wave.value !== undefined
        ? [wave.value]
        : [...model.wavelengths.keys()].filter((k) => model.wavelengths[k].weight > 0);
    const { places, ...cells } = FINENESS[detail];
    const found = yield* simulatePicture(lens, target.value, {
      field: fields.value[0] ?? null,
      width: settings.width,
      cells: whole ? cells.whole : cells.part,
      places: whole ? places.whole : places.part,
      blur: settings.blur as (typeof BLURS)[number],
      pupil: settings.pupil as 'full' | 'clipped',
      detail,
      waves,
    });
    if (!found.ok) return found;
    const { centre, half, rgb, residual, blurs } = found.value;
    const axis = (title: string, middle: number) => ({
      title,
      unit: 'mm',
      range: [middle - half, middle + half] as const,
    });
    let light = 0;
    for (let i = 1; i < rgb.length; i += 3) light += rgb[i];
    const panel: PicturePanel = {
      kind: 'picture',
      title: whole ? 'whole field' : fields.value[0].id,
      columns: found.value.cells,
      rows: found.value.cells,
      rgb,
      x: axis('x', centre[0]),
      y: axis('y', centre[1]),
      figures: [{ name: 'mean light', value: (3 * light) / rgb.length, unit: '' }],
    };
    return success({
      panels: [panel],
      about: [
        `${found.value.cells} × ${found.value.cells} cells of ${Number(((2000 * half) / found.value.cells).toPrecision(3))} µm`,
        ...spreadWords(blurs),
        waveWords(lens, wave.value),
        ...(residual > 0.02 ? [`geometry to ${Number(residual.toPrecision(1))} cells`] : []),
        ...pupilWords(lens, settings.pupil),
      ],
    });
  },
});

/** How the points of a picture were spread, in words. */
function spreadWords({ diffraction, rays, none, lost }: Picture['blurs']): string[] {
  const words: string[] = [];
  if (diffraction > 0) words.push(`spread by diffraction at ${diffraction} places`);
  if (rays > 0)
    words.push(
      diffraction > 0 ? `by rays at ${rays}, where diffraction no longer shapes it` : `by rays at ${rays} places`,
    );
  if (none > 0) words.push('not spread');
  if (lost > 0.02)
    words.push(`up to ${Math.round(100 * lost)} % of a point’s light falls beyond the picture: make it wider`);
  return words;
}
