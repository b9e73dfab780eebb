import { expect } from 'chai';
import { besselJ, besselJ1 } from '../../math/bessel.ts';
import { airyEncircled, airyIrradiance, DARK_RINGS } from '../wavefront/airy.ts';
import { gaussLegendre } from '../../math/quadrature.ts';
import { fieldMtf, modulation } from './mtf.ts';
import { encircledEnergy, ensquaredEnergy, lineAndEdge, pointSpectrum, radiusOf } from './point-energy.ts';
import { pointSpread, type PointSpread, type PointSpreadChoice } from './point-spread.ts';
import { fieldSpot } from './spot.ts';
import { evaluationOf, TWO_ELEMENTS } from '../evaluation/wavefront-fixtures.ts';
import { wavefront, wavefrontNumbers } from '../wavefront/wavefront.ts';

const axis = { id: 'axis', x: 0, y: 0, weight: 1 };
const edge = { id: 'edge', x: 0, y: 4, weight: 1 };
const LAMBDA = 587.5618e-6;

/** A paraboloid of F/20 on its axis, out of focus by `dz`. */
const mirror = (dz = 0, obscuration = 0) =>
  evaluationOf([{ r: -400, k: -1, t: -200 + dz, n: 'mirror' }], { pupil: 10, field: 1, obscuration });

