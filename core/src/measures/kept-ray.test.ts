import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import type { KeptRay } from '../project/model.ts';
import { evaluateMeasure } from './registry.ts';

const PLATE: readonly Quick[] = [{ t: 10, n: 1.5 }, { t: 30 }];

describe('measures of kept rays', () => {
  it('give the numbers of a ray at a surface, and say what is missing', () => {
    const kept: KeptRay = {
      id: 'low',
      name: 'Low ray',
      wavelength: null,
      source: { kind: 'launched', x: 0, y: 0, z: -20, tx: 0, ty: 30 },
    };
    const evaluation = new Evaluation(quickProject(PLATE, { rays: [kept] }));
    const value = (measure: string, settings: Record<string, string>) =>
      evaluateMeasure(evaluation, { measure, lens: 'lens', settings });
    const angle = value('ray_angle', { ray: 'low', surface: 's1' });
    expect(angle.ok && angle.value.value).to.be.closeTo(30, 1e-12);
    const y = value('ray_position', {});
    expect(y.ok && y.value.how).to.equal('Low ray at Image');
    const flux = value('ray_flux', { surface: 's2' });
    expect(flux.ok && flux.value.value).to.be.within(80, 96);
    const other = value('ray_position', { ray: 'high' });
    expect(!other.ok && other.reason).to.contain('“high”');
    const nowhere = value('ray_position', { surface: 's9' });
    expect(!nowhere.ok && nowhere.reason).to.contain('“s9”');
    const none = evaluateMeasure(new Evaluation(quickProject(PLATE)), {
      measure: 'ray_flux',
      lens: 'lens',
      settings: {},
    });
    expect(!none.ok && none.reason).to.contain('ray inspector');
  });
});
