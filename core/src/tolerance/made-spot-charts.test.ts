import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { findAnalysis, runAnalysis } from '../analyses/registry.ts';
import type { BarPanel, CurvePanel } from '../analyses/panels.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { atOnce } from '../math/steps.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { readProjectText } from '../project/read.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { influencesOf } from './influence.ts';
import { curvesOf } from './response.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('unreadable');
const { project } = read;

function analysed(settings = {}) {
  const found = atOnce(
    runAnalysis(new Evaluation(project), { kind: 'analysis', analysis: 'made_spots', lens: 'tide', settings } as never),
  );
  if (!found.ok) throw new Error(found.reason);
  return found.value.panels as readonly [CurvePanel, BarPanel];
}

describe('charts of spots as made', () => {
  it('show the shares that the measure of them gives, rising from none to all', () => {
    expect(findAnalysis('made_spots')?.title).to.equal('Spots as made');
    const [shares] = analysed();
    expect(shares.curves.map(({ name }) => name)).to.deep.equal(['axis', 'zone', 'edge', 'worst field']);
    for (const { x, y } of shares.curves) {
      expect([...x].sort((a, b) => a - b)).to.deep.equal(x);
      expect(y[0]).to.be.below(0.001);
      expect(y[y.length - 1]).to.be.above(0.999);
    }
    for (const share of [50, 90, 98]) {
      const measure = { measure: 'as_made_spot', lens: 'tide', settings: { field: 'worst', share } };
      const value = evaluateMeasure(new Evaluation(project), measure);
      const figure = shares.figures!.find(({ name }) => name === `${share} % below`)!;
      expect(value.ok && value.value.value).to.be.closeTo(figure.value, 1e-9);
    }
  });

  it('list the tolerances by what they do, as the ladder has it', () => {
    const [, { names, series }] = analysed({ rows: 5 });
    expect(names).to.have.length(5);
    expect(names[0]).to.match(/^L2 shift/);
    const { tolerances, compensators = [] } = project.tolerancing!;
    const edge = { id: 'edge', measure: 'rms_spot_radius', lens: 'tide', settings: { field: 'edge' } };
    const response = responseByDerivatives({ project, tolerances, compensators, watched: [edge] });
    if (!response.ok) throw new Error(response.reason);
    const ladder = influencesOf(response.value.tolerances, curvesOf(response.value));
    if (!ladder.ok) throw new Error(ladder.reason);
    const at = response.value.tolerances.findIndex(({ id }) => id === 'tide_l2_front_shift_y');
    const own = series.find(({ name }) => name === 'edge')!.values[names.indexOf('L2 shift y')];
    expect(own).to.be.closeTo(ladder.value[at][0].deviation, 0.05 * ladder.value[at][0].deviation);
  });
});
