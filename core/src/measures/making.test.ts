import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { lensFindings } from '../imaging/evaluation/findings.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { evaluateMeasure } from './registry.ts';

/** A biconvex lens of 10 mm aperture, radii ±20 mm: each sag at the rim is 20 − √(400 − 25) mm. */
const SAG = 20 - Math.sqrt(375);
const lensOf = (t: number, change: Partial<Quick> = {}): Quick[] => [
  { r: 20, t, n: 1.5, semi: 5, ...change },
  { r: -20, t: 30, semi: 5 },
];

function value(surfaces: readonly Quick[], id: string, settings: object = {}): number {
  const measured = evaluateMeasure(new Evaluation(quickProject(surfaces)), {
    measure: id,
    lens: 'lens',
    settings,
  });
  if (!measured.ok) throw new Error(measured.reason);
  return measured.value.value;
}

describe('measures of what can be made', () => {
  it('the least clearance is the edge of a biconvex lens, and negative where its faces cross', () => {
    expect(value(lensOf(4), 'least_clearance', { surface: 's1' })).to.be.closeTo(4 - 2 * SAG, 1e-12);
    expect(value(lensOf(1), 'least_clearance')).to.be.closeTo(1 - 2 * SAG, 1e-12);
    const concave: Quick[] = [
      { r: -20, t: 2, n: 1.5, semi: 5 },
      { r: 20, t: 30, semi: 5 },
    ];
    expect(value(concave, 'least_clearance', { surface: 's1' })).to.be.closeTo(2, 1e-12);
  });

  it('the steepest slope of a sphere is asin(h/R)', () => {
    expect(value(lensOf(4), 'steepest_slope')).to.be.closeTo((Math.asin(0.25) * 180) / Math.PI, 1e-10);
    const folding: Quick['shape'] = { kind: 'even_asphere', radius: 20, a4: 0.02 };
    expect(value(lensOf(40, { shape: folding }), 'steepest_slope', { surface: 's1' })).to.be.above(75);
    const lens = new Evaluation(quickProject(lensOf(40, { shape: folding }))).lens('lens');
    if (!lens.ok) throw new Error(lens.reason);
    const texts = lensFindings(lens.value)
      .filter(({ where }) => where === 's1')
      .map(({ text }) => text);
    expect(texts.join()).to.match(/folds up: its slope is 8\d°/);
  });

  it('the margin says how much of a surface is left beyond its semi-aperture', () => {
    expect(value(lensOf(4), 'surface_margin', { surface: 's1' })).to.be.closeTo(300, 1e-9);
    expect(value(lensOf(4, { r: 4 }), 'surface_margin')).to.be.closeTo(-20, 1e-9);
  });

  it('findings are counted by kind and place', () => {
    expect(value(lensOf(4), 'findings', { count: 'both' })).to.equal(0);
    expect(value(lensOf(1), 'findings')).to.equal(1);
    expect(value(lensOf(1), 'findings', { surface: 's2', count: 'errors' })).to.equal(0);
    // Where the faces cross, rays go backward and pass the second one farther out than its aperture: it cuts them.
    expect(value(lensOf(1), 'findings', { surface: 's2', count: 'warnings' })).to.equal(1);
    // The aperture is larger than the surface, and where that ends it is steep.
    expect(value(lensOf(4, { r: 4 }), 'findings', { count: 'warnings', surface: 's1' })).to.equal(2);
    const unknown = evaluateMeasure(new Evaluation(quickProject(lensOf(4))), {
      measure: 'least_clearance',
      lens: 'lens',
      settings: { surface: 'nowhere' },
    });
    expect(!unknown.ok && unknown.reason).to.contain('nowhere');
  });
});
