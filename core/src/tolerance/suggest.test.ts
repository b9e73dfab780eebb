import { expect } from 'chai';
import { normalBelow } from '../math/normal-distribution.ts';
import type { Tolerance } from '../project/tolerances.ts';
import type { Sampled } from './influence.ts';
import { suggestLimits } from './suggest.ts';

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
const suggest = (slopes: readonly number[], max: number, wanted: number, curvature = 0) => {
  const { tolerances, sampled } = made(slopes, curvature);
  const found = suggestLimits(tolerances, sampled, [0], [{ min: -max, max }], { yield: wanted, trials: 4000 });
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
    const reason = (...args: Parameters<typeof suggestLimits>) => {
      const found = suggestLimits(...args);
      return found.ok ? '' : found.reason;
    };
    expect(reason(tolerances, sampled, [0], [{}], { yield: 0.9 })).to.match(/limit/);
    expect(reason(tolerances, sampled, [0], [{ max: 1 }], { yield: 1 })).to.match(/below 100/);
    expect(reason(tolerances, sampled, [2], [{ max: 1 }], { yield: 0.9 })).to.match(/design itself/);
    const broken = [{ tolerance: 't0', curves: [{ at: [0], values: [null], fit: null }] }];
    expect(reason(tolerances, broken, [0], [{ max: 1 }], { yield: 0.9 })).to.match(/without a value/);
  });
});
