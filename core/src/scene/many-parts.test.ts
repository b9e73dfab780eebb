import { expect } from 'chai';
import { SHELF_FINISHES } from '../finishes/shelf.ts';
import { compileScene } from './scene-model.ts';
import { applyEdits } from '../project/edit.ts';
import { groupParts, removeParts, setParts, setPartsFinish } from '../project/many-parts.ts';
import { readProject } from '../project/read.ts';
import type { SceneGesture } from '../project/scene-edits.ts';
import { detector, part, sceneProject } from '../project/scene-fixtures.ts';

const ball = (radius = 2) => ({ kind: 'sphere' as const, radius });
const project = sceneProject({
  parts: [
    part('rail', { kind: 'group' }, { frame: { dx: 5, tx: 30 } }),
    part('a', ball(), { within: 'rail', frame: { dz: 3 } }),
    part('b', ball(), { within: 'rail', frame: { dz: 9 } }),
    part('pin', ball(0.5), { within: 'b', frame: { dy: 4 } }),
    part('free', ball(), { frame: { dz: 30 } }),
    part('twin', { kind: 'copy', of: 'free' }, { frame: { dz: 40 } }),
  ],
  detectors: [detector({ kind: 'face', part: 'free', face: 'surface' })],
});
const [scene] = project.scenes!;
const after = (gesture: SceneGesture) => {
  const { project: next, inverse } = applyEdits(project, gesture.edits);
  expect(readProject(next).ok).to.equal(true);
  expect(JSON.stringify(applyEdits(next, inverse).project)).to.equal(JSON.stringify(project));
  return next;
};
const partsOf = (from: typeof project) => Object.fromEntries(from.scenes![0].parts.map((one) => [one.id, one]));
const boxes = (from: typeof project) =>
  compileScene(from, from.scenes![0], () => 'none').faces.map(({ part: id, box }) => [id, box] as const);

describe('several parts at once', () => {
  it('are excluded and included, and given a material, which frames do not have', () => {
    const out = partsOf(after(setParts(scene, ['a', 'b'], 'excluded', true)));
    expect([out.a.excluded, out.b.excluded, out.free.excluded]).to.deep.equal([true, true, undefined]);
    const glass = partsOf(after(setParts(scene, ['rail', 'a', 'free'], 'material', 'glass')));
    expect([glass.rail.material, glass.a.material, glass.free.material]).to.deep.equal([undefined, 'glass', 'glass']);
  });

  it('are given a finish, whose record comes along once', () => {
    const [film] = SHELF_FINISHES;
    const next = after(setPartsFinish(project, scene, ['a', 'free'], film));
    expect([partsOf(next).a.finish, partsOf(next).free.finish]).to.deep.equal([film.id, film.id]);
    expect(next.finishes!.filter(({ id }) => id === film.id)).to.have.length(1);
  });

  it('are removed with what would be left without them', () => {
    const next = after(removeParts(project, scene, ['free', 'twin', 'a']));
    expect(Object.keys(partsOf(next))).to.deep.equal(['rail', 'b', 'pin']);
    expect(next.scenes![0].detectors).to.deep.equal([]);
  });

  it('are grouped where they stand: nothing moves, and what stands in one of them stays in it', () => {
    const gesture = groupParts(scene, ['a', 'b', 'pin'])!;
    const next = after(gesture);
    const { a, b, pin, group } = partsOf(next);
    expect([a.within, b.within, pin.within, group.within]).to.deep.equal(['group', 'group', 'b', 'rail']);
    expect(gesture.focus).to.deep.equal({ kind: 'parts', id: 'group' });
    const before = new Map(boxes(project));
    for (const [id, box] of boxes(next)) expect(box, id).to.deep.equal(before.get(id));
    expect(next.scenes![0].parts.map(({ id }) => id)).to.deep.equal(['rail', 'group', 'a', 'b', 'pin', 'free', 'twin']);
  });

  it('are not grouped out of different frames', () => {
    expect(groupParts(scene, ['a', 'free'])).to.equal(null);
    expect(groupParts(scene, [])).to.equal(null);
  });
});
