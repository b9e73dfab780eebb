import { ANALYSES, applyEdits, readProject, type Edit, type Project } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import {
  addBoard,
  addTile,
  boardOf,
  boardsOf,
  moveTile,
  nextSize,
  removeBoard,
  removeTile,
  renameBoard,
  setTile,
} from './board-edits.ts';
import { BOARD_TEMPLATES } from './templates.ts';

const SAMPLE = JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')) as Project;

function after(project: Project, edits: Edit[]): Project {
  const next = applyEdits(project, edits);
  expect(readProject(next.project).ok).to.equal(true);
  expect(applyEdits(next.project, next.inverse).project).to.deep.equal(project);
  return next.project;
}

const ids = (project: Project) => boardOf(project).tiles.map((tile) => tile.id);

describe('the board', () => {
  it('is the default one until something is arranged, then the project’s own', () => {
    expect(boardOf(SAMPLE).name).to.equal('First look');
    expect(boardOf(SAMPLE)).to.equal(boardOf(SAMPLE));
    const added = after(SAMPLE, addTile(SAMPLE, boardOf(SAMPLE), { kind: 'spots', columns: 6, rows: 2 }));
    expect(ids(added)).to.deep.equal(['t1', 't2', 't3', 't4', 't5']);
    expect(added.boards).to.have.length(1);
    expect(ids(after(added, removeTile(added, boardOf(added), 't2')))).to.deep.equal(['t1', 't3', 't4', 't5']);
  });

  it('begins with one for the lenses and one for the scene, whichever there are', () => {
    const names = (project: Project) => boardsOf(project).map(({ name }) => name);
    const scenes = [{ id: 'scene' }] as never;
    expect(names(SAMPLE)).to.deep.equal(['First look']);
    expect(names({ ...SAMPLE, scenes })).to.deep.equal(['First look', 'First light']);
    expect(names({ ...SAMPLE, scenes, lenses: [] })).to.deep.equal(['First light']);
  });

  it('moves tiles and stops at its ends', () => {
    const moved = after(SAMPLE, moveTile(SAMPLE, boardOf(SAMPLE), 't1', 2));
    expect(ids(moved)).to.deep.equal(['t2', 't3', 't1', 't4']);
    expect(ids(after(moved, moveTile(moved, boardOf(moved), 't4', -5)))).to.deep.equal(['t4', 't2', 't3', 't1']);
    expect(moveTile(SAMPLE, boardOf(SAMPLE), 't1', 0)).to.deep.equal([]);
    expect(moveTile(SAMPLE, boardOf(SAMPLE), 't4', 9)).to.deep.equal([]);
  });

  it('snaps sizes and keeps settings', () => {
    expect([nextSize('columns', 6, 1), nextSize('columns', 12, 1), nextSize('columns', 3, -1)]).to.deep.equal([
      8, 12, 3,
    ]);
    expect([nextSize('rows', 2, 1), nextSize('rows', 1, -1)]).to.deep.equal([3, 1]);
    const changed = after(
      SAMPLE,
      setTile(SAMPLE, boardOf(SAMPLE), 't2', { columns: 12, settings: { reference: 'chief' } }),
    );
    expect(boardOf(changed).tiles[1]).to.deep.include({
      kind: 'spots',
      columns: 12,
      settings: { reference: 'chief' },
    });
    expect(setTile(SAMPLE, boardOf(SAMPLE), 'gone', { rows: 1 })).to.deep.equal([]);
  });

  it('comes in several: of templates, copied, renamed and taken away', () => {
    const { edits, id } = addBoard(SAMPLE, BOARD_TEMPLATES[1]);
    const two = after(SAMPLE, edits);
    expect(boardsOf(two).map(({ name }) => name)).to.deep.equal(['First look', 'Colour']);
    expect(boardOf(two, id).tiles[0]).to.deep.include({ id: 't1', kind: 'focal_shift' });
    const copy = addBoard(two, boardOf(two, id));
    const three = after(two, copy.edits);
    expect(boardOf(three, copy.id).name).to.equal('Colour 2');
    const renamed = after(three, renameBoard(three, copy.id, ' Hues '));
    expect(boardOf(renamed, copy.id).name).to.equal('Hues');
    expect(renameBoard(three, copy.id, '  ')).to.deep.equal([]);
    expect(boardsOf(after(renamed, removeBoard(renamed, id))).map(({ name }) => name)).to.deep.equal([
      'First look',
      'Hues',
    ]);
    expect(removeBoard(SAMPLE, 'study')).to.deep.equal([]);
    // A board that is gone gives way to the first.
    expect(boardOf(two, 'gone').name).to.equal('First look');
  });

  it('has templates of tiles that there are', () => {
    const known = new Set([
      ...['section', 'spots', 'ray_fans', 'opd_fans', 'mtf', 'field_curves', 'seidel', 'ray', 'first_order'],
      'space',
      ...ANALYSES.map((analysis) => analysis.id),
    ]);
    for (const { name, tiles } of BOARD_TEMPLATES)
      for (const { kind } of tiles) expect(known.has(kind), `${name}: ${kind}`).to.equal(true);
  });
});
