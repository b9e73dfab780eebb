import { expect } from 'chai';
import fc from 'fast-check';
import { TWO_ELEMENTS as LENS, evaluationOf } from '../evaluation/wavefront-fixtures.ts';
import { fitLeastSquares, OrthogonalFit } from '../../math/linear-fit.ts';
import { ZernikeBasis } from '../../math/zernike-basis.ts';
import { rootBetween } from '../../math/root.ts';
import { zernikeTerms } from '../../math/zernike.ts';
import { PolynomialBasis } from '../../math/polynomial-basis.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { pupilPoints } from '../../sequence/pupil-sampling.ts';
import { seidel } from '../field/seidel.ts';
import { narrowFoci } from '../field/astigmatism.ts';
import { relativeIllumination } from '../field/relative-illumination.ts';
import { wavefront, wavefrontAt, wavefrontNumbers, type Wavefront } from './wavefront.ts';
import { zernikeFit } from './zernike-fit.ts';
import type { Outcome } from '../../math/outcome.ts';

const must = <T>(outcome: Outcome<T>): T => {
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
};
const FULL = { sampling: { kind: 'polar', rings: 12, arms: 24 }, pupil: 'full' } as const;
const axis = { id: 'axis', x: 0, y: 0, weight: 1 };

/** Mirrors and lenses: the concave mirror of radius −200 looks at infinity through a stop on itself. */
const mirror = (k: number, defocus = 0) =>
  evaluationOf([{ r: -200, k, t: -100 + defocus, n: 'mirror' }], { pupil: 20, field: 1 });

describe('The wavefront', () => {
  it('of a paraboloid on its axis is perfect', () => {
    const numbers = wavefrontNumbers(must(wavefront(mirror(-1), axis, 0, FULL)));
    expect(numbers.rms).to.be.below(1e-8);
    expect(numbers.strehl).to.be.closeTo(1, 1e-12);
  });

  it('out of focus leads or lags by n·dz(1 − cos U), and keeps nothing once focus is taken off', () => {
    const dz = 0.05;
    const lens = mirror(-1, dz);
    const front = must(wavefrontAt(lens, axis, 0, Float64Array.of(0.5, 1), Float64Array.of(0, 0), { pupil: 'full' }));
    const nm = lens.model.wavelengths[0].nm * 1e-6;
    [5, 10].forEach((h, i) => {
      // tan(U/2) = h/2f of a paraboloid.
      const u = 2 * Math.atan(h / 200);
      const wanted = (dz * (1 - Math.cos(u))) / nm;
      // Between the spheres, not along the axis: a fifth order of the shift is left out.
      expect(Math.abs(front.w[i])).to.be.closeTo(wanted, 2e-3 * wanted);
    });
    expect(wavefrontNumbers(must(wavefront(lens, axis, 0, FULL))).rmsWithoutFocus).to.be.below(2e-3);
  });

  it('of a weak sphere is that of its Seidel sum: W040 = S₁/8', () => {
    const lens = mirror(0);
    const { waves } = must(seidel(lens));
    const [rim] = must(wavefrontAt(lens, axis, 0, Float64Array.of(1), Float64Array.of(0), { pupil: 'full' })).w;
    expect(rim).to.be.closeTo(waves.w040, 0.02 * Math.abs(waves.w040));
    // RMS of ρ⁴: √(1/5 − 1/9).
    const { rms } = wavefrontNumbers(must(wavefront(lens, axis, 0, FULL)));
    expect(rms).to.be.closeTo(Math.abs(waves.w040) * Math.sqrt(4 / 45), 0.02 * rms);
  });

  it('has the Strehl ratio of Maréchal when it is small: 1 − (2π rms)²', () => {
    const lens = mirror(-1, 0.012);
    const { rms, strehl } = wavefrontNumbers(must(wavefront(lens, axis, 0, FULL)));
    expect(rms).to.be.within(0.01, 0.06);
    expect(strehl).to.be.closeTo(1 - (2 * Math.PI * rms) ** 2, (2 * Math.PI * rms) ** 4);
  });
});

