import { expect } from 'chai';
import type { LeastSquares, PolishResult, PolishState } from './damped-least-squares.ts';
import { evolve, type SampledSquares } from './evolution.ts';
import { quasiNewton } from './quasi-newton.ts';
import { RandomStream } from './random.ts';

/** Rosenbrock's valley: 10(x₂ − x₁²) and 1 − x₁, least at (1, 1). */
const VALLEY: SampledSquares = {
  size: 2,
  values: (x) => Float64Array.of(10 * (x[1] - x[0] ** 2), 1 - x[0]),
  columns: (x) => [Float64Array.of(-20 * x[0], -1), Float64Array.of(10, 0)],
  spread: [1, 1],
  errors: () => new Float64Array(2),
};

function end(run: Generator<PolishState, PolishResult, void>): PolishResult & { readonly seen: number[] } {
  const seen: number[] = [];
  for (;;) {
    const step = run.next();
    if (step.done) return { ...step.value, seen };
    seen.push(step.value.square);
  }
}

for (const [name, solver] of [
  ['quasiNewton', quasiNewton],
  ['evolve', evolve],
] as const)
  describe(name, () => {
    it('comes down a curved valley, no step worse than the one before', () => {
      const { x, square, seen } = end(solver(VALLEY, [-1.2, 1], {}));
      expect(square).to.be.below(1e-8);
      expect(x[0]).to.be.closeTo(1, 1e-4);
      expect(x[1]).to.be.closeTo(1, 2e-4);
      for (let k = 1; k < seen.length; k++) expect(seen[k]).to.be.at.most(seen[k - 1]);
    });

    it('stops at a bound, where the least of what is left lies', () => {
      const bounded = { ...VALLEY, lower: [-2, -2], upper: [0.5, 2] };
      const { x } = end(solver(bounded, [-1.2, 1], {}));
      // On x₁ = 1/2 the valley's floor is at x₂ = 1/4.
      expect(x[0]).to.be.closeTo(0.5, 1e-9);
      expect(x[1]).to.be.closeTo(0.25, 1e-4);
    });

    it('counts limits where they are exceeded alone', () => {
      const limited: SampledSquares = {
        size: 1,
        values: (x) => Float64Array.of(x[0] - 3, 100 * (x[0] - 2)),
        columns: () => [Float64Array.of(1, 100)],
        oneSided: [1],
        spread: [1],
        errors: () => new Float64Array(2),
      };
      // (x − 3)² + 10⁴ (x − 2)² above 2: least at 2 + 1/10001.
      expect(end(solver(limited, [0], {})).x[0]).to.be.closeTo(2 + 1 / 10001, 1e-6);
    });

    it('passes places without a value by, and says where the start has none', () => {
      const holed = { ...VALLEY, values: (x: Float64Array) => (x[0] > 1.05 ? null : VALLEY.values(x)) };
      expect(end(solver(holed, [-1.2, 1], {})).square).to.be.below(1e-6);
      expect(end(solver(holed, [2, 1], {})).reason).to.equal('no_start');
    });

    it('looks no oftener than it may', () => {
      const { evaluations, reason } = end(solver(VALLEY, [-1.2, 1], { evaluations: 20 }));
      expect(reason).to.equal('evaluations');
      expect(evaluations).to.be.within(20, 26);
    });
  });

describe('evolve, where values are sampled', () => {
  it('stops as near to the minimum as values can be told apart, and says so', () => {
    const ERROR = 0.05;
    const far = (seed: number) => {
      // What the same random numbers add everywhere, and a little that changes from place to place.
      const stream = new RandomStream(seed, 1);
      const offset = ERROR * (2 * stream.uniform() - 1);
      const noisy: SampledSquares = {
        size: 3,
        values: (x) => x.map((value, j) => value - j + offset),
        columns: () => [],
        spread: [2, 2, 2],
        errors: () => new Float64Array(3).fill(ERROR),
      };
      const { x, reason, evaluations } = end(evolve(noisy, [5, -4, 3], { seed }));
      expect(reason).to.equal('noise');
      expect(evaluations).to.be.below(600);
      return Math.max(...x.map((value, j) => Math.abs(value - j)));
    };
    for (let seed = 1; seed <= 20; seed++) expect(far(seed), `seed ${seed}`).to.be.below(3 * ERROR);
  });

  it('is the same again for the same seed', () => {
    const [one, other] = [1, 1].map((seed) => end(evolve(VALLEY, [-1.2, 1], { seed })));
    expect([...one.x]).to.deep.equal([...other.x]);
    expect(end(evolve(VALLEY, [-1.2, 1], { seed: 2 })).x[0]).not.to.equal(one.x[0]);
  });
});

describe('quasiNewton', () => {
  it('finds the minimum of a sum that does not vanish', () => {
    // Squares of x − 1 and x + 1 beside 2y: least at 0 with a sum of 2.
    const odd: LeastSquares = {
      size: 2,
      values: (x) => Float64Array.of(x[0] - 1, x[0] + 1, 2 * x[1] ** 3),
      columns: (x) => [Float64Array.of(1, 1, 0), Float64Array.of(0, 0, 6 * x[1] ** 2)],
    };
    const { x, square } = end(quasiNewton(odd, [4, 1.5], {}));
    expect(square).to.be.closeTo(2, 1e-6);
    expect(x[0]).to.be.closeTo(0, 1e-5);
  });
});
