import { expect } from 'chai';
import { capability, linearSpread, yieldInterval } from './capability.ts';
import { distributionOf, type Distribution, type DistributionKind, type Moments } from './distribution.ts';
import { erfc, normalBelow, normalQuantile } from './normal-distribution.ts';
import { correlationRoot, responseMoments, responseOf, type QuadraticResponse } from './quadratic-response.ts';
import { gaussLegendre } from './quadrature.ts';

function made(shape: DistributionKind, lower: number, upper: number): Distribution {
  const found = distributionOf(shape, lower, upper);
  if (!found.ok) throw new Error(found.reason);
  return found.value;
}

const SHAPES: Readonly<Record<string, DistributionKind>> = {
  uniform: { kind: 'uniform' },
  triangular: { kind: 'triangular' },
  ends: { kind: 'ends' },
  'normal, truncated': { kind: 'normal', sigmas: 2, truncated: true },
  'from a table': {
    kind: 'table',
    points: [
      [0, 1],
      [0.3, 4],
      [0.5, 0],
      [1, 2],
    ],
  },
};

describe('the normal distribution', () => {
  it('has the values of tables, in the tails too', () => {
    // Abramowitz and Stegun, table 26.1 and 7.1; the tails by their asymptotic series to 20 terms.
    expect(normalBelow(0)).to.equal(0.5);
    expect(normalBelow(1)).to.be.closeTo(0.841344746068543, 1e-15);
    expect(normalBelow(-3)).to.be.closeTo(0.0013498980316300946, 1e-17);
    expect(normalBelow(-6) / 9.865876450376981e-10).to.be.closeTo(1, 1e-13);
    expect(normalBelow(-10) / 7.619853024160527e-24).to.be.closeTo(1, 1e-13);
    expect(erfc(0.5)).to.be.closeTo(0.4795001221869535, 1e-15);
    expect(erfc(-1)).to.be.closeTo(1.842700792949715, 1e-15);
  });

  it('is smooth where the series hands over to the fraction', () => {
    for (const x of [0.7, 0.7999999, 0.8, 0.8000001, 2.4]) {
      const slope = (erfc(x + 1e-4) - erfc(x - 1e-4)) / 2e-4;
      expect(slope / ((-2 / Math.sqrt(Math.PI)) * Math.exp(-x * x))).to.be.closeTo(1, 1e-7);
    }
  });

  it('gives back the share of its quantiles', () => {
    for (const share of [1e-300, 1e-12, 0.001, 0.02425, 0.3, 0.5, 0.7, 0.999, 1 - 1e-12])
      expect(normalBelow(normalQuantile(share)) / share, String(share)).to.be.closeTo(1, 1e-12);
    expect(normalQuantile(0.975)).to.be.closeTo(1.959963984540054, 1e-14);
    expect([normalQuantile(0), normalQuantile(1)]).to.deep.equal([-Infinity, Infinity]);
  });
});

