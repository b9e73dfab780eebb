import { applyEdits, readProject, type Project } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { bow, prescriptionRows, rowKeeper } from './rows.ts';

function tideCamera(): Project {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.project;
}

describe('prescription rows', () => {
  it('call surfaces and media by what they are', () => {
    const project = tideCamera();
    const rows = prescriptionRows(project, project.lenses[0], [{ severity: 'error', where: 'stop', text: 'look' }]);
    expect(rows.map((row) => row.title)).to.deep.equal([
      'L1 front',
      'L1 back',
      'L2 front',
      'L2 back',
      'Stop',
      'L3 front',
      'L3 | L4',
      'L4 back',
      'Sensor',
    ]);
    expect(rows.map((row) => row.medium?.title)).to.deep.equal([
      'L1',
      'gap',
      'L2',
      'gap',
      'gap',
      'L3',
      'L4',
      'to sensor',
      undefined,
    ]);
    expect(rows[4].findings).to.have.length(1);
    expect(rows[4].radius).to.equal(Infinity);
    expect(rows[0].medium?.material?.label).to.equal('691547');
  });

  it('bow the arc as the surface does', () => {
    expect(bow(Infinity, 5)).to.equal(0);
    expect(bow(20, 5)).to.equal(0.5);
    expect(bow(-1, 5)).to.equal(-1);
  });

  it('are the same objects where nothing changed', () => {
    const project = tideCamera();
    const keep = rowKeeper();
    const rowsOf = (given: typeof project) => keep(prescriptionRows(given, given.lenses[0], []));
    const before = rowsOf(project);
    const path = `lenses.${project.lenses[0].id}.surfaces.${before[3].surface.id}.after.thickness`;
    const after = rowsOf(applyEdits(project, [{ kind: 'set', path, value: 3 }]).project);
    expect(after.filter((row, i) => row !== before[i])).to.deep.equal([after[3]]);
    expect(after[3].medium?.thickness).to.equal(3);
  });
});
