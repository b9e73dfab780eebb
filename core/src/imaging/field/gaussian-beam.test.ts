import { expect } from 'chai';
import { beamAt, beamOfWaist, beamThrough, beamThroughLens, throughHole } from './gaussian-beam.ts';
import { evaluationOf, TWO_ELEMENTS } from '../evaluation/wavefront-fixtures.ts';

const MM = 632.8e-6;

describe('A Gaussian beam', () => {
  const beam = beamOfWaist(0.5, MM);

  it('widens as √(1 + (z/zR)²) about its waist', () => {
    expect(beam.rayleigh).to.be.closeTo((Math.PI * 0.25) / MM, 1e-9);
    for (const z of [-800, 100, 500, 5000]) {
      const { radius, curvature, gouy } = beamAt(beam, z);
      expect(radius).to.be.closeTo(0.5 * Math.sqrt(1 + (z / beam.rayleigh) ** 2), 1e-12);
      expect(curvature).to.be.closeTo(z + beam.rayleigh ** 2 / z, 1e-8);
      expect(gouy).to.be.closeTo(Math.atan2(z, beam.rayleigh), 1e-14);
    }
    expect(beamAt(beam, 0).curvature).to.equal(Infinity);
  });

  it('comes from a thin lens as M = 1/√((1 − s/f)² + (zR/f)²) says', () => {
    const [f, s] = [100, 250];
    const before = beamThrough(beam, { a: 1, b: s, c: 0, d: 1 }, [1, 1]);
    const behind = beamThrough(before, { a: 1, b: 0, c: -1 / f, d: 1 }, [1, 1]);
    const m = 1 / Math.hypot(1 - s / f, beam.rayleigh / f);
    expect(behind.waist).to.be.closeTo(m * 0.5, 1e-12);
    expect(behind.toWaist).to.be.closeTo(f + (s - f) * m * m, 1e-9);
    expect(behind.rayleigh).to.be.closeTo(m * m * beam.rayleigh, 1e-10);
    // The beam is as wide after the lens as before it, and λM² is kept.
    expect(beamAt(behind, 0).radius).to.be.closeTo(beamAt(before, 0).radius, 1e-12);
  });

  it('keeps its product of waist and angle through a lens of glass, M² counted', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 6, field: 3 });
    const steps = beamThroughLens(lens, 0, { waist: 0.4, before: 30, m2: 1.8 });
    if (!steps.ok) throw new Error(steps.reason);
    const product = (1.8 * 587.5618e-6) / Math.PI;
    for (const { behind } of steps.value.slice(0, -1)) {
      const index = lens.model.indices[0][steps.value.findIndex((step) => step.behind === behind) + 1];
      expect((index * behind.waist ** 2) / behind.rayleigh).to.be.closeTo(product, 1e-12);
    }
    // Its edge far from the waist goes like a paraxial ray: the waist lies near the focus.
    const wide = beamThroughLens(lens, 0, { waist: 3, before: 0, m2: 1 });
    if (!wide.ok) throw new Error(wide.reason);
    const focus = lens.primary();
    if (!focus.ok) throw new Error(focus.reason);
    const last = wide.value.at(-2)!;
    expect(last.behind.toWaist).to.be.closeTo(focus.value.backFocalDistance, 0.01);
  });

  it('passes a hole with 1 − exp(−2a²/w²) of its power', () => {
    expect(throughHole(1, 1)).to.be.closeTo(0.8646647167633873, 1e-15);
  });
});
