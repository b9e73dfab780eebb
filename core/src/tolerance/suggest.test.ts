import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { normalBelow } from '../math/normal-distribution.ts';
import { RandomStream } from '../math/random.ts';
import { readProjectText } from '../project/read.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { effectsOfCurves, effectsOfResponse, type Effects } from './effects.ts';
import type { Sampled } from './influence.ts';
import { ScaledLot } from './scaled-lot.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { lotByResponse, sumUp } from './response-lot.ts';
import { suggestLimits } from './suggest.ts';
import { watchedRequirements } from './watched.ts';

/** Tolerances with straight curves of given slopes; uniform within ±1. */
function made(slopes: readonly number[], curvature = 0): { tolerances: Tolerance[]; sampled: Sampled[] } {
  const tolerances = slopes.map((_, i): Tolerance => ({
    id: `t${i}`,
    kind: 'number',
    address: `a.${i}`,
    lower: -1,
    upper: 1,
  }));
  const sampled = slopes.map((slope, i) => ({
    tolerance: `t${i}`,
    curves: [
      {
        at: [-1, 0, 1],
        values: [curvature - slope, 0, curvature + slope],
        fit: { value: 0, slope, curvature, residual: 0 },
      },
    ],
  }));
  return { tolerances, sampled };
}
function effects(...args: Parameters<typeof effectsOfCurves>): Effects {
  const found = effectsOfCurves(...args);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}
const suggest = (slopes: readonly number[], max: number, wanted: number, curvature = 0) => {
  const { tolerances, sampled } = made(slopes, curvature);
  const limits = [{ min: -max, max }];
  const found = suggestLimits(tolerances, effects(tolerances, sampled, [0]), limits, { yield: wanted, trials: 4000 });
  if (!found.ok) throw new Error(found.reason);
  return found.value;
};

