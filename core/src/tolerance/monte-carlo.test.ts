import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { keeps, summaryOf, type LotTrial } from './lot-summary.ts';
import { LotDraws, makeTrials, trialProject, type Lot } from './monte-carlo.ts';
import { oneByOne, tryOut, type Watched } from './one-by-one.ts';

const at = (path: string) => `lenses.lens.surfaces.${path}`;
const SINGLET: readonly Quick[] = [
  { r: 50, t: 4, n: 1.5 },
  { r: -300, t: 80 },
];
const TOLERANCES: readonly Tolerance[] = [
  { id: 'r1', kind: 'share', address: at('s1.radius'), lower: -1, upper: 1 },
  { id: 'r2', kind: 'number', address: at('s2.radius'), lower: -3, upper: 6, distribution: { kind: 'triangular' } },
  {
    id: 't',
    kind: 'number',
    address: at('s1.thickness'),
    lower: -0.3,
    upper: 0.3,
    distribution: { kind: 'normal', sigmas: 2 },
  },
  { id: 'x', kind: 'number', address: at('s1.radius'), lower: -20, upper: 20, off: true },
];
const FOCUS: readonly Compensator[] = [{ id: 'c', kind: 'refocus', lens: 'lens', criterion: 'paraxial' }];
const WATCHED: readonly Watched[] = [
  { id: 'f', measure: 'effective_focal_length', lens: 'lens', settings: {} },
  { id: 's', measure: 'rms_spot_radius', lens: 'lens', settings: { field: 'axis' } },
];
const LOT: Lot = {
  project: quickProject(SINGLET),
  tolerances: TOLERANCES,
  compensators: FOCUS,
  watched: WATCHED,
  seed: 7,
};

function trialsOf(lot: Lot, from: number, to: number): LotTrial[] {
  const work = makeTrials(lot, from, to);
  const trials: LotTrial[] = [];
  for (;;) {
    const step = work.next();
    if (!step.done) trials.push(step.value);
    else if (!step.value.ok) throw new Error(step.value.reason);
    else return trials;
  }
}

