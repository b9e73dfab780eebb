import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation, lensSection, readProjectText, type Project, type Tolerance } from '@ulvex/core';
import {
  lotByResponse,
  makeTrials,
  responseByDerivatives,
  summaryOf,
  sumUp,
  watchedRequirements,
  type LotTrial,
} from '@ulvex/core/tolerance';
import { commonLimits, limitsText, pastedLimits, toleranceGroups } from './groups.ts';
import { cumulative, histogramOf } from './histogram.ts';
import { isLot } from './kept-lot.ts';
import { badness, boundText } from './limits.ts';
import { movedOutlines } from './moved-outline.ts';
import { spreadsOf } from './made-spreads.ts';
import { answersFor, madeAlike, studyOf, type RoomStudy } from './study-of.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('The sample cannot be read.');
const { project } = read;
const tolerances = project.tolerancing!.tolerances;
const groups = toleranceGroups(project, tolerances);

function* makeSome(study: RoomStudy, count: number): Generator<LotTrial> {
  const work = makeTrials({ ...study, seed: 1 }, 0, count);
  for (let step = work.next(); !step.done; step = work.next()) yield step.value;
}

describe('the list of tolerances', () => {
  it('has all of them once, by kind, with short titles and one unit a group', () => {
    expect(groups.map(({ title }) => title)).to.deep.equal([
      'Form',
      'Distances',
      'Wedge',
      'Shift in cell',
      'Tilt in cell',
      'Index',
      'Abbe number',
    ]);
    const rows = groups.flatMap((group) => group.rows);
    expect(new Set(rows.map(({ tolerance }) => tolerance.id)).size).to.equal(tolerances.length);
    expect(groups[0].rows[0]).to.include({ title: 'L1 front radius', short: 'L1 front' });
    expect(groups[3].rows[0]).to.include({ title: 'L1 shift x', short: 'L1 x' });
    expect(groups.map(({ unit }) => unit)).to.deep.equal(['fringes', 'mm', 'mm', 'mm', '°', '', '%']);
  });

  it('says limits in one cell, and those that a group has in common', () => {
    expect(limitsText({ lower: -0.05, upper: 0.05 })).to.equal('±0.05');
    expect(limitsText({ lower: -0.1, upper: 0.2 })).to.equal('−0.1 +0.2');
    expect(limitsText({ lower: 0, upper: 0.2 })).to.equal('0 +0.2');
    expect(commonLimits(groups[0])).to.include({ lower: -3, upper: 3 });
    expect(commonLimits(groups[1])).to.equal(null); // glass and gaps
  });

  it('takes lines of a spreadsheet from a row on, all or none', () => {
    const { rows } = groups[0];
    const pasted = pastedLimits(rows, 1, ['2', '-1\t+4']);
    expect(pasted.ok && [...pasted.value]).to.deep.equal([
      [rows[1].tolerance.id, { lower: -2, upper: 2 }],
      [rows[2].tolerance.id, { lower: -1, upper: 4 }],
    ]);
    const wrong = pastedLimits(rows, 0, ['1', 'two']);
    expect(!wrong.ok && wrong.reason).to.match(/^Line 2 of 2/);
    const long = pastedLimits(rows, rows.length - 1, ['1', '2']);
    expect(!long.ok && long.reason).to.match(/only 1 tolerances/);
  });
});

