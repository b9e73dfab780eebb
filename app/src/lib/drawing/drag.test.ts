import { applyEdits, Evaluation, lensSection, readProject, valueAt } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { dragGesture, lowerEnd, type DragStart } from './drag.ts';

describe('drags in the drawing', () => {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { project } = read;
  const lens = project.lenses[0];
  const evaluation = new Evaluation(project).lens('tide');
  if (!evaluation.ok) throw new Error(evaluation.reason);
  const drawn = lensSection(evaluation.value, { raysPerField: 1 }).surfaces.find(({ id }) => id === 'l2_front')!;
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

  it('bend a surface as far along its axis as the mouse went, from where its end was drawn', () => {
    const bend: DragStart = { ...start, handle: 'bend', surface: drawn, z: 4.9, y: -4.7 };
    const [z, y] = lowerEnd(drawn);
    const sag = z - vertexZ;
    const radius = (dz: number) => after(bend, bend.z + dz, bend.y, 'l2_front.shape.radius');
    expect(radius(0)).to.be.closeTo(valueAt(project, 'lenses.tide.surfaces.l2_front.shape.radius') as number, 1e-9);
    expect(radius(-0.5)).to.be.closeTo((y ** 2 + (sag - 0.5) ** 2) / 2 / (sag - 0.5), 1e-9);
    expect(dragGesture(lens, bend, bend.z + 9, bend.y).ok).to.equal(false);
  });

  it('makes a surface plane where its end comes to the height of its vertex', () => {
    const flat = { ...drawn, line: Float64Array.of(vertexZ + 0.25, -4.8, vertexZ + 0.25, 4.8) };
    const bend: DragStart = { ...start, handle: 'bend', surface: flat };
    expect(after(bend, start.z - 0.25, start.y, 'l2_front.shape.radius')).to.equal('infinity');
  });
});
