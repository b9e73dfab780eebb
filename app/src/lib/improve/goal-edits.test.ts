import { applyEdits, readProject, type Edit, type Goal, type ImageGoal, type Outcome, type Project } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import type { Done } from './commit-goal.ts';
import {
  addImageGoal,
  addMeasureGoal,
  freeAddresses,
  goalName,
  goalsFromRequirements,
  groupGoal,
  IMAGE_KINDS,
  imageKindOf,
  readFrequency,
  readWeight,
  removeGoal,
  removeGroup,
  setBound,
  setGoal,
  setGroup,
  setImageKind,
  turnable,
} from './goal-edits.ts';

const SAMPLE = JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')) as Project;
const [lens] = SAMPLE.lenses;

/** A project behind a gesture: it can be read again, and be taken back. */
function after(project: Project, done: Done | Outcome<Done>): Project {
  if ('ok' in done && !done.ok) throw new Error(done.reason);
  const { edits } = 'ok' in done ? done.value : done;
  const next = applyEdits(project, edits as Edit[]);
  const read = readProject(next.project);
  expect(read.ok, read.ok ? '' : JSON.stringify(read.problems)).to.equal(true);
  expect(applyEdits(next.project, next.inverse).project).to.deep.equal(project);
  return next.project;
}

const sharp = after(SAMPLE, addImageGoal(SAMPLE, lens, 'spot'));
const image = (project: Project) => project.goals![0] as ImageGoal;

describe('goals about the image', () => {
  it('are judged in each of the ways, and told apart again', () => {
    for (const [kind] of IMAGE_KINDS) {
      expect(imageKindOf(image(after(SAMPLE, addImageGoal(SAMPLE, lens, kind)))), kind).to.equal(kind);
      expect(imageKindOf(image(after(sharp, setImageKind(image(sharp), kind)))), kind).to.equal(kind);
    }
  });

  it('keep their frequency while it is asked for, and lose what is of another kind', () => {
    const fine = after(sharp, setImageKind(image(sharp), 'mtf'));
    expect(image(fine).frequency).to.be.above(0);
    const finer = after(fine, setGoal(image(fine), 'frequency', 80));
    expect(image(after(finer, setImageKind(image(finer), 'mtf'))).frequency).to.equal(80);
    expect(image(after(finer, setImageKind(image(finer), 'spot')))).to.not.have.property('frequency');
    const built = after(sharp, setGoal(image(sharp), 'workshop', 'usual'));
    expect(image(after(built, setImageKind(image(built), 'wavefront')))).to.not.have.property('workshop');
    expect(image(after(built, setGoal(image(built), 'weight', 3)))).to.include({ weight: 3, workshop: 'usual' });
  });

  it('take numbers as they are typed, and say what is none', () => {
    expect(readFrequency(' 12,5 ')).to.deep.equal({ ok: true, value: 12.5 });
    for (const text of ['0', '-3', 'fine', '', 'Infinity']) expect(readFrequency(text).ok, text).to.equal(false);
    expect(readWeight('0')).to.deep.equal({ ok: true, value: 0 });
    for (const text of ['-1', '', 'much']) expect(readWeight(text).ok, text).to.equal(false);
  });
});

describe('goals about measures', () => {
  it('have for their target what the measure is now', () => {
    const made = after(SAMPLE, addMeasureGoal(SAMPLE, lens, 'distortion', -0.68712345));
    expect(made.goals![0]).to.deep.include({ measure: 'distortion', target: -0.687123, settings: { field: 'edge' } });
    expect(goalName(made.goals![0])).to.equal('Distortion');
    expect(after(SAMPLE, addMeasureGoal(SAMPLE, lens, 'distortion', null)).goals![0]).to.not.have.property('target');
    expect(addMeasureGoal(SAMPLE, lens, 'beauty', 1)).to.deep.include({ ok: false });
    expect(addMeasureGoal({ ...SAMPLE, scenes: [] }, lens, 'detector_flux', 1)).to.deep.include({ ok: false });
  });

  it('come from the requirements, each once', () => {
    const wanted = after(SAMPLE, goalsFromRequirements(SAMPLE));
    const limited = SAMPLE.requirements.filter(({ min, max }) => min !== undefined || max !== undefined);
    expect(wanted.goals).to.have.length(limited.length);
    expect(goalsFromRequirements(wanted).edits).to.deep.equal([]);
    const [first] = wanted.goals!;
    const fewer = after(wanted, removeGoal(wanted, first));
    expect(after(fewer, goalsFromRequirements(fewer)).goals).to.have.length(limited.length);
  });

  it('refuse limits that cross, and go as they came', () => {
    const made = after(SAMPLE, addMeasureGoal(SAMPLE, lens, 'total_length', 42));
    const [goal] = made.goals!;
    const limited = after(made, setGoal(goal, 'max', 40));
    expect(setGoal(limited.goals![0], 'min', 41)).to.deep.include({ ok: false });
    expect(setGoal(limited.goals![0], 'min', 40).ok).to.equal(true);
    expect(after(made, removeGoal(made, goal))).to.not.have.property('goals');
  });
});

