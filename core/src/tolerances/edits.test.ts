import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { applyEdits } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { readProject, readProjectText } from '../project/read.ts';
import {
  addAdjustment,
  addTolerance,
  applyGrade,
  changeAdjustment,
  changeWatch,
  changeTolerances,
  readLimits,
  removeTolerances,
  setRefocus,
  toleranceHomogeneity,
  type ToleranceGesture,
  type WatchChange,
} from './edits.ts';
import { GRADES, gradeTolerances } from './grades.ts';
import { perturbed } from './perturb.ts';
import { toleranceTitle, toleranceUnit } from './titles.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('The sample cannot be read.');
const TIDE = read.project;
const [LENS] = TIDE.lenses;
const done = (project: Project, { edits }: ToleranceGesture) => applyEdits(project, edits).project;
const tolerancesOf = (project: Project) => project.tolerancing?.tolerances ?? [];

describe('tolerances of a grade', () => {
  const all = gradeTolerances(TIDE, LENS, GRADES[0]);
  const count = (kind: string) => all.filter((one) => one.kind === kind).length;

  it('are of every face, gap, element and glass of the lens', () => {
    // Three groups of glass, one of them a cemented pair: 7 faces, 6 distances before the last with the stop between.
    expect(count('fringes')).to.equal(7);
    expect(count('number')).to.equal(7);
    expect(count('element')).to.equal(3 * 4);
    expect(count('wedge')).to.equal(2 * (1 + 1 + 2));
    const glasses = new Set(LENS.surfaces.map(({ after }) => after?.material).filter((id) => id && id !== 'air'));
    expect(count('melt')).to.equal(2 * glasses.size);
    expect(all.length).to.be.at.least(40);
    // The last distance is set, not toleranced.
    expect(all.some((one) => 'address' in one && one.address.includes('l4_back.thickness'))).to.equal(false);
  });

  it('can all be made at their limits, have a title and a unit, and go through the file', () => {
    for (const tolerance of all) {
      for (const by of [tolerance.lower, tolerance.upper])
        expect(perturbed(TIDE, [{ of: tolerance, by }]).ok, tolerance.id).to.equal(true);
      expect(toleranceTitle(TIDE, tolerance)).to.not.include('lenses.');
      expect(toleranceUnit(TIDE, tolerance).ok).to.equal(true);
    }
    const graded = done(TIDE, applyGrade(TIDE, LENS, GRADES[0]));
    const back = readProject(JSON.parse(JSON.stringify(graded)));
    expect(back.ok && tolerancesOf(back.project)).to.deep.equal(all);
  });

  it('take the place of those of the lens, leave the others, and bring a refocus', () => {
    const other = { id: 'o', kind: 'number', address: 'scenes.yard.parts.hood.dx', lower: -1, upper: 1 } as const;
    const before = { ...TIDE, tolerancing: { tolerances: [...tolerancesOf(TIDE), other], steps: 7 } };
    const after = done(before, applyGrade(before, LENS, GRADES[2])).tolerancing!;
    expect(after.tolerances).to.have.length(all.length + 1);
    expect(after.tolerances).to.deep.include(other);
    expect(after.steps).to.equal(7);
    expect(after.compensators).to.have.length(1);
    // Finer grades are finer in everything.
    const [coarse, middle, fine] = GRADES.map((grade) => gradeTolerances(TIDE, LENS, grade));
    coarse.forEach((one, i) => {
      expect(one.upper).to.be.above(middle[i].upper);
      expect(middle[i].upper).to.be.above(fine[i].upper);
    });
  });

  it('leave out what a lens of mirrors and flats does not have', () => {
    const mirror = quickProject([{ t: 50 }, { r: -100, t: -50, n: 'mirror' }]);
    const kinds = gradeTolerances(mirror, mirror.lenses[0], GRADES[1]).map(({ id }) => id);
    expect(kinds).to.deep.equal(['lens_s1_thickness', 'lens_s2_form']);
  });
});

