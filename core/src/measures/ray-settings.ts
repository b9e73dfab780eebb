import type { LensEvaluation, RayChoice } from '../imaging/evaluation/lens-evaluation.ts';
import { samplingLabel } from '../sequence/pupil-sampling.ts';
import type { SettingSpecs, SettingValues } from './measure.ts';

/** Settings of every measure that is made of a bundle of rays. */
export const RAY_SETTINGS = {
  pupil: { kind: 'choice', title: 'Pupil', options: ['clipped', 'full'], fallback: 'clipped' },
  rings: { kind: 'integer', title: 'Rings', min: 1, max: 100, fallback: 12 },
  arms: { kind: 'integer', title: 'Arms', min: 2, max: 200, fallback: 24 },
} as const satisfies SettingSpecs;

export function rayChoice(settings: SettingValues<typeof RAY_SETTINGS>): RayChoice {
  return {
    sampling: { kind: 'polar', rings: settings.rings, arms: settings.arms },
    pupil: settings.pupil === 'full' ? 'full' : 'clipped',
  };
}

/** How a choice of rays is told on screen: sampling, pupil, aim. */
export function choiceLabel(lens: LensEvaluation, choice: RayChoice): string {
  const aim =
    (choice.aim ?? lens.model.lens.pupil.aim) === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil';
  const pupil = choice.pupil === 'full' ? 'full pupil' : 'clipped by set apertures';
  return `${samplingLabel(choice.sampling)}, ${pupil}, ${aim}`;
}