describe('groups of goals', () => {
  const goals = (project: Project): readonly Goal[] => project.goals!;
  const two = after(sharp, addMeasureGoal(sharp, lens, 'total_length', 42));
  const grouped = after(two, groupGoal(two, goals(two)[1], ':new'));

  it('come with their first goal, take others in, and let them out', () => {
    expect(grouped.goalGroups).to.deep.equal([{ id: 'group1', name: 'Group 1', weight: 1 }]);
    expect(goals(grouped).map(({ group }) => group)).to.deep.equal([undefined, 'group1']);
    const both = after(grouped, groupGoal(grouped, goals(grouped)[0], 'group1'));
    expect(goals(both).every(({ group }) => group === 'group1')).to.equal(true);
    const out = after(both, groupGoal(both, goals(both)[1], ''));
    expect(goals(out).map(({ group }) => group)).to.deep.equal(['group1', undefined]);
    const another = after(grouped, groupGoal(grouped, goals(grouped)[0], ':new'));
    expect(another.goalGroups!.map(({ name }) => name)).to.deep.equal(['Group 1', 'Group 2']);
  });

  it('are weighed and named, and leave their goals behind when they are dissolved', () => {
    const [group] = grouped.goalGroups!;
    const heavy = after(grouped, setGroup(group, 'weight', 5));
    expect(heavy.goalGroups![0].weight).to.equal(5);
    expect(after(grouped, setGroup(group, 'off', true)).goalGroups![0].off).to.equal(true);
    expect(after(heavy, removeGroup(heavy, heavy.goalGroups![0]))).to.deep.equal(two);
  });
});

describe('numbers that may move', () => {
  const address = (rest: string) => `lenses.tide.surfaces.${rest}`;

  it('are radii and thicknesses that do not follow from others, and no flat stop', () => {
    const radii = turnable(SAMPLE, lens, 'radii');
    expect(radii).to.include(address('l1_front.radius')).and.not.include(address('stop.radius'));
    expect(radii.some((one) => one.includes('sensor'))).to.equal(false);
    const linked: Project = {
      ...SAMPLE,
      parameters: { [address('l1_front.radius')]: { kind: 'linked', formula: '10' } },
    };
    expect(turnable(linked, lens, 'radii')).to.deep.equal(radii.slice(1));
    expect(turnable(SAMPLE, lens, 'thicknesses')).to.have.length(lens.surfaces.length - 1);
  });

  it('are told in the order of the lens', () => {
    const names = ['l4_back.thickness', 'l1_front.thickness', 'l3_l4.radius', 'l1_front.radius'];
    const parameters = Object.fromEntries(names.map((name) => [address(name), { kind: 'free' as const }]));
    expect(freeAddresses({ ...SAMPLE, parameters })).to.deep.equal(
      ['l1_front.radius', 'l1_front.thickness', 'l3_l4.radius', 'l4_back.thickness'].map(address),
    );
  });

  it('have bounds that do not cross, and lose them one by one', () => {
    const low = setBound({ kind: 'free' }, 'min', 3);
    expect(low).to.deep.equal({ ok: true, value: { kind: 'free', min: 3 } });
    expect(setBound({ kind: 'free', min: 3 }, 'max', 3)).to.deep.include({ ok: false });
    expect(setBound({ kind: 'free', min: 3 }, 'max', 4)).to.deep.equal({
      ok: true,
      value: { kind: 'free', min: 3, max: 4 },
    });
    expect(setBound({ kind: 'free', min: 3, max: 4 }, 'min', undefined)).to.deep.equal({
      ok: true,
      value: { kind: 'free', max: 4 },
    });
    expect(setBound(undefined, 'min', 1)).to.deep.equal({ ok: true, value: { kind: 'free', min: 1 } });
  });
});
