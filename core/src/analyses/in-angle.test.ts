import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { airyEncircled } from '../imaging/wavefront/airy.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { mtfChart } from '../imaging/point/mtf-chart.ts';
import { perfectModulation } from '../imaging/wavefront/perfect-modulation.ts';
import { opdFans } from '../imaging/wavefront/opd-fan.ts';
import { radiusOf } from '../imaging/point/point-energy.ts';
import { atOnce } from '../math/steps.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { inAngleWords } from './in-angle.ts';
import type { CurvePanel, MapPanel } from './panels.ts';
import { ANALYSES, runAnalysis } from './registry.ts';

const LAMBDA = 587.5618e-6;

/** Two ideal lenses, f = 100 and 25 mm, their foci together but for a shift: a telescope that magnifies −4 times. */
const telescope = (shift = 0): Evaluation =>
  new Evaluation(
    quickProject(
      [
        { shape: { kind: 'ideal_lens', focal_length: 100 }, t: 125 + shift },
        { shape: { kind: 'ideal_lens', focal_length: 25, object: 25 + shift }, t: 30 },
      ] satisfies readonly Quick[],
      {
        imageSpace: 'afocal',
        aperture: { kind: 'entrance_pupil_diameter', value: 10 },
        fields: {
          kind: 'angle',
          points: [
            { id: 'axis', x: 0, y: 0, weight: 1 },
            { id: 'edge', x: 0, y: 1, weight: 1 },
          ],
        },
      },
    ),
  );

function lensOf(evaluation: Evaluation): LensEvaluation {
  const lens = evaluation.lens('lens');
  if (!lens.ok) throw new Error(lens.reason);
  return lens.value;
}

function value(evaluation: Evaluation, measure: string, settings: object = {}): { value: number; unit?: string } {
  const found = evaluateMeasure(evaluation, { measure, lens: 'lens', settings });
  if (!found.ok) throw new Error(`${measure}: ${found.reason}`);
  return { value: found.value.value, ...(found.value.unit && { unit: found.value.unit }) };
}

describe('Images at infinity', () => {
  /** Diameter of the exit pupil. */
  const exit = 2.5;

  it('have a perfect wavefront after a perfect telescope, and Airy’s pattern in angle', () => {
    const perfect = telescope();
    for (const field of ['axis', 'edge']) {
      expect(value(perfect, 'rms_wavefront', { field }).value, field).to.be.below(1e-5);
      expect(value(perfect, 'strehl_ratio', { field }).value).to.be.closeTo(1, 1e-8);
    }
    const share = 60;
    const { value: radius, unit } = value(perfect, 'encircled_radius', { field: 'axis', share });
    expect(unit).to.equal('µrad');
    const expected = ((1e6 * LAMBDA) / exit) * radiusOf(share / 100, airyEncircled, 3);
    expect(radius).to.be.closeTo(expected, 0.005 * expected);
  });

  it('have contrast by cycles a mrad, up to the exit pupil over the wavelength', () => {
    const cutoff = exit / LAMBDA / 1000;
    const chart = mtfChart(lensOf(telescope()), {
      method: 'physical',
      highest: null,
      detail: 'full',
      colours: 'all',
    });
    if (!chart.ok) throw new Error(chart.reason);
    expect(chart.value.unit).to.equal('mrad');
    expect(chart.value.cutoff).to.be.closeTo(cutoff, 1e-3 * cutoff);
    const [axis] = chart.value.fields;
    if (!axis.curves.ok) throw new Error(axis.curves.reason);
    const { tangential } = axis.curves.value;
    chart.value.frequencies.forEach((nu, k) =>
      expect(tangential[k], `${nu}`).to.be.closeTo(perfectModulation(nu / cutoff, 0), 2e-3),
    );
  });

  it('show a telescope out of focus as so much defocus: W = V D′²/8 over the wavelength', () => {
    const shift = 0.2;
    // Vergence behind the eyepiece of a point that lies its shift too far in front.
    const vergence = 1 / 25 - 1 / (25 + shift);
    const waves = (vergence * exit ** 2) / 8 / LAMBDA;
    const coefficient = value(telescope(shift), 'zernike_coefficient', { field: 'axis', term: 4 });
    expect(Math.abs(coefficient.value)).to.be.closeTo(waves / (2 * Math.sqrt(3)), 0.02 * waves);
    const fans = opdFans(lensOf(telescope(shift)), { rays: 5, pupil: 'full' });
    if (!fans.ok) throw new Error(fans.reason);
    expect(fans.value.largest).to.be.closeTo(waves, 0.03 * waves);
  });

  it('are told as angles in every analysis that looks at them so', () => {
    const evaluation = telescope(0.05);
    const inAngle = ANALYSES.filter((analysis) => 'inAngle' in analysis && analysis.inAngle);
    expect(inAngle.length).to.be.above(10);
    for (const { id } of inAngle) {
      if (id === 'quality_colour') continue; // one colour
      const found = atOnce(runAnalysis(evaluation, { analysis: id, lens: 'lens', settings: {}, detail: 'draft' }));
      expect(found.ok, `${id}: ${found.ok ? '' : found.reason}`).to.equal(true);
      if (!found.ok) continue;
      const units = found.value.panels.flatMap((panel) =>
        panel.kind === 'curves' || panel.kind === 'map' || panel.kind === 'dots' || panel.kind === 'picture'
          ? [panel.x.unit, panel.y.unit]
          : [],
      );
      for (const unit of units) expect(unit, id).not.to.match(/mm|µm/);
      expect(found.value.about.join(' '), id).not.to.match(/µm|\/mm/);
    }
    const spread = atOnce(
      runAnalysis(evaluation, { analysis: 'point_spread', lens: 'lens', settings: {}, detail: 'draft' }),
    );
    if (!spread.ok) throw new Error(spread.reason);
    expect((spread.value.panels[0] as MapPanel).x.unit).to.equal('µrad');
    const over = atOnce(
      runAnalysis(evaluation, { analysis: 'mtf_field', lens: 'lens', settings: {}, detail: 'draft' }),
    );
    if (!over.ok) throw new Error(over.reason);
    expect((over.value.panels[0] as CurvePanel).title).to.match(/cycles\/mrad/);
  });

  it('have their units, and nothing else, put into other words', () => {
    expect(inAngleWords('256 cells of 0.44 µm')).to.equal('256 cells of 0.44 µrad');
    expect(inAngleWords('50 cycles/mm')).to.equal('50 cycles/mrad');
    expect(inAngleWords('±0.2 mm, mm')).to.equal('±0.2 mrad, mrad');
    expect(inAngleWords('symmetrical comma')).to.equal('symmetrical comma');
  });
});