describe('distributions between limits', () => {
  it('have the moments of closed forms', () => {
    const central = (shape: DistributionKind, lower: number, upper: number) => made(shape, lower, upper).moments;
    const uniform = central({ kind: 'uniform' }, -1, 3);
    expect(uniform.mean).to.be.closeTo(1, 1e-14);
    [1, 0, 4 / 3, 0, 16 / 5, 0, 64 / 7].forEach((m, k) => expect(uniform.central[k]).to.be.closeTo(m, 1e-13));
    // A triangle from a to b with its peak at c: mean (a + b + c)/3, variance (a² + b² + c² − ab − ac − bc)/18.
    const triangle = central({ kind: 'triangular' }, -2, 1);
    expect(triangle.mean).to.be.closeTo(-1 / 3, 1e-14);
    expect(triangle.central[2]).to.be.closeTo((4 + 1 + 2) / 18, 1e-14);
    const ends = central({ kind: 'ends' }, -1, 2);
    expect([ends.mean, ends.central[2], ends.central[4]]).to.deep.equal([0.5, 2.25, 2.25 ** 2]);
    const normal = central({ kind: 'normal', sigmas: 3 }, -6, 6);
    [1, 0, 4, 0, 48, 0, 960].forEach((m, k) => expect(normal.central[k]).to.be.closeTo(m, 1e-12));
    // Truncated at ±1σ: 1 − 2φ(1)/(2Φ(1) − 1).
    const cut = central({ kind: 'normal', sigmas: 1, truncated: true }, -1, 1);
    expect(cut.central[2]).to.be.closeTo(1 - (2 * 0.24197072451914337) / 0.6826894921370859, 1e-14);
    expect(central({ kind: 'uniform' }, 0, 0).central).to.deep.equal([1, 0, 0, 0, 0, 0, 0]);
  });

  for (const [name, shape] of Object.entries(SHAPES))
    it(`${name}: quantiles rise within the limits, and their moments are those that are stated`, () => {
      const { moments, quantile } = made(shape, -1, 2);
      const count = 200_000;
      const values = Float64Array.from({ length: count }, (_, i) => quantile((i + 0.5) / count));
      values.forEach((value, i) => {
        if (i > 0 && !(value >= values[i - 1])) throw new Error(`quantile ${i} falls`);
      });
      expect(values[0]).to.be.at.least(-1);
      expect(values[count - 1]).to.be.at.most(2);
      const average = (of: (x: number) => number) => values.reduce((sum, x) => sum + of(x), 0) / count;
      expect(average((x) => x)).to.be.closeTo(moments.mean, 1e-5);
      for (let k = 2; k < 7; k++)
        expect(
          average((x) => (x - moments.mean) ** k),
          `moment ${k}`,
        ).to.be.closeTo(moments.central[k], 1e-4);
    });

  it('say what is wrong with limits, widths and tables', () => {
    const reason = (shape: DistributionKind, lower = -1, upper = 1) => {
      const found = distributionOf(shape, lower, upper);
      return found.ok ? '' : found.reason;
    };
    expect(reason({ kind: 'uniform' }, 1, 2)).to.match(/both sides of 0/);
    expect(reason({ kind: 'uniform' }, -Infinity, 2)).to.match(/both sides of 0/);
    expect(reason({ kind: 'normal', sigmas: 0 })).to.match(/above 0/);
    expect(reason({ kind: 'table', points: [[0, 1]] })).to.match(/two points/);
    expect(
      reason({
        kind: 'table',
        points: [
          [0, 1],
          [0.5, 1],
          [0.4, 1],
        ],
      }),
    ).to.match(/Point 3/);
    expect(
      reason({
        kind: 'table',
        points: [
          [0, 1],
          [1, -1],
        ],
      }),
    ).to.match(/Point 2/);
    expect(
      reason({
        kind: 'table',
        points: [
          [0, 0],
          [1, 0],
        ],
      }),
    ).to.match(/no weight/);
  });
});

/** Mean, variance and third moment of a response by all combinations of nodes of each quantity with their weights. */
function byNodes(response: QuadraticResponse, nodes: readonly (readonly (readonly [x: number, weight: number])[])[]) {
  const all: [value: number, weight: number][] = [];
  const walk = (x: number[], weight: number) => {
    if (x.length < nodes.length) {
      for (const [at, share] of nodes[x.length]) walk([...x, at], weight * share);
      return;
    }
    const { value, slopes, curvatures } = response;
    const squares = curvatures.reduce((sum, row, i) => sum + x[i] * row.reduce((s, q, j) => s + q * x[j], 0), 0);
    all.push([value + slopes.reduce((sum, b, i) => sum + b * x[i], 0) + squares, weight]);
  };
  walk([], 1);
  const mean = all.reduce((sum, [value, weight]) => sum + weight * value, 0);
  const central = (k: number) => all.reduce((sum, [value, weight]) => sum + weight * (value - mean) ** k, 0);
  return { mean, variance: central(2), third: central(3) };
}

