import { surfaceTitle, wavelengthLabel, type Lens } from '@ulvex/core';
import { fieldLabel } from './labels.ts';

/** What fields are called on screen, by id. */
export function fieldLabels(lens: Lens | null): ReadonlyMap<string, string> {
  return new Map((lens?.fields.points ?? []).map((point) => [point.id, fieldLabel(lens!.fields.kind, point)]));
}

/** What surfaces are called on screen, by id. */
export function surfaceLabels(lens: Lens | null): ReadonlyMap<string, string> {
  return new Map((lens?.surfaces ?? []).map(({ id }, index) => [id, surfaceTitle(lens!, index)]));
}

/** The weighted wavelengths of a lens in a few letters, such as `F d C`. */
export function waveWords(lens: Lens | null): string {
  return (lens?.wavelengths ?? [])
    .filter((wave) => wave.weight > 0)
    .map((wave) => wavelengthLabel(wave.nm))
    .join(' ');
}

/** How rays are aimed and clipped, in the words of every tile. */
export function rayWords(aim: 'paraxial' | 'stop' | undefined, pupil: 'clipped' | 'full'): string[] {
  return [
    aim === 'stop' ? 'aimed at the stop' : 'aimed at the entrance pupil',
    pupil === 'full' ? 'full pupil' : 'clipped by set apertures',
  ];
}
