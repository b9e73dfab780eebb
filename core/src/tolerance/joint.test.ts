import { expect } from 'chai';
import { responseMoments } from '../math/quadratic-response.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { joint, type Joint } from './joint.ts';
import { summaryOf } from './lot-summary.ts';
import { makeTrials } from './monte-carlo.ts';
import type { Watched } from './one-by-one.ts';

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

function studied(wanted = 0.05, most = 400): Joint {
  const work = joint(PROJECT, TOLERANCES, FOCUS, WATCHED, { seed: 3, wanted, most });
  let step = work.next();
  while (!step.done) step = work.next();
  if (!step.value.ok) throw new Error(step.value.reason);
  return step.value.value;
}

describe('tolerances jointly', () => {
  it('give a focal length that is nearly quadratic: a good fit with the slopes of differences', () => {
    const { responses, trials, lost } = studied();
    const [focal] = responses;
    expect(focal!.verdict).to.equal('good');
    expect(focal!.error).to.be.below(1e-3);
    expect([trials >= 21, lost]).to.deep.equal([true, 0]);
    // Neither a tilted surface nor a tilted lens changes a paraxial number.
    for (const k of [3, 4]) expect(Math.abs(focal!.response.slopes[k])).to.be.below(1e-3);
  });

  it('agree with lots made and traced one by one, within three standard errors', () => {
    const { responses, moments } = studied(0.02, 900);
    const lot = { project: PROJECT, tolerances: TOLERANCES, compensators: FOCUS, watched: WATCHED, seed: 11 };
    const work = makeTrials(lot, 0, 500);
    const rows: (readonly (number | null)[])[] = [];
    for (let step = work.next(); !step.done; step = work.next()) rows.push(step.value.values);
    responses.forEach((one, k) => {
      const direct = summaryOf(
        rows.map((row) => row[k]),
        {},
      )!;
      const { mean, variance } = responseMoments(one!.response, moments);
      // The fit's own error counts beside that of the lot.
      const room = 3 * direct.meanError + one!.error * direct.deviation * 0.3;
      expect(direct.mean, `mean ${k}`).to.be.closeTo(mean, room);
      expect(direct.deviation / Math.sqrt(variance), `deviation ${k}`).to.be.within(0.88, 1.12);
    });
  });

  it('take more trials for a better fit, and say where none is good enough', () => {
    const quick = studied(1, 400);
    const careful = studied(1e-9, 400);
    expect(careful.trials).to.be.above(quick.trials);
    expect(careful.trials).to.be.at.most(400);
  });

  it('are refused where the trials that are allowed are too few', () => {
    const step = joint(PROJECT, TOLERANCES, FOCUS, WATCHED, { seed: 1, wanted: 0.1, most: 20 }).next();
    expect(step.done).to.equal(true);
    expect(step.value).to.deep.include({ ok: false });
  });
});
