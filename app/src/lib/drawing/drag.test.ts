import { applyEdits, Evaluation, lensSection, readProject, valueAt } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { dragGesture, type DragStart } from './drag.ts';

describe('drags in the drawing', () => {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { project } = read;
  const lens = project.lenses[0];
  const evaluation = new Evaluation(project).lens('tide');
  if (!evaluation.ok) throw new Error(evaluation.reason);
  const drawn = lensSection(evaluation.value, { raysPerField: 1 }).surfaces.find(
    ({ id }) => id === 'l2_front',
  )!;
  const start: DragStart = { handle: 'vertex', surface: { ...drawn, semi: 4.8 }, z: 4.7, y: 0.1 };
  const vertexZ = drawn.vertex[0];

  /** A value of the tide camera after a drag to (z, y). */
  function after(from: DragStart, z: number, y: number, path: string): unknown {
    const gesture = dragGesture(lens, from, z, y);
    if (!gesture.ok) throw new Error(gesture.reason);
    return valueAt(applyEdits(project, gesture.value.edits).project, `lenses.tide.surfaces.${path}`);
  }

  it('move a vertex by as much as the mouse went, in whole micrometres', () => {
    expect(after(start, 5.2000049, 3, 'l1_back.after.thickness')).to.be.closeTo(2.3549 + 0.5, 1e-12);
    expect(after(start, 5.2, 3, 'l2_front.after.thickness')).to.be.closeTo(0.5, 1e-12);
  });

  it('set an aperture by the height of the rim, never to nothing', () => {
    const rim: DragStart = { ...start, handle: 'rim', y: 4.8 };
    expect(after(rim, 0, 5.3, 'l2_front.aperture')).to.deep.equal({ kind: 'circle', semi: 5.3 });
    expect(after(rim, 0, 0, 'l2_front.aperture')).to.deep.equal({ kind: 'circle', semi: 0.001 });
  });

  it('bend a surface through the point of its rim', () => {
    const bend: DragStart = { ...start, handle: 'bend' };
    const radius = after(bend, vertexZ - 1, -4.8, 'l2_front.shape.radius') as number;
    expect(radius).to.be.closeTo(-(4.8 ** 2 + 1) / 2, 1e-9);
    expect(after(bend, vertexZ, 0, 'l2_front.shape.radius')).to.equal('infinity');
    expect(dragGesture(lens, bend, vertexZ + 6, 0).ok).to.equal(false);
  });
});
