import { failure, success } from '../math/outcome.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { defineOperation } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';
import { turnedRun, turnedStates } from './turned-run.ts';

export const flip = defineOperation({
  id: 'flip',
  title: OPERATION_TITLES.flip,
  meaning:
    'Turns a run of surfaces end for end, such as an element or a group: their order and their bends ' +
    'change sides, glass and thicknesses go along. What lies around stays where it is.',
  on: 'run',
  settings: {},
  run({ project, lens, first, last }) {
    if (last >= lens.surfaces.length - 1)
      return failure('The image surface stays at the end: choose surfaces before it.');
    if (first === last) return failure('Choose at least two surfaces: those of an element, or of a group.');
    const before = first > 0 ? lens.surfaces[first - 1].after!.material : 'air';
    const behind = lens.surfaces[last].after!.material;
    if (before !== behind)
      return failure('In front of the run and behind it there are different media: choose whole elements.');
    const turned = turnedRun(lens, first, last);
    if (!turned.ok) return turned;
    const surfaces = lens.surfaces.toSpliced(first, last - first + 1, ...turned.value);
    const states = turnedStates(project, lens, first, last);
    const titles = [first, last].map((index) => surfaceTitle(lens, index));
    return success({
      edits: [
        { kind: 'set', path: `lenses.${lens.id}.surfaces`, value: surfaces },
        ...(states ? [{ kind: 'set' as const, path: 'parameters', value: states }] : []),
      ],
      label: `Flip ${titles.join(' to ')}`,
      notes: [`${last - first + 1} surfaces turned, from ${titles.join(' to ')}`],
    });
  },
});
