import { expect } from 'chai';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { fitJoint, joint, jointTrials, type Joint, type JointTrial } from './joint.ts';
import { summaryOf } from './lot-summary.ts';
import { makeTrials } from './monte-carlo.ts';
import type { Watched } from './one-by-one.ts';
import { lotByResponse } from './response-lot.ts';

const at = (path: string) => `lenses.lens.surfaces.${path}`;
const PAIR: readonly Quick[] = [
  { r: 60, t: 5, n: 1.52 },
  { r: -45, t: 2, n: 1.65 },
  { r: -150, t: 95 },
];
const PROJECT = quickProject(PAIR);
const TOLERANCES: readonly Tolerance[] = [
  { id: 'r1', kind: 'share', address: at('s1.radius'), lower: -0.5, upper: 0.5 },
  { id: 'r2', kind: 'share', address: at('s2.radius'), lower: -0.2, upper: 0.6 },
  {
    id: 't',
    kind: 'number',
    address: at('s1.thickness'),
    lower: -0.2,
    upper: 0.2,
    distribution: { kind: 'triangular' },
  },
  { id: 'w', kind: 'number', address: at('s2.tx'), lower: -0.05, upper: 0.05 },
  { id: 'x', kind: 'element', lens: 'lens', surface: 's1', motion: 'tilt_x', lower: -0.1, upper: 0.1 },
];
const FOCUS: readonly Compensator[] = [{ id: 'c', kind: 'refocus', lens: 'lens', criterion: 'centroid' }];
const WATCHED: readonly Watched[] = [
  { id: 'f', measure: 'effective_focal_length', lens: 'lens', settings: {} },
  { id: 's', measure: 'rms_spot_radius', lens: 'lens', settings: { field: 'axis' } },
];

const STUDY = { project: PROJECT, tolerances: TOLERANCES, compensators: FOCUS, watched: WATCHED };

function studied(wanted = 0.05, most = 400): Joint {
  const work = joint(STUDY, { seed: 3, wanted, most });
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return step.value.value;
}

describe('tolerances jointly', () => {
  it('give a focal length that is nearly quadratic: a good fit with the slopes of differences', () => {
    const { response, quality, trials, lost } = studied(1e-3, 900);
    const [focal] = quality;
    expect(focal!.verdict).to.equal('good');
    expect(focal!.error).to.be.below(1e-3);
    expect([trials >= 21, lost]).to.deep.equal([true, 0]);
    // Neither a tilted surface nor a tilted lens changes a paraxial number.
    for (const k of [3, 4]) expect(Math.abs(response.quadratics[0]!.slopes[k])).to.be.below(1e-3);
  });

  it('agree with lots made and traced one by one, within three standard errors', () => {
    const { response, quality } = studied(0.02, 900);
    const lot = { ...STUDY, seed: 11 };
    const work = makeTrials(lot, 0, 500);
    const rows: (readonly (number | null)[])[] = [];
    for (let step = work.next(); !step.done; step = work.next()) rows.push(step.value.values);
    const fitted = lotByResponse(response, TOLERANCES, 5, 20_000);
    if (!fitted.ok) throw new Error(fitted.reason);
    quality.forEach((one, k) => {
      const direct = summaryOf(
        rows.map((row) => row[k]),
        {},
      )!;
      const many = summaryOf([...fitted.value.values[k]], {})!;
      // The fit's own error counts beside that of the lot.
      const room = 3 * direct.meanError + one!.error * direct.deviation * 0.3;
      expect(direct.mean, `mean ${k}`).to.be.closeTo(many.mean, room);
      expect(direct.deviation / many.deviation, `deviation ${k}`).to.be.within(0.88, 1.12);
    });
  });

  it('mend what derivatives do not know: wide tolerances bend a focal length, and the trials say so', () => {
    const wide = TOLERANCES.map((one) => ({ ...one, lower: 20 * one.lower, upper: 20 * one.upper })).slice(0, 2);
    const input = { ...STUDY, tolerances: wide, watched: WATCHED.slice(0, 1) };
    const start = responseByDerivatives(input);
    if (!start.ok) throw new Error(start.reason);
    const trials: JointTrial[] = [];
    const work = jointTrials(input, start.value, 3, 0, 60);
    for (let step = work.next(); !step.done; step = work.next()) trials.push(step.value);
    const { response, quality } = fitJoint(start.value, 3, trials);
    expect(start.value.quadratics[0]!.curvatures[0][0]).to.equal(0);
    expect(response.quadratics[0]!.curvatures[0][0]).to.not.equal(0);
    expect(quality[0]!.verdict).to.equal('good');
    expect(quality[0]!.bends).to.have.members(['r1', 'r2']);
    // The same trials, made in two parts.
    const part = jointTrials(input, start.value, 3, 20, 21).next();
    expect(part.value).to.deep.equal(trials[20]);
  });

  it('take more trials for a better fit, and say where none is good enough', () => {
    const quick = studied(1, 400);
    const careful = studied(1e-9, 400);
    expect(careful.trials).to.be.above(quick.trials);
    expect(careful.trials).to.be.at.most(400);
  });

  it('are refused where the trials that are allowed are too few', () => {
    const step = joint(STUDY, { seed: 1, wanted: 0.1, most: 10 }).next();
    expect(step.done).to.equal(true);
    expect(step.value).to.deep.include({ ok: false });
  });
});
