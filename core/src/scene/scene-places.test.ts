import { expect } from 'chai';
import { compileScene } from './scene-model.ts';
import { applyEdits } from '../project/edit.ts';
import { part, sceneProject, source } from '../project/scene-fixtures.ts';
import { middleOf, sourceFromTo, standOnFace } from '../project/scene-places.ts';

const project = sceneProject({
  parts: [part('turned', { kind: 'group' }, { frame: { dx: 3, tx: 40, ty: 10 } })],
  sources: [source({ within: 'turned', frame: { dy: 2, tx: 30, tz: 5 } })],
});
const [scene] = project.scenes!;

describe('a source from here to there', () => {
  it('stands at the one and looks at the other, whatever frame it stood in', () => {
    const to = { id: 'screen', title: 'Screen', at: [7, -3, 30] as const };
    const gesture = sourceFromTo(scene, scene.sources[0], [1, 2, -5], to)!;
    const changed = applyEdits(project, gesture.edits).project;
    const model = compileScene(changed, changed.scenes![0], () => 'none');
    expect(model.findings).to.deep.equal([]);
    const [{ origin, axis }] = model.sources;
    expect([...origin]).to.deep.equal([1, 2, -5]);
    const length = Math.hypot(6, -5, 35);
    [6, -5, 35].forEach((part, k) => expect(axis[k]).to.be.closeTo(part / length, 1e-12));
    expect(gesture.label).to.equal('Point lamp at Screen');
    expect(changed.scenes![0].sources[0].within).to.equal(undefined);
  });

  it('is none where the two are one place', () => {
    const to = { id: 'a', title: 'A', at: [1, 2, 3] as const };
    expect(sourceFromTo(scene, scene.sources[0], [1, 2, 3 + 1e-9], to)).to.equal(null);
  });

  it('has the middle of things from their corners', () => {
    expect(middleOf([[0, 0, 0, 2, 4, 6], Float32Array.of(-2, 0, 0)])).to.deep.equal([0, 2, 3]);
    expect(middleOf([])).to.equal(null);
    expect(middleOf([[]])).to.equal(null);
  });
});

describe('a thing that stands on a face', () => {
  const poseOf = (normal: readonly [number, number, number]) => {
    const gesture = standOnFace(scene, 'sources', scene.sources[0], [1, -2, 3.5], normal);
    const changed = applyEdits(project, gesture.edits).project;
    const model = compileScene(changed, changed.scenes![0], () => 'none');
    expect(model.findings).to.deep.equal([]);
    return model.sources[0];
  };

  it('has its origin at the point and its axis along the normal, whatever way that looks', () => {
    for (const normal of [
      [0, 0, 1],
      [0, 0, -1],
      [1, 0, 0],
      [0, -3, 0],
      [0.3, -0.5, -0.8],
      [-2, 1, 0.5],
    ] as const) {
      const { origin, axis } = poseOf(normal);
      expect([...origin]).to.deep.equal([1, -2, 3.5]);
      const length = Math.hypot(...normal);
      // Tilts have digits to a millionth of a degree.
      normal.forEach((part, k) => expect(axis[k], normal.join()).to.be.closeTo(part / length, 2e-8));
    }
  });

  it('leaves the frame that it stood in, and can be taken back', () => {
    const looking = { ...scene.sources[0], towards: { x: 1, y: 2, z: 3 } };
    const { edits, label } = standOnFace(scene, 'sources', looking, [0, 0, 1], [0, 0, 1]);
    expect(label).to.equal('Stand lamp on a face');
    expect(edits.filter(({ kind }) => kind === 'set').length).to.equal(3);
    const { project: changed, inverse } = applyEdits(project, edits);
    expect(changed.scenes![0].sources[0].within).to.equal(undefined);
    expect(JSON.stringify(applyEdits(changed, inverse).project.scenes![0].sources[0].frame)).to.equal(
      JSON.stringify(scene.sources[0].frame),
    );
  });
});
