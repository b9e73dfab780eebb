import { expect } from 'chai';
import type { Outcome } from '../math/outcome.ts';
import { applyEdits } from './edit.ts';
import { quickProject } from './fixtures.ts';
import { cellText, fillDown, setCell, setCells } from './lens-cells.ts';
import type { Gesture } from './lens-edits.ts';
import { duplicateSurfaces, elementSurfaces, moveElement, moveSurfaces, removeSurfaces } from './lens-rows.ts';
import { pasteTable } from './lens-table.ts';
import type { Project } from './model.ts';
import { readProject } from './read.ts';

/** Two elements, the second cemented, with a stop alone between them. */
const PROJECT = quickProject(
  [
    { r: 50, t: 4, n: 1.5 },
    { r: -50, t: 2 },
    { t: 1 },
    { r: 30, t: 5, n: 1.6 },
    { r: -30, t: 2, n: 1.7 },
    { r: 200, t: 40 },
  ],
  { stop: 's3' },
);

/** The project after a gesture, which must be legal and able to be taken back. */
function after(gesture: Outcome<Gesture>, project = PROJECT): Project {
  if (!gesture.ok) throw new Error(gesture.reason);
  const { project: next, inverse } = applyEdits(project, gesture.value.edits);
  expect(applyEdits(next, inverse).project).to.deep.equal(project);
  expect(readProject(JSON.parse(JSON.stringify(next))).ok).to.equal(true);
  return next;
}

const reasonOf = (outcome: Outcome<unknown>) => (outcome.ok ? '' : outcome.reason);
const order = (project: Project) => project.lenses[0].surfaces.map(({ id }) => id).join(' ');
const [lens] = PROJECT.lenses;
const column = (project: Project, name: 'radius' | 'thickness' | 'material' | 'conic' | 'semi_aperture') =>
  project.lenses[0].surfaces.map((surface) => cellText(project, surface, name)).join(' ');

describe('lines of the prescription', () => {
  it('move one place, several together, and stop at the ends', () => {
    expect(order(after(moveSurfaces(lens, ['s3'], 1)))).to.equal('s1 s2 s4 s3 s5 s6 image');
    expect(order(after(moveSurfaces(lens, ['s3'], -1)))).to.equal('s1 s3 s2 s4 s5 s6 image');
    expect(order(after(moveSurfaces(lens, ['s2', 's3'], 1)))).to.equal('s1 s4 s2 s3 s5 s6 image');
    expect(order(after(moveSurfaces(lens, ['s5', 's4'], -1)))).to.equal('s1 s2 s4 s5 s3 s6 image');
    expect(reasonOf(moveSurfaces(lens, ['s1'], -1))).to.match(/nothing in front/);
    expect(reasonOf(moveSurfaces(lens, ['s6'], 1))).to.match(/Only the image/);
    expect(reasonOf(moveSurfaces(lens, ['image'], -1))).to.match(/stays last/);
  });

  it('belong to elements, cemented ones together, which move past what stands beside them whole', () => {
    expect(elementSurfaces(PROJECT, lens, 's1')).to.deep.equal(['s1', 's2']);
    for (const id of ['s4', 's5', 's6']) expect(elementSurfaces(PROJECT, lens, id)).to.deep.equal(['s4', 's5', 's6']);
    expect(elementSurfaces(PROJECT, lens, 's3')).to.deep.equal(['s3']);
    const once = after(moveElement(PROJECT, 'lens', 's4', -1));
    expect(order(once)).to.equal('s1 s2 s4 s5 s6 s3 image');
    expect(order(after(moveElement(once, 'lens', 's5', -1), once))).to.equal('s4 s5 s6 s1 s2 s3 image');
    expect(order(after(moveElement(once, 'lens', 's1', 1), once))).to.equal('s4 s5 s6 s1 s2 s3 image');
    expect(reasonOf(moveElement(PROJECT, 'lens', 's1', -1))).to.match(/nothing in front/);
    expect(reasonOf(moveElement(PROJECT, 'lens', 's6', 1))).to.match(/Only the image/);
  });

  it('are doubled with ids and element names of their own', () => {
    const doubled = after(duplicateSurfaces(lens, ['s4', 's5', 's6', 'image']));
    const { surfaces } = doubled.lenses[0];
    expect(surfaces).to.have.length(10);
    expect(new Set(surfaces.map(({ id }) => id)).size).to.equal(10);
    expect(surfaces.slice(6, 9).map(({ shape }) => shape)).to.deep.equal(
      lens.surfaces.slice(3, 6).map(({ shape }) => shape),
    );
    const names = surfaces.flatMap(({ after: medium }) => medium?.name ?? []);
    expect(new Set(names).size).to.equal(names.length);
    expect(reasonOf(duplicateSurfaces(lens, ['image']))).to.match(/cannot be doubled/);
  });

  it('are removed together, and what lies behind stays where it is', () => {
    const less = after(removeSurfaces(PROJECT, 'lens', ['s2', 's3', 'image']));
    expect(order(less)).to.equal('s1 s4 s5 s6 image');
    const length = (project: Project) =>
      project.lenses[0].surfaces.reduce((sum, { after: medium }) => sum + (medium?.thickness ?? 0), 0);
    expect(length(less)).to.equal(length(PROJECT));
    expect(reasonOf(removeSurfaces(PROJECT, 'lens', ['image']))).to.match(/image surface stays/);
  });
});