describe('what is watched', () => {
  it('are the requirements with what is allowed when made, those of studies only', () => {
    const ids = watchedRequirements(project).map(({ id }) => id);
    expect(ids).to.include('worst_spot').and.not.include('sensor_angle');
    expect(watchedRequirements(project).find(({ id }) => id === 'worst_spot')!.max).to.equal(12);
    expect(watchedRequirements(project, true)).to.have.length(project.requirements.length);
  });

  it('lets a study answer for others of the same design that watch no more', () => {
    const study = studyOf(project);
    const fewer: Project = {
      ...project,
      tolerancing: { ...project.tolerancing!, watch: [{ requirement: 'length', off: true }] },
    };
    // `length` less, `sensor_angle` more.
    expect(answersFor(study, studyOf(fewer))).to.equal(false);
    expect(answersFor(studyOf({ ...project, tolerancing: { tolerances } }), studyOf(project))).to.equal(false); // no refocus
    const looser = { ...project, requirements: project.requirements.map((one) => ({ ...one, max: 99 })) };
    expect(answersFor(study, studyOf(looser))).to.equal(true);
    expect(madeAlike(project, looser)).to.equal(true);
    // Equal is enough: what was undone is made anew.
    expect(madeAlike(project, { ...project, lenses: [{ ...project.lenses[0] }] })).to.equal(true);
    expect(madeAlike(project, { ...project, lenses: [{ ...project.lenses[0], stop: 'l1_front' }] })).to.equal(false);
    // A state that is added says nothing about the trials; one that changes does.
    const [near] = project.states!;
    const trial = { ...near, id: 'trial' };
    expect(madeAlike(project, { ...project, states: [...project.states!, trial] })).to.equal(true);
    expect(madeAlike(project, { ...project, states: [{ ...near, overrides: [] }] })).to.equal(false);
  });
});

describe('how requirements spread when made', () => {
  it('is known by derivatives for those that have them, near to what trials say', () => {
    const study = studyOf(project);
    const response = responseByDerivatives(study);
    if (!response.ok) throw new Error(response.reason);
    const lot = lotByResponse(response.value, study.tolerances, 1, 5000);
    if (!lot.ok) throw new Error(lot.reason);
    const spreads = spreadsOf(sumUp(lot.value, study.watched), study.watched);
    expect([...spreads.keys()]).to.have.members(study.watched.map(({ id }) => id));
    const traced = [...makeSome(study, 120)];
    study.watched.forEach(({ id }, k) => {
      const summary = summaryOf(
        traced.map(({ values }) => values[k]),
        {},
      )!;
      const { mean, deviation } = spreads.get(id)!;
      // 120 trials know σ to 6.5 %, and the mean to 0.09 σ.
      expect(deviation / summary.deviation, id).to.be.within(0.8, 1.2);
      expect(Math.abs(mean - summary.mean) / summary.deviation, id).to.be.below(0.27);
    });
    expect(spreadsOf(null, study.watched).size).to.equal(0);
  });
});

describe('a lot that is kept for the tab', () => {
  const trial = (number: number, values: readonly (number | null)[]) => ({ trial: number, values, moved: [0.1] });
  const study = studyOf(project);
  const some = study.watched.map((_, k) => k);
  const lot = {
    project: 'p',
    study,
    seed: 1,
    of: 10,
    running: true,
    design: { values: [], units: [] },
    trials: [trial(0, some), trial(1, [null, ...some.slice(1)])],
  };

  it('is known by its shape; anything else is none', () => {
    expect(isLot(JSON.parse(JSON.stringify(lot)))).to.equal(true);
    for (const wrong of [
      null,
      7,
      {},
      { ...lot, study: null },
      { ...lot, seed: 'one' },
      { ...lot, trials: [trial(1, some)] },
      { ...lot, trials: [trial(0, some.slice(1))] },
      { ...lot, trials: [{ ...trial(0, some), values: some.map(String) }] },
      { ...lot, trials: [null] },
    ])
      expect(isLot(wrong)).to.equal(false);
  });
});