describe('Zernike coefficients', () => {
  const points = pupilPoints({ kind: 'polar', rings: 12, arms: 24 }, 0);
  const front = (w: Float64Array): Wavefront => ({ field: axis, wave: 0, points, w, arrived: w.length });
  const basis = new PolynomialBasis(Array.from({ length: 15 }, (_, k) => zernikeTerms('noll', k + 1)));

  it('come back from a wavefront that is made of them, by projection and by fit', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 15, maxLength: 15 }), (given) => {
        const w = Float64Array.from(points.px, (x, i) =>
          basis.values(x, points.py[i]).reduce((sum, value, k) => sum + value * given[k], 0),
        );
        for (const method of ['projection', 'fit'] as const) {
          const { coefficients, residual } = must(zernikeFit(front(w), 'noll', 15, method));
          given.forEach((value, k) => expect(coefficients[k]).to.be.closeTo(value, 1e-11));
          expect(residual).to.be.below(1e-11);
        }
        // RMS about the mean: the root of the sum of squares beyond piston.
        const { rms } = wavefrontNumbers(front(w));
        expect(rms).to.be.closeTo(Math.sqrt(given.slice(1).reduce((sum, value) => sum + value * value, 0)), 1e-10);
      }),
      { numRuns: 30 },
    );
  });

  it('are 1 at the rim in fringe order', () => {
    const w = Float64Array.from(points.px, (x, i) => 2 * (x * x + points.py[i] ** 2) - 1); // fringe 4
    const { coefficients } = must(zernikeFit(front(w), 'fringe', 9, 'projection'));
    coefficients.forEach((value, k) => expect(value).to.be.closeTo(k === 3 ? 1 : 0, 1e-12));
  });

  it('are refused where rays are missing', () => {
    const w = new Float64Array(points.px.length).fill(NaN, 3, 9);
    expect(zernikeFit(front(w), 'noll', 9, 'projection').ok).to.equal(false);
    expect(must(zernikeFit(front(w), 'noll', 9, 'fit')).residual).to.be.below(1e-12);
    expect(zernikeFit(front(new Float64Array(points.px.length).fill(NaN)), 'noll', 9, 'fit').ok).to.equal(false);
  });
});

describe('Foci about the chief ray', () => {
  it('of a mirror with its stop on it: R cos θ/2 and R/(2 cos θ)', () => {
    for (const degrees of [0, 5, 20]) {
      const lens = evaluationOf([{ r: -200, k: 0, t: -100, n: 'mirror' }], { pupil: 2, field: 20 });
      const foci = must(narrowFoci(lens, { id: 'f', x: 0, y: degrees, weight: 1 }));
      const cosine = Math.cos((degrees * Math.PI) / 180);
      expect(foci.tangential).to.be.closeTo(100 * cosine, 1e-10);
      expect(foci.sagittal).to.be.closeTo(100 / cosine, 1e-10);
      expect(foci.tangentialZ).to.be.closeTo(100 - 100 * cosine * cosine, 1e-9);
    }
  });

  it('are the same in x as in y', () => {
    const lens = evaluationOf(LENS, { pupil: 8, field: 10 });
    const [inY, inX] = [
      must(narrowFoci(lens, { id: 'y', x: 0, y: 8, weight: 1 })),
      must(narrowFoci(lens, { id: 'x', x: 8, y: 0, weight: 1 })),
    ];
    expect(inX.tangential).to.be.closeTo(inY.tangential, 1e-9);
    expect(inX.sagittalZ).to.be.closeTo(inY.sagittalZ, 1e-9);
  });

  it('agree with rays a hair beside the chief ray', () => {
    const lens = evaluationOf(LENS, { pupil: 8, field: 10 });
    const field = { id: 'f', x: 0, y: 9, weight: 1 };
    const { tangentialZ, sagittalZ } = must(narrowFoci(lens, field));
    const near = 1e-3;
    const px = Float64Array.of(0, 0, near, -near);
    const py = Float64Array.of(near, -near, 0, 0);
    const { x, y, l, m, n } = traceBundle(must(lens.aimer()), { field, wave: 0, px, py }, { clip: false });
    // Where two neighbours on both sides cross: how far they are apart over how fast they close in.
    const crossing = (place: Float64Array, slope: Float64Array, a: number) =>
      -(place[a] - place[a + 1]) / (slope[a] / n[a] - slope[a + 1] / n[a + 1]);
    expect(crossing(y, m, 0)).to.be.closeTo(tangentialZ, 1e-4);
    expect(crossing(x, l, 2)).to.be.closeTo(sagittalZ, 1e-4);
    expect(Math.abs(tangentialZ - sagittalZ)).to.be.above(1e-2);
  });
});

describe('Relative illumination', () => {
  it('falls with cos⁴ behind an ideal thin lens with its stop on it', () => {
    const lens = evaluationOf([], { pupil: 0.5, field: 40, ideal: 50 });
    for (const degrees of [10, 25, 40]) {
      const share = must(relativeIllumination(lens, { id: 'f', x: 0, y: degrees, weight: 1 }, 'full'));
      expect(share).to.be.closeTo(Math.cos((degrees * Math.PI) / 180) ** 4, 1e-3 * share);
    }
  });
});

