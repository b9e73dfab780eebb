import { expect } from 'chai';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { applyEdits } from './edit.ts';
import {
  addFinish,
  addLayer,
  glassAirSurfaces,
  moveLayer,
  removeFinish,
  removeLayer,
  setLayerMaterial,
  setOfFinish,
  setSurfaceFinish,
  takeInFinish,
  usesOfFinish,
  type Change,
} from './finish-edits.ts';
import type { Finish } from '../finishes/finish.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { part, sceneProject } from './scene-fixtures.ts';
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

describe('finishes of a project', () => {
  const base = sceneProject({ finishes: [single, broadband] });
  const done = (change: Change | null, from = base) => applyEdits(from, change!.edits).project;
  const finishIn = (from: typeof base, id: string) => from.finishes!.find((one) => one.id === id)!;
  const films = (from: typeof base) => {
    const { optics } = finishIn(from, 'broadband');
    return optics.kind === 'coating' ? optics.layers : [];
  };
  const ids = (from: typeof base) => films(from).map(({ id }) => id);

  it('are added under names and ids of their own, also beside those of the shelf', () => {
    const { change, finish } = addFinish(base, { name: single.name, optics: single.optics }, 'silver');
    expect([finish.id, finish.name]).to.deep.equal(['silver_2', `${single.name} 2`]);
    expect(finishIn(done(change), 'silver_2').optics).to.deep.equal(single.optics);
    const first = addFinish({ ...base, finishes: undefined as never }, { name: 'New', optics: { kind: 'bare' } });
    expect(done(first.change, { ...base, finishes: undefined as never }).finishes).to.have.length(1);
  });

  it('are named, changed and deleted, each in a step that can be taken back', () => {
    const changes = [
      setOfFinish(broadband, 'name', 'Window', 'Name'),
      setOfFinish(broadband, 'optics', { kind: 'paint', reflectance: 0.2 }, 'Kind'),
      setOfFinish(broadband, 'reflected', { kind: 'lambertian', share: 1 }, 'Scatter'),
      removeFinish(broadband),
    ];
    for (const { edits, label } of changes) {
      const { project: next, inverse } = applyEdits(base, edits);
      expect(JSON.stringify(next), label).to.not.equal(JSON.stringify(base));
      expect(readProject(next).ok, label).to.equal(true);
      expect(JSON.stringify(applyEdits(next, inverse).project), label).to.equal(JSON.stringify(base));
    }
  });

  it('know what carries them', () => {
    const scene = sceneProject({
      finishes: [single],
      parts: [
        part('box', { kind: 'sphere', radius: 2 }, { finish: single.id, faces: { surface: { finish: single.id } } }),
        part('other', { kind: 'sphere', radius: 2 }),
      ],
    });
    expect(usesOfFinish(scene, single.id)).to.deep.equal(['box', 'box.surface']);
    const coated = applyEdits(project, setSurfaceFinish(project, lens, ['s1'], single).edits).project;
    expect(usesOfFinish(coated, single.id)).to.deep.equal([`${lens.id}.s1`]);
    expect(usesOfFinish(coated, broadband.id)).to.deep.equal([]);
  });

  it('get films outside and inside, move and lose them; the last one stays', () => {
    const film = { index: 1.5, thickness: 90 };
    expect(ids(done(addLayer(broadband, null, film)))).to.deep.equal(['f4', 'f1', 'f2', 'f3']);
    expect(ids(done(addLayer(broadband, 'f3', film)))).to.deep.equal(['f1', 'f2', 'f3', 'f4']);
    expect(ids(done(moveLayer(broadband, 'f2', -1)))).to.deep.equal(['f2', 'f1', 'f3']);
    expect(ids(done(moveLayer(broadband, 'f2', 1)))).to.deep.equal(['f1', 'f3', 'f2']);
    expect(moveLayer(broadband, 'f1', -1)).to.equal(null);
    expect(moveLayer(broadband, 'f3', 1)).to.equal(null);
    expect(ids(done(removeLayer(broadband, 'f1')))).to.deep.equal(['f2', 'f3']);
    expect(removeLayer(single, 'f1')).to.equal(null);
    const white: Finish = { id: 'w', name: 'w', optics: { kind: 'paint', reflectance: 1 } };
    expect([removeLayer(white, 'f1'), moveLayer(white, 'f1', 1)]).to.deep.equal([null, null]);
  });

  it('make a film of a material, which comes along, and of its index again', () => {
    const silica = catalogueMaterial('fused_silica')!;
    const made = done(setLayerMaterial(base, broadband, films(base)[0], silica, 550));
    expect(films(made)[0]).to.deep.equal({ id: 'f1', thickness: 99.6377, material: 'fused_silica' });
    expect(made.materials.map(({ id }) => id)).to.include('fused_silica');
    expect(readProject(made).ok).to.equal(true);
    const back = done(setLayerMaterial(made, finishIn(made, 'broadband'), films(made)[0], null, 587.5618), made);
    // n_d of fused silica after Malitson.
    expect(films(back)[0].index).to.be.closeTo(1.45846, 1e-5);
    expect(films(back)[0].material).to.equal(undefined);
  });
});
