import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { focusOf } from '../imaging/point/refocus.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { readProjectText } from '../project/read.ts';
import { makeTrials } from './monte-carlo.ts';
import { summaryOf } from './lot-summary.ts';
import { evaluateMeasure } from '../measures/registry.ts';

function tide(): Project {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  return read.project;
}

function asMade(project: Project, settings: object = {}, lens = 'tide'): number {
  const found = evaluateMeasure(new Evaluation(project), { measure: 'as_made_spot', lens, settings });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

describe('the spot of lenses as made', () => {
  it('is the percentile of a lot that is traced in full', () => {
    const project = tide();
    const { tolerances, compensators = [] } = project.tolerancing!;
    const worst = { id: 'w', measure: 'rms_spot_radius', lens: 'tide', settings: { field: 'worst' } };
    const work = makeTrials({ project, tolerances, compensators, watched: [worst], seed: 3 }, 0, 250);
    const values: number[] = [];
    for (let step = work.next(); !step.done; step = work.next()) values.push(step.value.values[0]!);
    const { percentiles, deviation } = summaryOf(values, {})!;
    // A percentile of 250 normal values has a standard error of 1.7 σ/√250 at 90 %, 1.25 σ/√250 at 50 %.
    const error = deviation / Math.sqrt(250);
    expect(asMade(project)).to.be.closeTo(percentiles.p90, 3 * 1.7 * error);
    expect(asMade(project, { share: 50 })).to.be.closeTo(percentiles.p50, 3 * 1.25 * error);
  });

  it('grows with the share and the limits, and is the spot of the design where there is nothing to depart', () => {
    const project = tide();
    const shares = [10, 50, 90, 99].map((share) => asMade(project, { share }));
    expect(shares).to.deep.equal([...shares].sort((a, b) => a - b));
    const by = (factor: number): Project => ({
      ...project,
      tolerancing: {
        ...project.tolerancing!,
        tolerances: project.tolerancing!.tolerances.map((one) => ({
          ...one,
          lower: factor * one.lower,
          upper: factor * one.upper,
        })),
      },
    });
    expect(asMade(by(2))).to.be.above(asMade(project));
    const focused = focusOf(project, 'tide', 'centroid');
    if (!focused.ok) throw new Error(focused.reason);
    const spot = evaluateMeasure(new Evaluation(applyEdits(project, [focused.value.edit]).project), {
      measure: 'rms_spot_radius',
      lens: 'tide',
      settings: { field: 'edge', pupil: 'full' },
    });
    expect(asMade(by(1e-6), { field: 'edge' })).to.be.closeTo(spot.ok ? spot.value.value : NaN, 0.02);
  });

  it('says what is missing', () => {
    const found = evaluateMeasure(new Evaluation(quickProject([{ r: 50, t: 4, n: 1.5 }, { t: 90 }])), {
      measure: 'as_made_spot',
      lens: 'lens',
      settings: {},
    });
    expect(found).to.deep.include({ ok: false });
    expect(!found.ok && found.reason).to.include('apply a grade');
  });
});