describe('edits of tolerances', () => {
  it('add one with limits to begin with, by its unit; what is not there is refused', () => {
    const added = addTolerance(TIDE, { kind: 'melt', material: 'air', quantity: 'index' });
    if (!added.ok) throw new Error(added.reason);
    const last = tolerancesOf(done(TIDE, added.value)).at(-1)!;
    expect(last).to.deep.include({ id: 'added', lower: -0.001, upper: 0.001 });
    const again = addTolerance(done(TIDE, added.value), { kind: 'melt', material: 'air', quantity: 'abbe' });
    expect(again.ok && again.value.id).to.equal('added_2');
    const none = addTolerance(TIDE, { kind: 'number', address: 'lenses.tide.surfaces.nowhere.thickness' });
    expect(none.ok).to.equal(false);
  });

  it('change several in one step, whole or not at all', () => {
    const [first, second] = tolerancesOf(TIDE);
    const change = changeTolerances(
      TIDE,
      new Map([
        [first.id, { lower: -0.3, upper: 0.3, distribution: { kind: 'ends' as const } }],
        [second.id, { off: true as const }],
      ]),
    );
    if (!change.ok) throw new Error(change.reason);
    const [one, two] = tolerancesOf(done(TIDE, change.value));
    expect(one).to.deep.include({ lower: -0.3, upper: 0.3, distribution: { kind: 'ends' } });
    expect(two.off).to.equal(true);
    const back = changeTolerances(done(TIDE, change.value), new Map([[second.id, { off: null }]]));
    expect(back.ok && tolerancesOf(done(TIDE, back.value))[1]).to.deep.equal(second);
    expect(changeTolerances(TIDE, new Map([[first.id, { lower: 1 }]])).ok).to.equal(false);
  });

  it('give every piece of glass a homogeneity of any orientation, in place of what it had', () => {
    const once = done(TIDE, toleranceHomogeneity(TIDE, LENS, GRADES[1]));
    const own = (project: Project) => tolerancesOf(project).filter(({ kind }) => kind === 'homogeneity');
    expect(own(once)).to.have.length(8);
    expect(own(once)[0]).to.deep.include({ surface: 'l1_front', error: 'astigmatism', lower: -5, upper: 5 });
    expect(toleranceTitle(once, own(once)[0])).to.equal('L1 homogeneity, astigmatism');
    const twice = done(once, toleranceHomogeneity(once, LENS, GRADES[0]));
    expect(own(twice)).to.have.length(8);
    expect(own(twice)[7].upper).to.equal(20);
    expect(readProjectText(JSON.stringify(twice)).ok).to.equal(true);
  });

  it('delete them, and set what is set after making', () => {
    const [first, second] = tolerancesOf(TIDE);
    const gesture = removeTolerances(TIDE, [first.id, second.id]);
    expect(tolerancesOf(done(TIDE, gesture))).to.have.length(tolerancesOf(TIDE).length - 2);
    expect(gesture.label).to.match(/2 tolerances/);
    const none = done(TIDE, setRefocus(TIDE, LENS.id, null));
    expect(none.tolerancing!.compensators).to.deep.equal([]);
    expect(done(none, setRefocus(none, LENS.id, 'chief')).tolerancing!.compensators).to.deep.equal([
      { id: 'focus', kind: 'refocus', lens: LENS.id, criterion: 'chief' },
    ]);
  });

  it('have something be adjusted after making, within a range, for the spots or for a requirement', () => {
    const sensor = { kind: 'number', address: 'lenses.tide.surfaces.sensor.tx' } as const;
    const added = addAdjustment(TIDE, sensor);
    if (!added.ok) throw new Error(added.reason);
    const project = done(TIDE, added.value);
    const own = project.tolerancing!.compensators!.at(-1)!;
    expect(own).to.deep.include({ kind: 'adjust', target: sensor, lower: -0.05, upper: 0.05, aim: 'spots' });
    const [{ id }] = TIDE.requirements;
    const change = changeAdjustment(project, own.id, { upper: 2, aim: 'design', requirement: id });
    if (!change.ok) throw new Error(change.reason);
    const changed = done(project, change.value);
    expect(changed.tolerancing!.compensators!.at(-1)).to.deep.include({ upper: 2, aim: 'design', requirement: id });
    const read = readProjectText(JSON.stringify(changed));
    expect(read.ok && read.project.tolerancing).to.deep.equal(changed.tolerancing);
    const spots = changeAdjustment(changed, own.id, { aim: 'spots' });
    expect(spots.ok && done(changed, spots.value).tolerancing!.compensators!.at(-1)).not.to.have.property(
      'requirement',
    );
    expect(changeAdjustment(changed, own.id, { lower: 0.1 }).ok).to.equal(false);
    const gone = changeAdjustment(changed, own.id, null);
    expect(gone.ok && done(changed, gone.value).tolerancing!.compensators).to.deep.equal(
      TIDE.tolerancing!.compensators,
    );
    expect(addAdjustment(TIDE, { ...sensor, address: 'lenses.tide.surfaces.none.tx' }).ok).to.equal(false);
    // A refocus is still one of its own.
    const none = done(changed, setRefocus(changed, LENS.id, null));
    expect(none.tolerancing!.compensators).to.have.length(1);
  });
});

