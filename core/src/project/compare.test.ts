import { expect } from 'chai';
import { compareProjects } from './compare.ts';
import { applyEdits } from './edit.ts';
import { quickProject } from './fixtures.ts';
import { insertSurface, removeSurface } from './lens-edits.ts';

const project = quickProject([
  { r: 60, t: 6, n: 1.52 },
  { r: -45, t: 2.5, n: 1.65 },
  { r: -160, t: 80 },
]);
const at = (rest: string) => `lenses.lens.surfaces.${rest}`;

describe('two versions of a project', () => {
  it('that are the same do not differ', () => {
    expect(compareProjects(project, project)).to.deep.equal([]);
    expect(compareProjects(project, structuredClone(project))).to.deep.equal([]);
  });

  it('differ by the numbers that were changed, with both values', () => {
    const { project: after } = applyEdits(project, [
      { kind: 'set', path: at('s1.shape.radius'), value: 'infinity' },
      { kind: 'set', path: at('s2.after.thickness'), value: 3 },
      { kind: 'set', path: 'surroundings', value: { temperature: 40 } },
    ]);
    expect(compareProjects(project, after)).to.deep.equal([
      { at: at('s1.radius'), before: 60, after: Infinity, unit: 'mm' },
      { at: at('s2.thickness'), before: 2.5, after: 3, unit: 'mm' },
      { at: 'surroundings.temperature', before: 20, after: 40, unit: '°C' },
    ]);
  });

  it('differ by surfaces that came and went, named once and not number by number', () => {
    const gone = removeSurface(project.lenses[0], 's2');
    const without = applyEdits(project, gone.ok ? gone.value.edits : []).project;
    const differences = compareProjects(project, without);
    expect(differences[0]).to.deep.equal({ at: at('s2'), before: 'Surface 2', after: null, unit: '' });
    expect(differences.some(({ at: place }) => place.startsWith(at('s2.')))).to.equal(false);
    const more = applyEdits(project, insertSurface(project.lenses[0], 's3').edits).project;
    expect(compareProjects(project, more)[0]).to.deep.include({ before: null });
    expect(compareProjects(more, project)[0]).to.deep.include({ after: null });
  });

  it('differ by media, shapes and what is set otherwise', () => {
    const { project: after } = applyEdits(project, [
      { kind: 'set', path: at('s1.after.material'), value: 'air' },
      { kind: 'set', path: at('s3.shape'), value: { kind: 'conic', radius: -160, conic: -1 } },
      { kind: 'set', path: 'lenses.lens.aperture', value: { kind: 'image_f_number', value: 10 } },
      { kind: 'move', list: 'lenses.lens.surfaces', id: 's1', after: 's2' },
    ]);
    const places = compareProjects(project, after).map(({ at: place }) => place);
    expect(places).to.include.members([
      at('s1.material'),
      at('s3.shape'),
      at('s3.conic'),
      'lenses.lens.aperture',
      'lenses.lens.surfaces',
    ]);
  });
});