const RESPONSE: QuadraticResponse = {
  value: 4,
  slopes: [1, -2, 0.5, 0.8],
  curvatures: [
    [3, 0.5, 0, -0.4],
    [0.5, -1, 0.2, 0.7],
    [0, 0.2, 2, 0.3],
    [-0.4, 0.7, 0.3, -1.5],
  ],
};

function expectSame(found: ReturnType<typeof responseMoments>, wanted: ReturnType<typeof byNodes>) {
  for (const key of ['mean', 'variance', 'third'] as const)
    expect(found[key], key).to.be.closeTo(wanted[key], 1e-11 * Math.max(1, Math.abs(wanted[key])));
}

describe('a quadratic response', () => {
  it('to two ends each has the moments of all combinations', () => {
    const limits = [
      [-0.1, 0.3],
      [-0.5, 0.2],
      [-0.4, 0.4],
      [0, 0.6],
    ] as const;
    const parts = limits.map(([lower, upper]) => made({ kind: 'ends' }, lower, upper).moments);
    expectSame(
      responseMoments(RESPONSE, parts),
      byNodes(
        RESPONSE,
        limits.map((ends) => ends.map((x) => [x, 0.5])),
      ),
    );
  });

  it('to uniform and triangular quantities has those of quadrature', () => {
    const { nodes, weights } = gaussLegendre(5); // exact for the sixth powers of a triangle's sides
    const rule = (from: number, to: number, density: (x: number) => number) =>
      [...nodes].map((node, k) => {
        const x = (from + to) / 2 + ((to - from) / 2) * node;
        return [x, (((to - from) / 2) * weights[k] * density(x)) as number] as const;
      });
    const uniform = (lower: number, upper: number) => rule(lower, upper, () => 1 / (upper - lower));
    const triangle = (lower: number, upper: number) => {
      const peak = 2 / (upper - lower);
      return [...rule(lower, 0, (x) => peak * (1 - x / lower)), ...rule(0, upper, (x) => peak * (1 - x / upper))];
    };
    const parts: Moments[] = [
      made({ kind: 'uniform' }, -0.1, 0.3).moments,
      made({ kind: 'triangular' }, -0.5, 0.2).moments,
      made({ kind: 'uniform' }, -0.4, 0.4).moments,
      made({ kind: 'triangular' }, -0.2, 0.6).moments,
    ];
    const rules = [uniform(-0.1, 0.3), triangle(-0.5, 0.2), uniform(-0.4, 0.4), triangle(-0.2, 0.6)];
    expectSame(responseMoments(RESPONSE, parts), byNodes(RESPONSE, rules));
  });

  it('to normal ones with correlations has the traces of the matrices', () => {
    const correlations = [
      [1, 0.5, 0, 0.2],
      [0.5, 1, -0.3, 0],
      [0, -0.3, 1, 0.4],
      [0.2, 0, 0.4, 1],
    ];
    const sigmas = [0.1, 0.2, 0.3, 0.15];
    const root = correlationRoot(correlations)!;
    const mix = root.map((row, i) => row.map((c) => sigmas[i] * c));
    const unit = made({ kind: 'normal', sigmas: 1 }, -1, 1).moments;
    const found = responseMoments(responseOf(RESPONSE, mix), [unit, unit, unit, unit]);
    const multiply = (p: readonly (readonly number[])[], q: readonly (readonly number[])[]) =>
      p.map((row) => q[0].map((_, j) => row.reduce((sum, value, k) => sum + value * q[k][j], 0)));
    const covariance = correlations.map((row, i) => row.map((r, j) => r * sigmas[i] * sigmas[j]));
    const qs = multiply(RESPONSE.curvatures, covariance);
    const trace = (p: readonly (readonly number[])[]) => p.reduce((sum, row, i) => sum + row[i], 0);
    const b = RESPONSE.slopes;
    const form = (p: readonly (readonly number[])[]) =>
      p.reduce((sum, row, i) => sum + b[i] * row.reduce((s, value, j) => s + value * b[j], 0), 0);
    expect(found.mean).to.be.closeTo(4 + trace(qs), 1e-13);
    expect(found.variance).to.be.closeTo(form(covariance) + 2 * trace(multiply(qs, qs)), 1e-13);
    const third = 6 * form(multiply(covariance, qs)) + 8 * trace(multiply(qs, multiply(qs, qs)));
    expect(found.third).to.be.closeTo(third, 1e-13);
  });

  it('to quantities that share one draw is that of a single quantity', () => {
    const shared = responseOf(RESPONSE, [[1], [-2], [0.5], [1]]);
    const uniform = made({ kind: 'uniform' }, -0.2, 0.3);
    const along = (v: number) => {
      const x = [v, -2 * v, 0.5 * v, v];
      return byNodes(
        RESPONSE,
        x.map((at) => [[at, 1]]),
      ).mean;
    };
    const { nodes, weights } = gaussLegendre(7);
    const mean = [...nodes].reduce((sum, node, k) => sum + (weights[k] / 2) * along(0.05 + 0.25 * node), 0);
    const third = [...nodes].reduce(
      (sum, node, k) => sum + (weights[k] / 2) * (along(0.05 + 0.25 * node) - mean) ** 3,
      0,
    );
    const found = responseMoments(shared, [uniform.moments]);
    expect(found.mean).to.be.closeTo(mean, 1e-13);
    expect(found.third).to.be.closeTo(third, 1e-13);
  });

  it('has no root for correlations that contradict each other, and one for those that follow wholly', () => {
    expect(
      correlationRoot([
        [1, 0.9, -0.9],
        [0.9, 1, 0.9],
        [-0.9, 0.9, 1],
      ]),
    ).to.equal(null);
    expect(
      correlationRoot([
        [1, 1],
        [1, 1],
      ]),
    ).to.deep.equal([
      [1, 0],
      [1, 0],
    ]);
  });
});

