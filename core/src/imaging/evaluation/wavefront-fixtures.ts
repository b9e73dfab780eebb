import { quickProject } from '../../project/fixtures.ts';
import type { Project } from '../../project/model.ts';
import { Evaluation } from './evaluation.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

type Quick = Parameters<typeof quickProject>[0][number];

/** A lens of two elements with a stop in front. */
export const TWO_ELEMENTS: readonly Quick[] = [
  { r: 30, t: 4, n: 1.6 },
  { r: -80, t: 3 },
  { r: -40, t: 2, n: 1.7 },
  { r: -120, t: 55 },
];

/**
 * For tests: surfaces of one colour (587.6 nm) looking at infinity, the stop on the first; `focused` puts the image
 * into the paraxial one. `ideal` makes it one ideal lens of that focal length.
 */
export function evaluationOf(
  surfaces: readonly Quick[],
  {
    pupil,
    field,
    ideal,
    obscuration = 0,
    focused = false,
  }: { pupil: number; field: number; ideal?: number; obscuration?: number; focused?: boolean },
): LensEvaluation {
  const list: readonly Quick[] =
    ideal === undefined
      ? surfaces
      : [{ t: ideal, shape: { kind: 'ideal_lens', focal_length: ideal, object: 'infinity' } as never }];
  const build = (given: readonly Quick[]) =>
    evaluated(
      quickProject(given, {
        aperture: { kind: 'entrance_pupil_diameter', value: pupil },
        fields: {
          kind: 'angle',
          points: [
            { id: 'axis', x: 0, y: 0, weight: 1 },
            { id: 'edge', x: 0, y: field, weight: 1 },
          ],
        },
        wavelengths: [{ id: 'd', nm: 587.5618, weight: 1 }],
        primary: 'd',
        pupil: { aim: 'stop', obscuration },
      }),
    );
  const lens = build(list);
  if (!focused) return lens;
  const primary = lens.primary();
  if (!primary.ok) throw new Error(primary.reason);
  return build(list.with(-1, { ...list.at(-1)!, t: primary.value.imageDistance }));
}

function evaluated(project: Project): LensEvaluation {
  const lens = new Evaluation(project).lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}
