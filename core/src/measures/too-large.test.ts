import { expect } from 'chai';
import { evaluateMeasure } from './registry.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';

const single = quickProject([
  { r: 50, t: 5, n: 1.5 },
  { r: -50, t: 45 },
]);

function withMany(fields: number, waves: number): Project {
  const [lens] = single.lenses;
  const points = Array.from({ length: fields }, (_, i) => ({ id: `f${i}`, x: 0, y: i / 1000, weight: 1 }));
  const wavelengths = Array.from({ length: waves }, (_, i) => ({ id: `w${i}`, nm: 500 + i / 10, weight: 1 }));
  return {
    ...single,
    lenses: [
      { ...lens, fields: { kind: 'angle', points }, wavelengths, primary: 'w0' },
      { ...lens, id: 'other' },
    ],
  };
}

describe('a lens beyond the budget', () => {
  it('says what is too large and what would do, and leaves the others alone', () => {
    const project = withMany(500, 500);
    const evaluation = new Evaluation(project);
    const refused = evaluation.lens('lens');
    expect(!refused.ok && refused.reason).to.equal(
      '3 surfaces × 500 fields × 500 wavelengths are 750,000 to be traced; 400,000 are the most. Delete fields: 266 of them would do.',
    );
    expect(evaluateMeasure(evaluation, { measure: 'rms_spot_radius', lens: 'lens', settings: {} }).ok).to.equal(false);
    expect(evaluateMeasure(evaluation, { measure: 'rms_spot_radius', lens: 'other', settings: {} }).ok).to.equal(true);
    expect(new Evaluation(withMany(266, 500)).lens('lens').ok).to.equal(true);
  });
});
