import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { airyEncircled } from '../imaging/wavefront/airy.ts';
import { radiusOf } from '../imaging/point/point-energy.ts';
import { evaluationOf } from '../imaging/evaluation/wavefront-fixtures.ts';
import { readProjectText } from '../project/read.ts';
import { evaluateMeasure } from './registry.ts';
import {
  axialColour,
  encircledRadius,
  gaussianBeam,
  lateralColour,
  petzvalRadius,
  pointPeak,
  zernikeCoefficient,
} from './image.ts';
import { readSettings, type Measure, type SettingSpecs } from './measure.ts';

const LAMBDA = 587.5618e-6;

/** A paraboloid of F/20, its image surface moved. */
const mirror = (dz = 0) => evaluationOf([{ r: -400, k: -1, t: -200 + dz, n: 'mirror' }], { pupil: 10, field: 0.5 });

function told<S extends SettingSpecs>(lens: LensEvaluation, measure: Measure<S>, given: object = {}): number | string {
  const settings = readSettings(measure, given);
  if (!settings.ok) return settings.reason;
  const found = measure.evaluate(lens, settings.value);
  return found.ok ? found.value.value : found.reason;
}

const number = (value: number | string): number => {
  if (typeof value === 'string') throw new Error(value);
  return value;
};

describe('Measures of images', () => {
  it('encircle the light of a perfect mirror as Airy’s pattern has it, its peak at 1', () => {
    const ring = 1000 * LAMBDA * 20;
    for (const share of [30, 60, 75]) {
      const airy = ring * radiusOf(share / 100, airyEncircled, 3);
      expect(number(told(mirror(), encircledRadius, { field: 'axis', share })), `${share} %`).to.be.closeTo(
        airy,
        0.004 * airy,
      );
    }
    expect(number(told(mirror(), pointPeak, { field: 'axis' }))).to.be.closeTo(1, 2e-3);
    const square = number(told(mirror(), encircledRadius, { field: 'axis', share: 60, shape: 'square' }));
    const circle = number(told(mirror(), encircledRadius, { field: 'axis', share: 60 }));
    // Of one that holds as much, half the side lies between √π/2 of the radius and it.
    expect(square / circle).to.be.within(Math.sqrt(Math.PI) / 2 - 0.02, 1);
  });

  it('see a defocus as the fourth Zernike term, W/(2√3), and the fringe one, W/2', () => {
    const dz = 0.4;
    const waves = (dz * (1 - Math.cos(2 * Math.atan(5 / 400)))) / LAMBDA;
    const noll = number(told(mirror(dz), zernikeCoefficient, { field: 'axis' }));
    expect(Math.abs(noll)).to.be.closeTo(waves / (2 * Math.sqrt(3)), 1e-3);
    const fringe = number(told(mirror(dz), zernikeCoefficient, { field: 'axis', order: 'fringe' }));
    expect(fringe / noll).to.be.closeTo(Math.sqrt(3), 1e-3);
    expect(told(mirror(), zernikeCoefficient, { field: 'axis', term: 40 })).to.match(/Term 40 is not among/);
  });

  it('bend the Petzval surface of a mirror by half its radius, away from it, and that of a thin lens by nf, toward it', () => {
    // Concentric with the mirror: its centre lies farther along the light, away from the mirror.
    expect(number(told(mirror(), petzvalRadius))).to.be.closeTo(200, 1e-9);
    const thin = evaluationOf(
      [
        { r: 50, t: 1e-9, n: 1.5 },
        { r: -50, t: 50 },
      ],
      { pupil: 5, field: 2 },
    );
    expect(number(told(thin, petzvalRadius))).to.be.closeTo(-1.5 * 50, 1e-5);
  });

  it('focus a beam as a thin lens does', () => {
    const f = 50;
    const lens = evaluationOf([], { pupil: 5, field: 0, ideal: f });
    const waist = 0.5;
    const length = (Math.PI * waist ** 2) / LAMBDA;
    const given = { waist, before: 0 };
    const small = waist / Math.sqrt(1 + (length / f) ** 2);
    expect(number(told(lens, gaussianBeam, { ...given, number: 'waist' }))).to.be.closeTo(small, 1e-9);
    // In front of the focus by f/(1 + (zR/f)²).
    expect(number(told(lens, gaussianBeam, { ...given, number: 'waist from image' }))).to.be.closeTo(
      -f / (1 + (length / f) ** 2),
      1e-6,
    );
    expect(number(told(lens, gaussianBeam, given))).to.be.closeTo((LAMBDA * f) / (Math.PI * waist), 1e-9);
    const worse = number(told(lens, gaussianBeam, { ...given, m2: 2 }));
    expect(worse).to.be.closeTo((2 * LAMBDA * f) / (Math.PI * waist), 1e-9);
  });

  it('tell the colours of the tide camera as its tiles do, and where there is one colour', () => {
    const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
    if (!read.ok) throw new Error('unreadable');
    const evaluation = new Evaluation(read.project);
    const lens = read.project.lenses[0].id;
    const value = (measure: string, settings: object) => {
      const found = evaluateMeasure(evaluation, { measure, lens, settings });
      if (!found.ok) throw new Error(found.reason);
      return found.value.value;
    };
    const model = evaluation.lens(lens);
    if (!model.ok) throw new Error(model.reason);
    const places = [0, 2].map((wave) => {
      const first = model.value.firstOrder(wave);
      if (!first.ok) throw new Error(first.reason);
      return first.value.imageDistance;
    });
    const nms = model.value.model.wavelengths.map(({ nm }) => nm);
    const sign = nms[0] < nms[2] ? 1 : -1;
    expect(value('axial_colour', {})).to.be.closeTo(sign * (places[0] - places[1]), 1e-12);
    const [f, c] = [0, 2].map((wave) => {
      const chief = model.value.chief({ id: 'edge', x: 0, y: 16, weight: 1 }, wave);
      if (!chief.ok) throw new Error(chief.reason);
      return chief.value.y[0];
    });
    expect(value('lateral_colour', { field: 'edge' })).to.be.closeTo(1000 * sign * (f - c), 1e-9);
    expect(value('lateral_colour', { field: 'axis' })).to.equal(0);
    expect(told(mirror(), axialColour)).to.match(/one colour/);
    expect(told(mirror(), lateralColour, { field: 'edge' })).to.match(/one colour/);
  });
});
