import { expect } from 'chai';
import { applyEdits } from '../project/edit.ts';
import { toggleExcluded, withoutExcluded } from '../project/excluded.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { projectText, readProjectText } from '../project/read.ts';
import { compileLens } from './lens-model.ts';
import { firstOrder } from './paraxial.ts';

/** A cemented pair and a singlet behind it. */
const whole = quickProject([
  { r: 60, t: 6, n: 1.52 },
  { r: -45, t: 2.5, n: 1.65 },
  { r: -160, t: 1 },
  { r: 90, t: 3, n: 1.6 },
  { r: 140, t: 80 },
]);

const out = (project: Project, ...ids: string[]) =>
  ids.reduce((now, id) => applyEdits(now, toggleExcluded(now.lenses[0], id).edits).project, project);
function focal(project: Project): number {
  const found = firstOrder(compileLens(project, project.lenses[0]), 0);
  if (!found.ok) throw new Error(found.reason);
  return found.value.focalLength;
}

describe('an element that is left out', () => {
  it('bends nothing: the lens has the power of the others, at their places', () => {
    const alone = quickProject([
      { r: 60, t: 6, n: 1.52 },
      { r: -45, t: 2.5, n: 1.65 },
      { r: -160, t: 84 },
    ]);
    expect(focal(out(whole, 's4'))).to.be.closeTo(focal(alone), 1e-12 * focal(alone));
    const crown = quickProject([
      { r: 60, t: 6, n: 1.52 },
      { r: -45, t: 3.5 },
      { r: 90, t: 3, n: 1.6 },
      { r: 140, t: 80 },
    ]);
    expect(focal(out(whole, 's2'))).to.be.closeTo(focal(crown), 1e-12 * focal(crown));
    expect(focal(out(whole, 's1', 's2', 's4'))).to.equal(Infinity);
  });

  it('is there again as it was, and stays in the file', () => {
    const without = out(whole, 's1');
    expect(readProjectText(projectText(without))).to.deep.include({ ok: true, project: without });
    expect(out(without, 's1')).to.deep.equal(whole);
    expect(withoutExcluded(whole, whole.lenses[0])).to.equal(whole.lenses[0]);
  });

  it('diffracts nothing either', () => {
    const phase = { kind: 'grating', lines: 300, order: 1, angle: 0 } as never;
    const grated = applyEdits(whole, [{ kind: 'set', path: 'lenses.lens.surfaces.s4.phase', value: phase }]).project;
    const { surfaces } = withoutExcluded(grated, out(grated, 's4').lenses[0]);
    expect(surfaces[3]).not.to.have.property('phase');
    expect(withoutExcluded(grated, out(grated, 's1').lenses[0]).surfaces[3]).to.have.property('phase');
  });
});
