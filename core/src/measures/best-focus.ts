import { bestFocus, FOCUS_CRITERIA, type FocusBy } from '../imaging/point/best-focus.ts';
import { success } from '../math/outcome.ts';
import { defineMeasure } from './measure.ts';

export const bestFocusMeasure = defineMeasure({
  id: 'best_focus',
  title: 'Way to the best focus',
  unit: 'mm',
  precision: 1e-6,
  meaning:
    'How far along the axis the image surface would have to move for the smallest RMS spot, or the ' +
    'highest mean MTF at a frequency (tangential and sagittal, primary wavelength, full pupil), over all ' +
    'weighted fields; 0 where it stands best.',
  settings: {
    by: { kind: 'choice', title: 'By', options: FOCUS_CRITERIA, fallback: FOCUS_CRITERIA[0] },
    frequency: {
      kind: 'number',
      title: 'Cycles per mm',
      unit: '/mm',
      min: 1e-3,
      max: 1e5,
      fallback: 50,
      when: { setting: 'by', is: ['MTF'] },
    },
  },
  evaluate(lens, { by, frequency }) {
    const found = bestFocus(lens, by as FocusBy, frequency);
    return found.ok ? success({ value: found.value }) : found;
  },
});
