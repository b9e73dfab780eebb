import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { applyEdits } from './edit.ts';
import { projectOf } from './fixtures.ts';
import { lensTable, looksLikeTable, pasteTable, type TableResult } from './lens-table.ts';
import type { Project } from './model.ts';
import { readProject, readProjectText } from './read.ts';

function pasted(project: Project, start: string, text: string): Project {
  const result = pasteTable(project, project.lenses[0].id, start, text);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  const { project: next, inverse } = applyEdits(project, result.gesture.edits);
  expect(readProject(next).ok).to.equal(true);
  expect(applyEdits(next, inverse).project).to.deep.equal(project);
  return next;
}

function problems(result: TableResult): string[] {
  return result.ok ? [] : result.problems.map(({ row, column, reason }) => `${row}:${column} ${reason}`);
}

function tideCamera(): Project {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.project;
}

const numbers = (project: Project) =>
  project.lenses[0].surfaces.map(({ shape, after }) => [
    'radius' in shape ? shape.radius : 'infinity',
    after?.thickness,
  ]);

describe('tables', () => {
  it('bring a doublet from a spreadsheet into a small lens, by position', () => {
    const doublet = '37.0096\t5\t517642\n-25.2986\t2.5\t648338\n-79.7298\t56.3729\tair\n';
    const project = pasted(projectOf(), 'front', doublet);
    expect(numbers(project)).to.deep.equal([
      [37.0096, 5],
      [-25.2986, 2.5],
      [-79.7298, 56.3729],
      ['infinity', undefined],
    ]);
    expect(project.lenses[0].surfaces[1].after).to.include({ material: 'g648338', name: 'L2' });
  });

  it('are read by their header, in any order, with units and unknown columns', () => {
    const text = 'Glass\tcolour\tThickness (mm)\tRadius [mm]\tk\nair\tred\t0.5in\tinfinity\t\n\t\t\t-30\t-1\n';
    const project = pasted(projectOf(), 'front', text);
    expect(numbers(project).slice(0, 2)).to.deep.equal([
      ['infinity', 12.7],
      [-30, 94],
    ]);
    expect(project.lenses[0].surfaces[1].shape).to.deep.equal({ kind: 'conic', radius: -30, conic: -1 });
  });

  it('come back from their own copy', () => {
    const tide = tideCamera();
    const copy = lensTable(tide, tide.lenses[0]);
    expect(copy.split('\n')[0]).to.equal('name\tradius\tthickness\tmaterial\tsemi-aperture\tconic\tcomment\tstop');
    expect(
      copy
        .split('\n')
        .filter((line) => line.endsWith('\tstop'))
        .map((line) => line.split('\t')[0]),
    ).to.deep.equal(['name', 'Stop']);
    expect(numbers(pasted(tide, 'l1_front', copy))).to.deep.equal(numbers(tide));
    const small = projectOf();
    const grown = pasted(small, 'front', copy);
    expect(numbers(grown)).to.deep.equal(numbers(tide));
    // The stop comes along, and is the one surface that is marked.
    const { stop, surfaces } = grown.lenses[0];
    expect(surfaces.findIndex(({ id }) => id === stop)).to.equal(
      tide.lenses[0].surfaces.findIndex(({ id }) => id === 'stop'),
    );
    const ice = JSON.parse(readFileSync('samples/ice-glass.ulvex.json', 'utf8')) as Project;
    const mirrored = pasted(small, 'front', lensTable(ice, ice.lenses[0]));
    expect(mirrored.lenses[0].surfaces.map((surface) => surface.reflects ?? false)).to.deep.equal([true, true, false]);
  });

  it('mark the stop in a column of its own: one surface, by a word that is a mark', () => {
    const marked = (...marks: string[]) =>
      `radius\tthickness\tstop\n${marks.map((mark, k) => `${20 + k}\t5\t${mark}`).join('\n')}`;
    const paste = (text: string) => pasteTable(projectOf(), 'single', 'front', text);
    expect(pasted(projectOf(), 'front', marked('', 'x', '')).lenses[0].stop).to.equal('back');
    expect(pasted(projectOf(), 'front', marked('no', '0', '')).lenses[0].stop).to.equal(projectOf().lenses[0].stop);
    for (const [marks, reason] of [
      [['x', '', 'yes'], /one stop only; row 2 is marked/],
      [['maybe', '', ''], /is no mark of the stop/],
    ] as const) {
      const found = paste(marked(...marks));
      expect(found.ok ? '' : found.problems.map((one) => one.reason).join()).to.match(reason);
    }
  });

  it('are refused whole, every wrong cell by its place', () => {
    const result = pasteTable(
      projectOf(),
      'single',
      'front',
      'radius\tthickness\tmaterial\n1,5\t2\tunobtainium\n0\tfar\tair',
    );
    expect(problems(result)).to.deep.equal([
      '2:1 Use a point for decimals, not a comma.',
      '2:3 No material is called “unobtainium”. Type a six-digit code, a name, an index such as 1.6, nd/Vd such as 1.62/36.4, “air” or “mirror”.',
      '3:1 A radius is not 0; write “infinity” for a plane.',
      '3:2 “far” is not a number.',
    ]);
    expect(problems(pasteTable(projectOf(), 'single', 'front', 'radius\tthickness'))[0]).to.match(/no rows/);
    expect(problems(pasteTable(projectOf(), 'single', 'front', 'semi\n-3'))[0]).to.match(/above 0/);
  });

  it('are told from what belongs into one cell', () => {
    expect(looksLikeTable('1.5\t2')).to.equal(true);
    expect(looksLikeTable('1.5\n2')).to.equal(true);
    expect(looksLikeTable('1.5\n')).to.equal(false);
    expect(looksLikeTable('25.4/2')).to.equal(false);
  });
});
