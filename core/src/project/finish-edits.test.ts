import { expect } from 'chai';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { applyEdits } from './edit.ts';
import { glassAirSurfaces, setSurfaceFinish, takeInFinish } from './finish-edits.ts';
import { quickProject } from './fixtures.ts';
import { readProject } from './read.ts';

const [single, broadband] = SHELF_FINISHES;
const project = quickProject([{ t: 3, n: 1.5 }, { t: 2, n: 1.7 }, { t: 10 }, { t: -5, n: 'mirror' }]);
const [lens] = project.lenses;

describe('finishes of surfaces', () => {
  it('belong to those between glass and air: not to a cemented one, a mirror or the image', () => {
    expect(glassAirSurfaces(project, lens)).to.deep.equal(['s1', 's3']);
  });

  it('are set with the record that they mean, in one step that can be taken back', () => {
    const gesture = setSurfaceFinish(project, lens, ['s1', 's3'], single);
    const { project: coated, inverse } = applyEdits(project, gesture.edits);
    expect(coated.finishes).to.deep.equal([single]);
    expect(coated.lenses[0].surfaces.map(({ finish }) => finish)).to.deep.equal([
      single.id,
      undefined,
      single.id,
      undefined,
      undefined,
    ]);
    expect(gesture.label).to.equal(`${single.name} on 2 surfaces`);
    expect(JSON.stringify(applyEdits(coated, inverse).project)).to.equal(JSON.stringify(project));
    const again = setSurfaceFinish(coated, coated.lenses[0], ['s1'], broadband);
    const both = applyEdits(coated, again.edits).project;
    expect(both.finishes).to.deep.equal([single, broadband]);
    const none = applyEdits(both, setSurfaceFinish(both, both.lenses[0], ['s1'], null).edits).project;
    expect(none.lenses[0].surfaces[0].finish).to.equal(undefined);
    expect(takeInFinish(both, broadband)).to.deep.equal([]);
  });

  it('are read from files, and refused with their place where they are no id', () => {
    const coated = applyEdits(project, setSurfaceFinish(project, lens, ['s1'], single).edits).project;
    const read = readProject(JSON.parse(JSON.stringify(coated)));
    expect(read.ok && read.project.lenses[0].surfaces[0].finish).to.equal(single.id);
    const wrong = JSON.parse(JSON.stringify(coated)) as { lenses: { surfaces: { finish?: unknown }[] }[] };
    wrong.lenses[0].surfaces[1].finish = 7;
    const refused = readProject(wrong);
    expect(refused.ok ? '' : refused.problems[0].place).to.match(/surfaces\.s2\.finish|surfaces\[1\]\.finish/);
  });
});