function spread(lens: ReturnType<typeof mirror>, choice: PointSpreadChoice, field = axis): PointSpread {
  const found = pointSpread(lens, field, choice);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

/** A value of a point spread function between four by four of its cells, by cubics. */
function between({ n, values }: PointSpread, x: number, y: number): number {
  const weights = (t: number) => [
    (-t * (t - 1) * (t - 2)) / 6,
    ((t + 1) * (t - 1) * (t - 2)) / 2,
    (-(t + 1) * t * (t - 2)) / 2,
    ((t + 1) * t * (t - 1)) / 6,
  ];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [across, up] = [weights(x - i), weights(y - j)];
  return up.reduce(
    (sum, v, b) => sum + v * across.reduce((row, u, a) => row + u * values[(j - 1 + b) * n + i - 1 + a], 0),
    0,
  );
}

const METHODS = ['transform', 'direct'] as const;

describe('Airy’s pattern', () => {
  it('has its dark rings, its light inside of them, and Bessel functions that agree', () => {
    expect(DARK_RINGS[0]).to.be.closeTo(1.2196698912665045, 1e-14);
    expect(airyEncircled(DARK_RINGS[0])).to.be.closeTo(0.8377848691733144, 1e-14);
    expect(airyEncircled(DARK_RINGS[1])).to.be.closeTo(0.9099305350856731, 1e-14);
    expect(airyIrradiance(0)).to.equal(1);
    expect(airyIrradiance(DARK_RINGS[0])).to.be.below(1e-28);
    for (const x of [0.2, 1, 2.9, 3.1, 7, 40, -5])
      expect(besselJ1(x)).to.be.closeTo(besselJ(1, x), 1.4e-8 * Math.max(1, Math.abs(x)));
    expect(besselJ(0, 2.404825557695773)).to.be.closeTo(0, 1e-14);
  });
});

describe('The point spread function', () => {
  for (const method of METHODS)
    it(`of a perfect lens is Airy's, with 83.8 and 91.0 % inside of its dark rings (${method})`, () => {
      const found = spread(mirror(), { method, detail: 'full' });
      const { n, pitch, values, perfect } = found;
      const airy = LAMBDA * 20;
      const middle = (n / 2) * n + n / 2;
      expect(values[middle] / perfect).to.be.closeTo(1, 1e-9);
      expect(perfect).to.be.closeTo(Math.PI / (4 * airy * airy), 1e-3 * perfect);
      for (let k = 1; k < 12; k++) {
        const v = (Math.PI * k * pitch) / airy;
        const closed = ((2 * besselJ1(v)) / v) ** 2;
        expect(values[middle + k] / perfect, `${k}`).to.be.closeTo(closed, 1e-3);
        expect(values[middle + k * n] / perfect, `${k}`).to.be.closeTo(closed, 1e-3);
      }
      const spectrum = pointSpectrum(found, [0, 0]);
      const [first, second, one] = encircledEnergy(spectrum, [
        1.2196698912665045 * airy,
        2.233130594381528 * airy,
        airy,
      ]);
      expect(first).to.be.closeTo(0.8377848691733144, 2e-4);
      expect(second).to.be.closeTo(0.9099305350856731, 2e-4);
      expect(one).to.be.closeTo(0.8264308037690512, 2e-4);
      // A square holds more than the circle in it and less than the circle about it.
      const [square] = ensquaredEnergy(spectrum, [airy]);
      expect(square).to.be.within(one, encircledEnergy(spectrum, [Math.SQRT2 * airy])[0]);
      const radius = radiusOf(0.8, (r) => encircledEnergy(spectrum, [r])[0], 3 * airy);
      expect(encircledEnergy(spectrum, [radius])[0]).to.be.closeTo(0.8, 1e-9);
    });

  it('of an annular pupil has the closed form of two discs', () => {
    const e = 0.5;
    const { n, pitch, values, perfect } = spread(mirror(0, e), { method: 'transform', detail: 'full' });
    for (let k = 1; k < 16; k++) {
      const v = (Math.PI * k * pitch) / (LAMBDA * 20);
      const disc = (x: number) => (2 * besselJ1(x)) / x;
      const closed = ((disc(v) - e * e * disc(e * v)) / (1 - e * e)) ** 2;
      expect(values[(n / 2) * n + n / 2 + k] / perfect, `${k}`).to.be.closeTo(closed, 2e-3);
    }
  });

  it('out of focus has the Strehl ratio (sin πW/πW)²', () => {
    // On the sphere through the vertex, 200 + dz about the image, the rim's place is sin U = 5/R from the axis; its distance from the focus,
    // less that of the vertex, is the phase: nearly even in the squares of places.
    const dz = 0.5;
    const radius = 200 - dz;
    const cosine = Math.cos(Math.asin(5 / radius));
    const waves =
      (200 - Math.hypot(radius, dz) * Math.sqrt(1 + (2 * radius * dz * cosine) / (radius ** 2 + dz ** 2))) / LAMBDA;
    const { n, values, perfect } = spread(mirror(dz), { method: 'transform', detail: 'full' });
    const closed = (Math.sin(Math.PI * waves) / (Math.PI * waves)) ** 2;
    expect(values[(n / 2) * n + n / 2] / perfect).to.be.closeTo(closed, 1e-3);
  });

  it('is the same by both ways, off the axis of a lens that is not perfect, within 1 % of its peak', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 8, field: 4, focused: true });
    const [fast, slow] = METHODS.map((method) => spread(lens, { method, detail: 'full' }, edge));
    expect((8 * fast.pitch) / (5 * slow.pitch)).to.be.closeTo(1, 1e-12);
    const peak = slow.values.reduce((a, b) => Math.max(a, b));
    let compared = 0;
    for (let row = -4; row <= 4; row++)
      for (let column = -4; column <= 4; column++) {
        const at = ({ n, values }: PointSpread, step: number) =>
          values[(n / 2 + step * row) * n + n / 2 + step * column];
        expect(at(fast, 8) / peak, `${column} ${row}`).to.be.closeTo(at(slow, 5) / peak, 0.01);
        compared++;
      }
    expect(compared).to.equal(81);
    expect(fast.perfect).to.be.closeTo(slow.perfect, 2e-3 * slow.perfect);
    // Its height at the chief ray's point is the Strehl ratio of the wavefront, its mean that of the rays.
    const strehl = wavefront(lens, edge, 0, { sampling: { kind: 'polar', rings: 24, arms: 48 }, pupil: 'full' });
    const front = strehl.ok ? wavefrontNumbers(strehl.value).strehl : NaN;
    expect(fast.values[(fast.n / 2) * fast.n + fast.n / 2] / fast.perfect).to.be.closeTo(front, 0.02);
    const spot = fieldSpot(lens, edge, { sampling: { kind: 'polar', rings: 12, arms: 24 }, pupil: 'full' });
    if (!spot.ok || !spot.value.chief) throw new Error('no spot');
    let [sum, y] = [0, 0];
    fast.values.forEach((value, i) => {
      sum += value;
      y += value * (Math.floor(i / fast.n) - fast.n / 2) * fast.pitch;
    });
    expect(y / sum).to.be.closeTo(spot.value.centroid[1] - spot.value.chief[1], 0.1 * fast.reach);
  });

  it('has the transfer function of its pupil as its transform', () => {
    const lens = evaluationOf(TWO_ELEMENTS, { pupil: 8, field: 4, focused: true });
    const { step, most, re, im, energy } = pointSpectrum(
      spread(lens, { method: 'transform', detail: 'full' }, edge),
      [0, 0],
    );
    const size = 2 * most + 1;
    const ks = [3, 8, 15];
    const exact = fieldMtf(lens, edge, { method: 'physical', frequencies: ks.map((k) => k * step) });
    if (!exact.ok) throw new Error(exact.reason);
    ks.forEach((k, i) => {
      const along = (at: number) => Math.hypot(re[at], im[at]) / energy;
      expect(along((most + k) * size + most)).to.be.closeTo(modulation(exact.value.tangential[i]), 3e-3);
      expect(along(most * size + most + k)).to.be.closeTo(modulation(exact.value.sagittal[i]), 3e-3);
    });
    expect(energy).to.be.within(0.97, 1.01);
  });

  it('of lines and edges sums up to the light, and an edge is half there at a symmetric point', () => {
    const spectrum = pointSpectrum(spread(mirror(), { method: 'transform', detail: 'full' }), [0, 0]);
    const half = 8 * LAMBDA * 20;
    const { nodes, weights } = gaussLegendre(60);
    const { line } = lineAndEdge(spectrum, 'y', nodes.map((node) => half * node) as never);
    const inside = line.reduce((sum, value, k) => sum + weights[k] * half * value, 0);
    const { edge: ends } = lineAndEdge(spectrum, 'y', [-half, 0, half]);
    expect(ends[2] - ends[0]).to.be.closeTo(inside, 1e-6);
    expect(ends[1]).to.be.closeTo(spectrum.energy / 2, 1e-6);
  });

  it('in draft is within 5 % of the peak of the full one, in focus and out of it', () => {
    const doublet = evaluationOf(TWO_ELEMENTS, { pupil: 8, field: 4, focused: true });
    const cases = [
      [mirror(), axis],
      [mirror(3), axis],
      [mirror(10), axis],
      [doublet, axis],
      [doublet, edge],
    ] as const;
    for (const [lens, field] of cases) {
      const [draft, full] = (['draft', 'full'] as const).map((detail) =>
        spread(lens, { method: 'transform', detail }, field),
      );
      const peak = full.values.reduce((a, b) => Math.max(a, b));
      let [worst, seen] = [0, 0];
      for (let row = 0; row < draft.n; row++)
        for (let column = 0; column < draft.n; column++) {
          const [x, y] = [column, row].map((cell) => ((cell - draft.n / 2) * draft.pitch) / full.pitch + full.n / 2);
          if (Math.min(x, y) < 1 || Math.max(x, y) >= full.n - 2) continue;
          seen++;
          worst = Math.max(worst, Math.abs(draft.values[row * draft.n + column] - between(full, x, y)) / peak);
        }
      expect(seen).to.be.above(1000);
      expect(worst).to.be.below(0.05);
    }
  });

  it('is refused where the wavefront has too many waves, and where rays are missing unless they are summed', () => {
    const far = pointSpread(mirror(80), axis, { method: 'transform', detail: 'draft' });
    expect(far.ok ? '' : far.reason).to.match(/diffraction no longer shapes/);
  });
});