describe('a histogram', () => {
  it('counts every value once, in round steps', () => {
    const values = Array.from({ length: 400 }, (_, i) => Math.sin(i) * 3 + 7);
    const found = histogramOf(values)!;
    expect(found.counts.reduce((sum, count) => sum + count, 0)).to.equal(400);
    expect(found.from).to.be.at.most(Math.min(...values));
    expect(found.from + found.width * found.counts.length).to.be.at.least(Math.max(...values));
    expect(found.width.toExponential()).to.match(/^[125](e|\.0)/);
    found.counts.forEach((count, k) => {
      const [from, to] = [found.from + k * found.width, found.from + (k + 1) * found.width];
      const inside = values.filter((value) => value >= from && (value < to || k === found.counts.length - 1));
      expect(Math.abs(inside.length - count)).to.be.at.most(1); // rounding at an end
    });
  });

  it('of equal values, of one, of none', () => {
    expect(histogramOf([])).to.equal(null);
    expect(histogramOf([NaN])).to.equal(null);
    expect(histogramOf([5])!.counts).to.deep.equal([1]);
    expect(histogramOf([0, 0, 0])!.counts.reduce((sum, count) => sum + count, 0)).to.equal(3);
    expect(cumulative([3, 1, 2])).to.deep.equal([
      { x: 1, share: 1 / 3 },
      { x: 2, share: 2 / 3 },
      { x: 3, share: 1 },
    ]);
  });

  it('has few corners for many values, the last one at 1', () => {
    const many = cumulative(Array.from({ length: 5000 }, (_, i) => i));
    expect(many).to.have.length(400);
    expect(many.at(-1)).to.deep.equal({ x: 4999, share: 1 });
    for (const { x, share } of many) expect((x + 1) / 5000).to.equal(share);
  });

  it('the worst values are beyond a limit, or off the middle of two', () => {
    expect(badness({ max: 3 }, 0)(5)).to.be.above(badness({ max: 3 }, 0)(2));
    expect(badness({ min: 3 }, 0)(2)).to.be.above(badness({ min: 3 }, 0)(5));
    expect(badness({ min: 0, max: 10 }, 0)(1)).to.equal(badness({ min: 0, max: 10 }, 0)(9));
    expect(badness({}, 4)(1)).to.equal(3);
    expect(boundText({ min: -2, max: 2 })).to.equal('−2 … 2');
    expect([boundText({ max: 12 }), boundText({ min: 1 }), boundText({})]).to.deep.equal(['≤ 12', '≥ 1', '–']);
  });
});

describe('what a tolerance moves, drawn', () => {
  const [lens] = project.lenses;
  const found = new Evaluation(project).lens(lens.id);
  if (!found.ok) throw new Error(found.reason);
  const section = lensSection(found.value, { raysPerField: 0 });
  const outlines = (tolerance: Tolerance) => movedOutlines(project, lens, section, tolerance);

  it('is something for each tolerance of the sample, and nothing for what is not of the lens', () => {
    for (const tolerance of tolerances) expect(outlines(tolerance), tolerance.id).to.not.be.empty;
    const other = { id: 'o', kind: 'number', address: 'scenes.a.parts.b.dx', lower: -1, upper: 1 } as const;
    expect(outlines(other)).to.be.empty;
  });

  it('an element goes up as a whole, a cemented pair with both bodies; what goes out of the plane is marked', () => {
    const base = { id: 't', kind: 'element', lens: lens.id, lower: -1, upper: 1 } as const;
    const up = outlines({ ...base, surface: 'l3_front', motion: 'shift_y' });
    expect(up).to.have.length(2);
    const bodies = section.elements.filter(({ front }) => front === 'l3_front' || front === 'l3_l4');
    up.forEach(({ points }, k) => {
      const shift = points[1] - bodies[k].outline[1];
      expect(shift).to.be.above(0);
      for (let i = 0; i < points.length; i += 2) {
        expect(points[i]).to.equal(bodies[k].outline[i]);
        expect(points[i + 1] - bodies[k].outline[i + 1]).to.be.closeTo(shift, 1e-12);
      }
    });
    expect(outlines({ ...base, surface: 'l1_front', motion: 'shift_x' })[0].across).to.equal(true);
    // A positive tilt about x takes the upper end to +z, as the model does.
    const [tilted] = outlines({ ...base, surface: 'l1_front', motion: 'tilt_x' });
    const { outline } = section.elements[0];
    const top = Array.from({ length: outline.length / 2 }, (_, i) => i).reduce((a, b) =>
      outline[2 * b + 1] > outline[2 * a + 1] ? b : a,
    );
    expect(tilted.points[2 * top]).to.be.above(outline[2 * top]);
  });
});