describe('cells of the prescription', () => {
  it('are set together from one text, changes from what each of them holds', () => {
    expect(column(after(setCells(PROJECT, 'lens', ['s1', 's2', 's4'], 'radius', '*-1')), 'radius')).to.equal(
      '-50 50 infinity -30 -30 200 infinity',
    );
    const gesture = setCells(PROJECT, 'lens', ['s1', 's2', 'image'], 'thickness', '3');
    expect(gesture.ok && gesture.value.label).to.match(/and 1 more$/);
    expect(column(after(gesture), 'thickness')).to.equal('3 3 1 5 2 40 ');
    expect(reasonOf(setCells(PROJECT, 'lens', ['s1', 's2'], 'radius', '0'))).to.match(/^.+: A radius is not 0/);
    expect(reasonOf(setCells(PROJECT, 'lens', ['s1', 's2'], 'semi_aperture', '-2'))).to.match(/above 0/);
  });

  it('are filled with the first of them, empty ones included', () => {
    expect(column(after(fillDown(PROJECT, 'lens', ['s1', 's2', 's3'], 'radius')), 'radius')).to.equal(
      '50 50 50 30 -30 200 infinity',
    );
    const first = after(setCell(PROJECT, lens, 's1', 'semi_aperture', '3 mm'));
    const filled = after(fillDown(first, 'lens', ['s1', 's2'], 'semi_aperture'), first);
    expect(column(filled, 'semi_aperture')).to.equal('3 3     ');
    const back = after(fillDown(filled, 'lens', ['s3', 's2'], 'semi_aperture'), filled);
    expect(column(back, 'semi_aperture')).to.equal('3      ');
    expect(column(after(fillDown(PROJECT, 'lens', ['s1', 's4'], 'material')), 'material')).to.match(
      /^1.5 air air 1.5 1.7 air/,
    );
  });

  it('take thickness and material in one, or neither', () => {
    const both = after(setCell(PROJECT, lens, 's2', 'thickness', '2.5 648338'));
    expect(both.lenses[0].surfaces[1].after).to.deep.include({ thickness: 2.5, material: 'g648338' });
    expect(column(after(setCell(PROJECT, lens, 's1', 'thickness', '1in 1.6')), 'thickness')).to.match(/^25.4 /);
    expect(column(after(setCell(PROJECT, lens, 's1', 'thickness', '5 mm')), 'thickness')).to.match(/^5 /);
    expect(reasonOf(setCell(PROJECT, lens, 's1', 'thickness', '5 cheese'))).to.match(/No material is called “cheese”/);
    expect(reasonOf(setCell(PROJECT, lens, 's1', 'thickness', 'five'))).to.not.equal('');
    expect(reasonOf(setCell(PROJECT, lens, 'image', 'thickness', '5'))).to.match(/no thickness after the image/);
  });

  it('keep comments, and lose them when they are emptied', () => {
    const noted = after(setCell(PROJECT, lens, 's1', 'comment', ' test plate 12 '));
    expect(noted.lenses[0].surfaces[0].comment).to.equal('test plate 12');
    const bare = after(setCell(noted, noted.lenses[0], 's1', 'comment', ''), noted);
    expect(bare.lenses[0].surfaces[0]).to.not.have.property('comment');
    expect(reasonOf(setCell(PROJECT, lens, 's1', 'comment', 'x'.repeat(501)))).to.match(/at most 500/);
  });

  it('take a pasted column where the focus is', () => {
    const pasted = pasteTable(PROJECT, 'lens', 's1', '3\n2.5\n', 'thickness');
    if (!pasted.ok) throw new Error(pasted.problems[0].reason);
    expect(column(applyEdits(PROJECT, pasted.gesture.edits).project, 'thickness')).to.equal('3 2.5 1 5 2 40 ');
    const wide = pasteTable(PROJECT, 'lens', 's1', '3\t7\n2\t8\n', 'thickness');
    expect(wide.ok && column(applyEdits(PROJECT, wide.gesture.edits).project, 'radius')).to.match(/^3 2 /);
  });
});