describe('how a requirement is watched', () => {
  const watchOf = (project: Project) => project.tolerancing?.watch;
  it('is excluded, or has limits of its own when made; what is as in the Brief is not written', () => {
    const [first] = TIDE.requirements;
    const bare = { ...TIDE, tolerancing: { tolerances: [] } };
    const step = (project: Project, change: WatchChange) => {
      const gesture = changeWatch(project, first.id, change);
      if (!gesture.ok) throw new Error(gesture.reason);
      return done(project, gesture.value);
    };
    const off = step(bare, { off: true });
    expect(watchOf(off)).to.deep.equal([{ requirement: first.id, off: true }]);
    const wide = step(off, { max: 40 });
    expect(watchOf(wide)).to.deep.equal([{ requirement: first.id, off: true, max: 40 }]);
    expect(watchOf(step(step(wide, { off: false }), { max: first.max! }))).to.equal(undefined);
    expect(watchOf(step(wide, { off: false, max: null }))).to.equal(undefined);
    const back = readProject(JSON.parse(JSON.stringify(wide)));
    expect(back.ok && watchOf(back.project)).to.deep.equal(watchOf(wide));
    expect(changeWatch(bare, first.id, { min: 50 }).ok).to.equal(false);
    expect(changeWatch(bare, 'nobody', { off: true }).ok).to.equal(false);
  });
});

describe('limits as they are typed', () => {
  const of = (text: string) => {
    const found = readLimits(text, { lower: -0.2, upper: 0.4 });
    return found.ok ? [found.value.lower, found.value.upper] : found.reason;
  };
  it('are one for both sides, two, or a multiple of what they were', () => {
    for (const text of ['0.05', '±0.05', ' ± 0,05', '+-0.05', '+/-0.05'])
      expect(of(text), text).to.deep.equal([-0.05, 0.05]);
    for (const text of ['-0.1 +0.2', '−0.1/+0.2', '+0.2/-0.1', '-0.1 … 0.2', '-0.1..0.2'])
      expect(of(text), text).to.deep.equal([-0.1, 0.2]);
    expect(of('0 0.3')).to.deep.equal([0, 0.3]);
    expect(of('*0.5')).to.deep.equal([-0.1, 0.2]);
    expect(of('× 2')).to.deep.equal([-0.4, 0.8]);
  });
  it('are refused with what to type', () => {
    for (const text of ['', 'abc', '1 2 3', '*x']) expect(of(text), text).to.match(/Type|needs/);
    expect(of('-0.1')).to.match(/one side/);
    expect(of('+0.1')).to.match(/one side/);
    expect(of('0.1 0.2')).to.match(/design must be within/);
  });
});
