import { expect } from 'chai';
import { applyEdit } from '../../project/edit.ts';
import { quickProject, type Quick } from '../../project/fixtures.ts';
import type { Project, Surface } from '../../project/model.ts';
import { focusOf, refocus } from './refocus.ts';

const SINGLET: readonly Quick[] = [
  { r: 60, t: 4, n: 1.52 },
  { r: -60, t: 55 },
];

/** A lens with a field to either side, before an image that is tilted about x, by degrees. */
function tilted(tx: number): Project {
  const points = [-4, 0, 4].map((y, k) => ({ id: `f${k}`, x: 0, y, weight: 1 }));
  const project = quickProject(SINGLET, {
    fields: { kind: 'angle', points },
    aperture: { kind: 'entrance_pupil_diameter', value: 8 },
  });
  const [lens] = project.lenses;
  const surfaces = lens.surfaces.map((one, j): Surface =>
    j === lens.surfaces.length - 1 ? { ...one, frame: { tx } } : one,
  );
  return { ...project, lenses: [{ ...lens, surfaces }] };
}

describe('a refocus', () => {
  for (const tilt of [0, 5, 30])
    for (const criterion of ['centroid', 'chief'] as const)
      it(`finds the focus before a flat image tilted by ${tilt}° in one step, ${criterion}`, () => {
        const project = tilted(tilt);
        const found = focusOf(project, 'lens', criterion);
        if (!found.ok) throw new Error(found.reason);
        expect(Math.abs(found.value.shift)).to.be.above(0.01);
        const again = focusOf(applyEdit(project, found.value.edit).project, 'lens', criterion);
        if (!again.ok) throw new Error(again.reason);
        expect(Math.abs(again.value.shift)).to.be.below(1e-9);
        const whole = refocus(project, 'lens', criterion);
        expect(whole.ok && whole.value.shift).to.be.closeTo(found.value.shift, 1e-9);
      });
});