describe('capability and yield', () => {
  it('count each limit that there is', () => {
    const { cp, cpk, out } = capability(0.5, 1, { max: 2 });
    expect(cp).to.equal(null);
    expect(cpk).to.be.closeTo(0.5, 1e-15);
    expect(out).to.be.closeTo(0.06680720126885807, 1e-15);
    expect(capability(1, 0, { min: 0, max: 2 })).to.deep.equal({ cp: Infinity, cpk: Infinity, yield: 1, out: 0 });
    expect(capability(3, 0, { max: 2 }).yield).to.equal(0);
    expect(capability(3, 1, {})).to.deep.equal({ cp: null, cpk: null, yield: 1, out: 0 });
  });

  it('add errors by squares, and at worst as they are', () => {
    expect(linearSpread([3, -4], [1, 1])).to.deep.equal({ sigma: 5, worst: 7 });
    expect(linearSpread([3, -4], [1, 1], [2, 3])).to.deep.equal({ sigma: 5, worst: 18 });
  });

  it('cover the true yield as often as the interval says', () => {
    const trials = 200;
    for (const truth of [0.5, 0.9, 0.98]) {
      // The probability of each count of trials that pass, one from the other.
      let probability = trials * Math.log(1 - truth); // its logarithm: the least ones are below all numbers
      let covered = 0;
      for (let passed = 0; passed <= trials; passed++) {
        const [low, high] = yieldInterval(passed, trials);
        if (low <= truth && truth <= high) covered += Math.exp(probability);
        probability += Math.log(((trials - passed) / (passed + 1)) * (truth / (1 - truth)));
      }
      expect(covered, String(truth)).to.be.within(0.925, 0.975);
    }
    expect(yieldInterval(0, 0)).to.deep.equal([0, 1]);
    expect(yieldInterval(20, 20)[1]).to.equal(1);
  });
});
