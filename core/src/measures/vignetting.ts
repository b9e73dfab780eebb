import { clearShare, pupilLimit } from '../imaging/evaluation/vignetting.ts';
import { success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

const FIELD = { kind: 'field', title: 'Field', also: [], fallback: null } as const;

export const clearPupil = defineMeasure({
  id: 'clear_pupil',
  title: 'Clear part of the pupil',
  unit: '%',
  meaning:
    'Share of the unvignetted pupil’s area through which rays of the primary wavelength arrive at the ' +
    'image; what set apertures and obscurations leave of it.',
  settings: { field: FIELD, arms: { kind: 'integer', title: 'Directions', min: 8, max: 720, fallback: 180 } },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const share = clearShare(lens, field.value, settings.arms);
    return share.ok ? success({ value: share.value * 100, how: `along ${settings.arms} directions` }) : share;
  },
});

const SIDES = { top: Math.PI / 2, bottom: -Math.PI / 2, right: 0, left: Math.PI } as const;

export const vignettingLimit = defineMeasure({
  id: 'vignetting_limit',
  title: 'Vignetting limit',
  unit: '',
  meaning:
    'How far out in the unvignetted pupil rays of the primary wavelength still arrive, in radii of the ' +
    'pupil: 1 where nothing is cut. Top is +py, right +px.',
  settings: {
    field: FIELD,
    side: { kind: 'choice', title: 'Side', options: ['top', 'bottom', 'right', 'left'], fallback: 'top' },
  },
  evaluate(lens, settings) {
    const field = lens.field(settings.field);
    if (!field.ok) return field;
    const limit = pupilLimit(lens, field.value, SIDES[settings.side as keyof typeof SIDES]);
    return limit.ok ? success({ value: limit.value }) : limit;
  },
});