describe('suggested limits', () => {
  it('loosen what does nothing, and tighten what spreads most', () => {
    const slopes = [3, 1, 1, 0.05, 0.05, 0.05];
    // σ = √Σ slope²/3 = 1.92: within ±2 in 70 % as it is.
    const found = suggest(slopes, 2, 0.95);
    expect(found.before).to.be.closeTo(1 - 2 * normalBelow(-2 / 1.92), 0.04);
    expect(found.met).to.equal(true);
    expect(found.after).to.be.within(0.95, 0.99);
    const [first, ...others] = found.changes;
    expect(first).to.include({ tolerance: 't0' });
    expect(first.factor).to.be.below(1);
    expect(first.gain).to.be.above(0.1);
    expect(first.saved).to.be.below(0);
    for (const id of ['t3', 't4', 't5']) {
      const change = others.find(({ tolerance }) => tolerance === id)!;
      expect(change).to.include({ factor: 2, upper: 2, lower: -2 });
      expect(change.saved).to.be.closeTo(0.5, 1e-12);
    }
  });

  it('come near the cheapest: no single step could be saved, and none of its neighbours is cheaper', () => {
    const slopes = [2, 1.5, 1, 0.7, 0.4];
    const found = suggest(slopes, 2, 0.9);
    expect(found.met).to.equal(true);
    // By the law of reciprocal costs: limits go with slope^(−2/3), scaled until the spread fits.
    const sigma = 2 / 1.645;
    const ideal = slopes.map((slope) => slope ** (-2 / 3));
    const spread = Math.hypot(...slopes.map((slope, i) => (slope * ideal[i]) / Math.sqrt(3)));
    const cost = ideal.reduce((sum, one) => sum + 1 / ((one * sigma) / spread), 0);
    expect(found.cost).to.be.within(0.85 * cost, 1.15 * cost); // steps of √2, and a sum of few that is not quite normal
  });

  it('take a shift of the mean by curved effects into account, and say if nothing suffices', () => {
    expect(suggest([0.1, 0.1], 3, 0.99, 2).changes.every(({ factor }) => factor < 2)).to.equal(true);
    const none = suggest([100, 100], 1, 0.9);
    expect(none.met).to.equal(false);
    expect(none.changes.every(({ factor }) => factor === 0.25)).to.equal(true);
  });

  it('are refused without limits, curves, or a design that keeps them', () => {
    const { tolerances, sampled } = made([1]);
    const plain = effects(tolerances, sampled, [0]);
    const reason = (...args: Parameters<typeof suggestLimits>) => {
      const found = suggestLimits(...args);
      return found.ok ? '' : found.reason;
    };
    expect(reason(tolerances, plain, [{}], { yield: 0.9 })).to.match(/limit/);
    expect(reason([], effects([], [], [0]), [{ max: 1 }], { yield: 0.9 })).to.match(/Nothing has a tolerance/);
    expect(reason(tolerances, plain, [{ max: 1 }], { yield: 1 })).to.match(/below 100/);
    expect(reason(tolerances, effects(tolerances, sampled, [2]), [{ max: 1 }], { yield: 0.9 })).to.match(
      /design itself/,
    );
    const broken = [{ tolerance: 't0', curves: [{ at: [0], values: [null], fit: null }] }];
    const lost = effectsOfCurves(tolerances, broken, [0]);
    expect(lost).to.deep.include({ ok: false, where: 't0' });
    expect(lost.ok ? '' : lost.reason).to.match(/without a value/);
  });

  it('follow products of departures, and measures that are the worst of several squares, as they are evaluated anew', () => {
    const stream = new RandomStream(4, 0);
    const number = () => 2 * stream.uniform() - 1;
    const [n, trials] = [4, 60];
    const quadratics = Array.from({ length: 3 }, () => {
      const curvatures = Array.from({ length: n }, () => new Array<number>(n).fill(0));
      for (let i = 0; i < n; i++) for (let j = 0; j <= i; j++) curvatures[i][j] = curvatures[j][i] = number();
      return { value: 4 + number(), slopes: Array.from({ length: n }, number), curvatures };
    });
    const all: Effects = {
      quadratics,
      compositions: [
        { of: [0, 1], by: 'worst' },
        { of: [2], by: 'itself' },
      ],
    };
    const drawn = Array.from({ length: n }, () => Float64Array.from({ length: trials }, number));
    const limits = [{ max: 2.2 }, { min: 3, max: 5.5 }];
    const lot = new ScaledLot(all, limits, drawn);
    const anew = (scales: readonly number[]) => {
      let passed = 0;
      for (let t = 0; t < trials; t++) {
        const x = scales.map((scale, i) => scale * drawn[i][t]);
        const [a, b, c] = quadratics.map(({ value, slopes, curvatures }) =>
          x.reduce(
            (sum, xi, i) => sum + xi * (slopes[i] + x.reduce((s, xj, j) => s + curvatures[i][j] * xj, 0)),
            value,
          ),
        );
        if (Math.sqrt(Math.max(0, a, b)) <= 2.2 && c >= 3 && c <= 5.5) passed++;
      }
      return passed / trials;
    };
    const scales = [1, 1, 1, 1];
    expect(lot.stand().yield).to.equal(anew(scales));
    for (const [i, scale] of [
      [0, 0.5],
      [2, 2],
      [0, 1.4],
      [3, 0.25],
    ] as const) {
      expect(lot.standWith(i, scale).yield).to.equal(anew(scales.with(i, scale)));
      scales[i] = scale;
      lot.scale(i, scale);
      expect(lot.stand().yield).to.equal(anew(scales));
    }
  });

  it('of the tide camera by its response begin at the yield of its lot', () => {
    const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
    if (!read.ok) throw new Error('unreadable');
    const { tolerances, compensators = [] } = read.project.tolerancing!;
    const watched = watchedRequirements(read.project);
    const response = responseByDerivatives({ project: read.project, tolerances, compensators, watched });
    if (!response.ok) throw new Error(response.reason);
    const found = effectsOfResponse(response.value, tolerances, [...watched.keys()]);
    const suggestion = suggestLimits(tolerances, found!, watched, { yield: 0.9 });
    if (!suggestion.ok) throw new Error(suggestion.reason);
    const lot = lotByResponse(response.value, tolerances, 1, 2000);
    if (!lot.ok) throw new Error(lot.reason);
    expect(suggestion.value.before).to.equal(sumUp(lot.value, watched).passed / 2000);
    expect(suggestion.value.after).to.be.at.least(0.9);
    const unknown = [{ ...tolerances[0], id: 'other' }, ...tolerances.slice(1)];
    expect(effectsOfResponse(response.value, unknown, [0])).to.equal(null);
  });
});