describe('Seidel sums', () => {
  it('of a thin lens with its stop on it: S₃ = H²Φ, S₄ = H²Φ/n, S₅ = 0', () => {
    const lens = evaluationOf(
      [
        { r: 50, t: 1e-9, n: 1.5 },
        { r: -50, t: 50 },
      ],
      { pupil: 5, field: 10 },
    );
    const { total } = must(seidel(lens));
    const { lagrange, power } = must(lens.primary());
    const unit = lagrange * lagrange * power;
    expect(total.s3).to.be.closeTo(unit, 1e-6 * unit);
    expect(total.s4).to.be.closeTo(unit / 1.5, 1e-6 * unit);
    expect(total.s5).to.be.closeTo(0, 1e-6 * unit);
  });

  it('are refused where a surface has none, and found for shapes without a closed form', () => {
    const sag = evaluationOf([{ r: -200, k: -1, t: -100, n: 'mirror' }], { pupil: 20, field: 1 });
    expect(must(seidel(sag)).total.s1).to.be.closeTo(0, 1e-12);
    expect(seidel(evaluationOf([], { pupil: 1, field: 5, ideal: 50 })).ok).to.equal(false);
  });
});

describe('Least squares', () => {
  it('both ways find what made the values', () => {
    const rows = Array.from({ length: 40 }, (_, i) => Float64Array.of(1, i / 20 - 1, (i / 20 - 1) ** 2));
    const values = rows.map(([a, b, c]) => 2 * a - 3 * b + 0.5 * c);
    const weights = rows.map((_, i) => 1 + (i % 3));
    const table = (given: readonly Float64Array[]) =>
      Float64Array.from([0, 1, 2].flatMap((k) => given.map((row) => row[k])));
    for (const found of [
      fitLeastSquares(rows, values, weights),
      OrthogonalFit.over(table(rows), weights)?.solve(values),
    ])
      [2, -3, 0.5].forEach((value, k) => expect(found![k]).to.be.closeTo(value, 1e-12));
    const twin = rows.map(([a, b]) => Float64Array.of(a, b, a + b));
    expect(fitLeastSquares(twin, values)).to.equal(null);
    expect(OrthogonalFit.over(table(twin), weights)).to.equal(null);
  });

  it('has tables of Zernike polynomials that are those of their terms', () => {
    const [basis, x, y] = [new ZernikeBasis(9), [0, 0.3, -0.7, 1], [0, 0.4, 0.2, 0]];
    const table = basis.table(x, y);
    x.forEach((_, i) =>
      basis.values(x[i], y[i]).forEach((value, k) => expect(table[k * 4 + i]).to.be.closeTo(value, 1e-11)),
    );
  });

  it('finds roots in a bracket', () => {
    expect(rootBetween(Math.cos, 0, 3, 1, Math.cos(3))).to.be.closeTo(Math.PI / 2, 1e-14);
    expect(rootBetween((x) => x ** 9 - 1e-9, 0, 5, -1e-9, 5 ** 9)).to.be.closeTo(0.1, 1e-12);
  });
});

describe('An exit pupil at infinity', () => {
  // The stop in the front focus of an ideal lens of 100 mm; the image surface moved out of focus by dz.
  const telecentric = (stopDistance: number, dz: number) =>
    evaluationOf(
      [
        { t: stopDistance },
        { t: 100 + dz, shape: { kind: 'ideal_lens', focal_length: 100, object: 'infinity' } as never },
      ],
      { pupil: 20, field: 3 },
    );
  const rim = (lens: ReturnType<typeof telecentric>) =>
    must(
      wavefrontAt(lens, { ...axis, id: 'edge', y: 3 }, 0, Float64Array.of(0, 0), Float64Array.of(1, 0), {
        pupil: 'full',
      }),
    ).w;

  it('measures a defocus as its neighbours do, with its sign: n·dz(1 − cos U)', () => {
    const dz = 0.05;
    const at = [99.999, 100, 100.001].map((distance) => rim(telecentric(distance, dz))[0]);
    expect(at[1]).to.be.closeTo(at[0], 1e-6 * Math.abs(at[0]));
    expect(at[1]).to.be.closeTo(at[2], 1e-6 * Math.abs(at[0]));
    const lens = telecentric(100, dz);
    const [onAxis] = must(wavefrontAt(lens, axis, 0, Float64Array.of(0), Float64Array.of(1), { pupil: 'full' })).w;
    const expected = (dz * (1 - Math.cos(Math.atan(0.1)))) / (lens.model.wavelengths[0].nm * 1e-6);
    expect(Math.abs(onAxis)).to.be.closeTo(expected, 1e-9 * expected);
    expect(Math.sign(onAxis)).to.equal(Math.sign(at[0]));
  });
});