describe('lots made at random', () => {
  it('are the same for a seed, whichever trials are made where, and others for another', () => {
    const whole = trialsOf(LOT, 0, 12);
    expect([...trialsOf(LOT, 0, 5), ...trialsOf(LOT, 5, 12)]).to.deep.equal(whole);
    expect(trialsOf({ ...LOT, seed: 8 }, 0, 1)[0].values).to.not.deep.equal(whole[0].values);
  });

  it('begin near the design, and come to the values of a trial that begins nowhere', () => {
    const draws = LotDraws.of(TOLERANCES, LOT.seed);
    if (!draws.ok) throw new Error(draws.reason);
    for (const { trial, values, moved } of trialsOf(LOT, 0, 6)) {
      const alone = tryOut(LOT.project, draws.value.of(trial), LOT.compensators, LOT.watched);
      if (!alone.ok) throw new Error(alone.reason);
      expect(moved[0]).to.be.closeTo(alone.value.moved[0], 1e-9);
      alone.value.values.forEach((value, k) => {
        if (!value.ok) throw new Error(value.reason);
        expect(values[k]! / value.value).to.be.closeTo(1, 1e-9);
      });
      // The project of a trial, opened: its values are those of the trial.
      const project = trialProject(LOT, trial);
      const found = project.ok && evaluateMeasure(new Evaluation(project.value), LOT.watched[0]);
      expect(found && found.ok && found.value.value / values[0]!).to.be.closeTo(1, 1e-9);
    }
  });

  it('draw departures with the moments of their distributions, and none that is off', () => {
    const draws = LotDraws.of(TOLERANCES, 3);
    if (!draws.ok) throw new Error(draws.reason);
    expect(draws.value.of(0).map(({ of }) => (of as Tolerance).id)).to.deep.equal(['r1', 'r2', 't']);
    const count = 20_000;
    const drawn = Array.from({ length: count }, (_, trial) => draws.value.of(trial).map(({ by }) => by));
    const moments = (i: number) => {
      const mean = drawn.reduce((sum, row) => sum + row[i], 0) / count;
      return [mean, Math.sqrt(drawn.reduce((sum, row) => sum + (row[i] - mean) ** 2, 0) / count)];
    };
    // Uniform ±1; a triangle from −3 to 6 with its peak at 0; normal with 0.3 = 2σ. Within five standard errors.
    [
      [0, 1 / Math.sqrt(3)],
      [1, Math.sqrt((9 + 36 + 18) / 18)],
      [0, 0.15],
    ].forEach(([mean, deviation], i) => {
      const [m, d] = moments(i);
      expect(m).to.be.closeTo(mean, (5 * deviation) / Math.sqrt(count));
      expect(d).to.be.closeTo(deviation, (5 * deviation) / Math.sqrt(count));
    });
    const covariance = drawn.reduce((sum, row) => sum + row[0] * row[2], 0) / count;
    expect(covariance).to.be.closeTo(0, (5 * 0.15) / Math.sqrt(3 * count));
  });

  it('spread a focal length as its derivatives say, within three standard errors', () => {
    const trials = trialsOf(LOT, 0, 600);
    const summary = summaryOf(
      trials.map(({ values }) => values[0]),
      {},
    )!;
    const work = oneByOne(LOT);
    let step = work.next();
    while (!step.done) step = work.next();
    if (!step.value.ok) throw new Error(step.value.reason);
    const { nominal, influences } = step.value.value;
    const design = nominal[0].ok ? nominal[0].value : NaN;
    const mean = design + influences.reduce((sum, [one]) => sum + one.shift, 0);
    const deviation = Math.hypot(...influences.map(([one]) => one.deviation));
    expect(summary.mean).to.be.closeTo(mean, 3 * summary.meanError);
    expect(summary.deviation).to.be.closeTo(deviation, (3 * deviation) / Math.sqrt(2 * 600));
    // The last distance follows the focal length where the image is set after making.
    expect(Math.max(...trials.map(({ moved }) => Math.abs(moved[0])))).to.be.above(0.5);
  });

  it('count a trial without a value as failed, with its reason', () => {
    const wild: Tolerance = { ...TOLERANCES[0], id: 'wild', lower: -98, upper: 0 } as Tolerance;
    const trials = trialsOf({ ...LOT, tolerances: [wild] }, 0, 40);
    const lost = trials.filter(({ values }) => values[1] === null);
    expect(lost.length).to.be.above(0);
    for (const { reason } of lost) expect(reason).to.match(/\w/);
    const summary = summaryOf(
      trials.map(({ values }) => values[1]),
      {},
    )!;
    expect([summary.count, summary.trials, summary.passed]).to.deep.equal([40 - lost.length, 40, 40 - lost.length]);
    expect(summary.yield).to.equal(summary.passed / 40);
  });

  it('are refused where a tolerance cannot be drawn', () => {
    const first = makeTrials({ ...LOT, tolerances: [{ ...TOLERANCES[0], upper: -1 }] }, 0, 1).next();
    expect(first.done).to.equal(true);
    expect(first.value).to.deep.include({ ok: false, where: 'r1' });
  });

  it('sum up: percentiles, limits, and what a normal distribution would make of them', () => {
    const values = Array.from({ length: 101 }, (_, k) => k);
    const summary = summaryOf([...values, null], { min: 10, max: 80 })!;
    expect(summary.mean).to.equal(50);
    expect(summary.percentiles).to.deep.equal({ p10: 10, p50: 50, p90: 90, p98: 98 });
    expect(summary.passed).to.equal(71);
    expect(summary.yield).to.equal(71 / 102);
    expect(summary.yieldRange[0]).to.be.below(71 / 102);
    expect(summary.normal.cpk).to.be.closeTo(30 / (3 * summary.deviation), 1e-12);
    expect(summaryOf([null], {})).to.equal(null);
    expect([keeps(3, { max: 3 }), keeps(3.1, { max: 3 }), keeps(null, {})]).to.deep.equal([true, false, false]);
  });
});
