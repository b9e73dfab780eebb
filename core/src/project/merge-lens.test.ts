import { expect } from 'chai';
import { applyEdits } from './edit.ts';
import { quickProject } from './fixtures.ts';
import { mergeLens } from './merge-lens.ts';
import type { Project } from './model.ts';
import { projectText, readProjectText } from './read.ts';
import { inState } from './states.ts';

const here = quickProject([
  { r: 60, t: 6, n: 1.52 },
  { r: -45, t: 40 },
]);
const at = (rest: string) => `lenses.lens.surfaces.${rest}`;

function incoming(): Project {
  const there = quickProject([
    { r: 30, t: 3, n: 1.52 },
    { r: -30, t: 5 },
    { r: 20, t: 2, n: 1.7 },
    { r: 80, t: 12 },
  ]);
  return {
    ...there,
    name: 'Relay',
    states: [
      {
        id: 'zoomed',
        name: 'Zoomed',
        overrides: [
          { id: 'o1', address: at('s2.thickness'), value: 9 },
          { id: 'o2', address: 'lenses.lens.object.distance', value: 100 },
          { id: 'o3', address: at('s3.material'), value: 'n1_52' },
        ],
      },
    ],
    parameters: {
      [at('s2.radius')]: { kind: 'linked', formula: '-1 * lenses.lens.surfaces.s1.radius' },
      [at('s3.radius')]: { kind: 'free', min: 10 },
      [at('s4.radius')]: {
        kind: 'derived',
        measure: 'effective_focal_length',
        of: 'lens',
        settings: {},
        equals: '50 mm',
      },
      'states.zoomed.lenses.lens.surfaces.s2.thickness': { kind: 'free' },
    },
  };
}

function merged(project = here, other = incoming()) {
  const made = mergeLens(project, 'lens', 's2', other);
  if (!made.ok) throw new Error(made.reason);
  return { ...made.value, project: applyEdits(project, made.value.edits).project };
}

describe('a lens taken in from another project', () => {
  it('stands behind a surface as a group, with ids and names of its own', () => {
    const { project, focus } = merged();
    const { surfaces } = project.lenses[0];
    expect(surfaces.map(({ id }) => id)).to.deep.equal(['s1', 's2', 's1_1', 's2_1', 's3', 's4', 'image']);
    expect(focus).to.equal('s1_1');
    expect(surfaces[2]).to.deep.include({ comment: 'from Relay', shape: { kind: 'sphere', radius: 30 } });
    expect(surfaces.at(-2)!.after!.thickness).to.equal(12);
    const names = surfaces.flatMap(({ after }) => (after?.name === undefined ? [] : [after.name]));
    expect(new Set(names).size).to.equal(names.length);
    expect(project.materials.map(({ id }) => id)).to.include.members(['n1_52', 'n1_7']);
    expect(project.lenses[0].aperture).to.equal(here.lenses[0].aperture);
    expect(readProjectText(projectText(project))).to.deep.include({ ok: true, project });
  });

  it('brings what its states, links and freedoms say of its surfaces, and says what stays behind', () => {
    const { project, left } = merged();
    const zoomed = inState(project, 'zoomed');
    if (!zoomed.ok) throw new Error(zoomed.reason);
    const surfaces = zoomed.value.lenses[0].surfaces;
    expect(surfaces[3].after!.thickness).to.equal(9);
    expect(surfaces[4].after!.material).to.equal('n1_52');
    expect(zoomed.value.lenses[0].object.distance).to.equal(here.lenses[0].object.distance);
    expect(project.parameters).to.deep.equal({
      [at('s2_1.radius')]: { kind: 'linked', formula: '-1 * lenses.lens.surfaces.s1_1.radius' },
      [at('s3.radius')]: { kind: 'free', min: 10 },
      'states.zoomed.lenses.lens.surfaces.s2_1.thickness': { kind: 'free' },
    });
    expect(left.join(' ')).to.match(/state Zoomed.*condition on s4 radius/);
  });

  it('joins states of the same name, and glasses of the same id only where they are the same', () => {
    const other = incoming();
    const stated: Project = {
      ...here,
      states: [{ id: 'wide', name: 'Zoomed', overrides: [{ id: 'o1', address: at('s1.thickness'), value: 5 }] }],
    };
    const { project } = merged(stated, other);
    expect(project.states!.map(({ id, overrides }) => [id, overrides.length])).to.deep.equal([['wide', 3]]);
    const renamed = {
      ...other,
      materials: other.materials.map((one) => (one.id === 'n1_52' ? { ...one, label: 'other' } : one)),
    };
    const mixed = merged(here, renamed).project;
    expect(mixed.lenses[0].surfaces[2].after!.material).to.equal('n1_52_2');
    expect(mixed.lenses[0].surfaces[0].after!.material).to.equal('n1_52');
  });

  it('is refused in glass, behind the image, and where there is none', () => {
    expect(mergeLens(here, 'lens', 's1', incoming()))
      .to.have.property('reason')
      .that.matches(/Glass lies after/);
    expect(mergeLens(here, 'lens', 'image', incoming())).to.have.property('ok', false);
    expect(mergeLens(here, 'lens', 's2', { ...incoming(), lenses: [] })).to.have.property(
      'reason',
      '“Relay” has no lens to insert.',
    );
  });
});
