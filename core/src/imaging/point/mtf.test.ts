import { expect } from 'chai';
import { evaluationOf, TWO_ELEMENTS as LENS } from '../evaluation/wavefront-fixtures.ts';
import { fieldMtf, modulation, type MtfMethod } from './mtf.ts';
import { mtfChart } from './mtf-chart.ts';
import { perfectModulation } from '../wavefront/perfect-modulation.ts';
import { autocorrelation, type PupilFunction } from '../wavefront/otf.ts';

const LAMBDA = 587.5618e-6;
const axis = { id: 'axis', x: 0, y: 0, weight: 1 };

/** J₁ by its integral, for closed forms. */
function besselJ1(x: number): number {
  let sum = 0;
  const steps = 400;
  for (let k = 0; k < steps; k++) {
    const t = ((k + 0.5) * Math.PI) / steps;
    sum += Math.cos(t - x * Math.sin(t));
  }
  return sum / steps;
}

describe('MTF', () => {
  it('of a perfect lens is that of its pupil: circular and annular', () => {
    for (const obscuration of [0, 0.4]) {
      // A paraboloid on its axis: tan(U/2) = h/2f, so that sin U = (h/f)/(1 + (h/2f)²).
      const lens = evaluationOf([{ r: -400, k: -1, t: -200, n: 'mirror' }], {
        pupil: 4,
        field: 1,
        obscuration,
      });
      const chart = mtfChart(lens, { method: 'simple', highest: null, detail: 'full', colours: 'all' });
      if (!chart.ok) throw new Error(chart.reason);
      const { fields, frequencies } = chart.value;
      const [{ curves }] = fields;
      if (!curves.ok) throw new Error(curves.reason);
      frequencies.forEach((nu, k) => {
        const limit = perfectModulation((nu * LAMBDA * 200 * (1 + 2.5e-5)) / 4, obscuration);
        for (const way of ['tangential', 'sagittal'] as const) {
          expect(curves.value.limits[way][k], `${nu}`).to.be.closeTo(limit, 1e-4);
          expect(curves.value[way][k], `${nu}`).to.be.closeTo(limit, 1e-4);
        }
      });
    }
  });

  it('has the limit in closed form: 0 at the cutoff, half discs by their lens of overlap', () => {
    expect(perfectModulation(0, 0)).to.equal(1);
    expect(perfectModulation(0.5, 0)).to.be.closeTo((2 / Math.PI) * (Math.PI / 3 - Math.sqrt(3) / 4), 1e-15);
    expect(perfectModulation(1, 0)).to.equal(0);
    expect(perfectModulation(0, 0.5)).to.be.closeTo(1, 1e-12);
    // Near the cutoff an annulus passes more than a disc.
    expect(perfectModulation(0.9, 0.5)).to.be.above(perfectModulation(0.9, 0));
  });

  it('of defocus in few waves agrees with Hopkins, in geometry with 2 J₁(x)/x', () => {
    const defocused = evaluationOf([{ r: -400, k: -1, t: -200 + 4, n: 'mirror' }], { pupil: 4, field: 1 });
    // A disc of blur of radius r: r = dz·NA.
    const radius = 4 * (2 / 200);
    const found = fieldMtf(defocused, axis, { method: 'geometric', frequencies: [5, 10] });
    if (!found.ok) throw new Error(found.reason);
    [5, 10].forEach((nu, k) => {
      const x = 2 * Math.PI * nu * radius;
      expect(modulation(found.value.tangential[k])).to.be.closeTo(Math.abs((2 * besselJ1(x)) / x), 3e-3);
    });
  });

  it('is the same in all detail, and by both transforms where the pupil is even', () => {
    const lens = evaluationOf(LENS, { pupil: 6, field: 4, focused: true });
    const at = (method: MtfMethod, detail: 'draft' | 'full') => {
      const found = fieldMtf(lens, axis, { method, frequencies: [10, 30], detail });
      if (!found.ok) throw new Error(found.reason);
      return found.value.tangential.map(modulation);
    };
    const fine = at('physical', 'full');
    // A coarse one, from cells, is good to some thousandths.
    at('physical', 'draft').forEach((value, k) => expect(value).to.be.closeTo(fine[k], 4e-3));
    at('simple', 'full').forEach((value, k) => expect(value).to.be.closeTo(fine[k], 0.02));
  });

  it('takes finer means where the wavefront has many waves, and refuses where it has too many', () => {
    const modulations = (dz: number, detail: 'draft' | 'full') => {
      const lens = evaluationOf([{ r: -400, k: -1, t: -200 + dz, n: 'mirror' }], { pupil: 12, field: 1 });
      const found = fieldMtf(lens, axis, { method: 'physical', frequencies: [20, 40], detail });
      return found.ok ? found.value.tangential.map(modulation) : found.reason;
    };
    const [draft, full] = [modulations(4, 'draft') as number[], modulations(4, 'full') as number[]];
    draft.forEach((value, k) => expect(value).to.be.closeTo(full[k], 4e-3));
    expect(modulations(100, 'draft')).to.match(/waves/);
  });

  it('says why there is none', () => {
    const lens = evaluationOf(
      [
        { r: 8, t: 2, n: 1.9 },
        { r: -8, t: 10 },
      ],
      { pupil: 15.9, field: 1 },
    );
    const found = fieldMtf(lens, axis, { method: 'physical', frequencies: [10] });
    expect(found.ok).to.equal(false);
    if (!found.ok) expect(found.reason).to.match(/geometric/);
  });
});

describe('The autocorrelation of a pupil', () => {
  it('of a square is a triangle, whatever tilt it carries', () => {
    const square: PupilFunction = {
      range: () => [-1, 1],
      line: () => ({
        open: [[-1, 1]],
        value(x, out) {
          out[0] = 1;
          out[1] = 3 * x;
        },
      }),
    };
    const [half, most] = autocorrelation(square, 0, [1, 1.8], 12);
    expect(Math.hypot(half.re, half.im)).to.be.closeTo(0.5, 1e-12);
    expect(Math.hypot(most.re, most.im)).to.be.closeTo(0.1, 1e-12);
    expect(Math.atan2(half.im, half.re)).to.be.closeTo(3, 1e-12);
  });
});
