import { wavelengthName } from '../light/spectral-lines.ts';
import { opdFans } from '../imaging/wavefront/opd-fan.ts';
import { rayFans, type RayFans } from '../imaging/field/ray-fan.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { SettingValues } from '../measures/measure.ts';
import { CLIPPED, defineAnalysis, pupilWords, withoutNulls, type Analysed } from './analysis.ts';
import { besideReason, roundScale } from './compact.ts';
import type { CurvePanel } from './panels.ts';

/** Rays on each fan. */
const RAYS = 41;

const SETTINGS = {
  direction: { kind: 'choice', title: 'Fans', options: ['both', 'tangential', 'sagittal'], fallback: 'both' },
  pupil: CLIPPED,
  scale: { kind: 'number', title: 'Scale ±', unit: '', min: 0, max: 1e6, fallback: 0, word: 'scale' },
} as const;

const DIRECTIONS = ['tangential', 'sagittal'] as const;

/** Charts of all fields to one scale: a column for each field, a row for each direction. */
function pictured(
  lens: LensEvaluation,
  found: Outcome<RayFans>,
  { direction, pupil, scale: asked }: SettingValues<typeof SETTINGS>,
  about: string,
): Outcome<Analysed> {
  if (!found.ok) return found;
  const { fields, unit, largest } = found.value;
  const scale = asked || roundScale(largest, unit === 'mrad' ? 1e-4 : 0.01, 5);
  const rows = DIRECTIONS.filter((one) => direction === 'both' || direction === one);
  const panels = rows.flatMap((row) =>
    fields.map(({ field, fans }): CurvePanel => ({
      kind: 'curves',
      title: fans.ok ? `${field} ${row}` : besideReason(field, `${row}: no chief ray`),
      x: { title: 'pupil', unit: '', range: [-1, 1] },
      y: { title: 'error', unit, range: [-scale, scale] },
      curves: fans.ok
        ? fans.value[row].map(({ nm, pupil: x, error }) => ({
            name: wavelengthName(nm),
            tint: { nm },
            x: [...x],
            y: [...error],
          }))
        : [],
    })),
  );
  return success({
    panels,
    compact: true,
    columns: fields.length,
    resolved: { scale },
    missing: fields.flatMap(({ field, fans }) => (fans.ok ? [] : [besideReason(field, fans.reason)])),
    about: [
      rows.join(' and '),
      `±${Number(scale.toPrecision(2))} ${unit} ${about}`,
      'pupil −1 to 1 across',
      `${RAYS} rays`,
      ...pupilWords(lens, pupil),
    ],
  });
}

const choice = (pupil: string) => ({ rays: RAYS, pupil: pupil === 'full' ? 'full' : 'clipped' }) as const;

export const rayFanCharts = defineAnalysis({
  id: 'ray_fans',
  title: 'Ray fans',
  topic: 'rays',
  question: 'Which aberration is it?',
  meaning:
    'How far rays arrive from the chief ray of the primary colour, against where they pass the pupil: along y on ' +
    'the tangential fan, along x on the sagittal one, in µm or for an afocal lens in mrad. Scale 0: what holds all ' +
    'rays.',
  wide: true,
  settings: SETTINGS,
  older: withoutNulls,
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    return pictured(lens, rayFans(lens, choice(settings.pupil)), settings, 'about the primary chief ray');
  },
});

export const wavefrontFans = defineAnalysis({
  id: 'opd_fans',
  title: 'Wavefront fans',
  topic: 'wavefront',
  question: 'How far is it from perfect, in waves?',
  meaning:
    'Optical path difference against the place in the pupil, in waves of each colour, each about its own chief ' +
    'ray. Positive: the wavefront leads. Scale 0: what holds all rays.',
  wide: true,
  settings: SETTINGS,
  older: withoutNulls,
  exact: true,
  // eslint-disable-next-line require-yield -- a few milliseconds
  *evaluate(lens, settings) {
    const about = 'about the chief ray of each colour, leading is positive';
    return pictured(lens, opdFans(lens, choice(settings.pupil)), settings, about);
  },
});
