import { expect } from 'chai';
import { dampedLeastSquares, type LeastSquares, type PolishResult, type PolishRules } from './damped-least-squares.ts';

/** Runs to the end; the result with the sums on the way. */
function solve(
  problem: LeastSquares,
  start: readonly number[],
  rules: PolishRules = {},
): PolishResult & { readonly way: readonly number[] } {
  const run = dampedLeastSquares(problem, start, rules);
  const way: number[] = [];
  for (;;) {
    const step = run.next();
    if (step.done) return { ...step.value, way };
    way.push(step.value.square);
  }
}

function problem(
  f: (x: readonly number[]) => number[],
  more: Partial<LeastSquares> & { readonly size: number },
): LeastSquares {
  return {
    values: (x) => Float64Array.from(f([...x])),
    columns: (x) =>
      Array.from({ length: more.size }, (_, j) => {
        const h = 1e-6;
        const [a, b] = [h, -h].map((by) => f([...x].map((value, k) => (k === j ? value + by : value))));
        return Float64Array.from(a, (value, i) => (value - b[i]) / (2 * h));
      }),
    ...more,
  };
}

describe('damped least squares', () => {
  it('come to the normal equations of a linear problem in one step, and better with every step of others', () => {
    const line = problem(([a, b]) => [0, 1, 2, 3].map((t) => a + b * t - [1, 3, 4, 4][t]), { size: 2 });
    const found = solve(line, [0, 0]);
    expect(found.x[0]).to.be.closeTo(1.5, 1e-9);
    expect(found.x[1]).to.be.closeTo(1, 1e-9);
    expect(found.square).to.be.closeTo(1, 1e-9);
    const banana = problem(([a, b]) => [10 * (b - a * a), 1 - a], { size: 2 });
    const { way, x } = solve(banana, [-1.2, 1]);
    expect([...x]).to.deep.equal([1, 1]);
    for (let k = 1; k < way.length; k++) expect(way[k]).to.be.below(way[k - 1]);
  });

  it('keep within bounds, and go along them', () => {
    const banana = {
      ...problem(([a, b]) => [10 * (b - a * a), 1 - a], { size: 2 }),
      upper: [0.5, 10],
      lower: [-2, -2],
    };
    const { x, square } = solve(banana, [-1.2, 1]);
    expect(x[0]).to.equal(0.5);
    expect(x[1]).to.be.closeTo(0.25, 1e-7);
    expect(square).to.be.closeTo(0.25, 1e-9);
    expect(solve({ ...banana, lower: [-1, 3] }, [-1.2, 1]).x[1]).to.equal(3);
  });

  it('make no more of a limit than it asks for, however steep its penalty', () => {
    // Nearest to (3, 2) with x + y at most 4: at (2.5, 1.5). With at most 6 the limit is not felt.
    const limited = (most: number) =>
      problem(([a, b]) => [a - 3, b - 2, 1e4 * (a + b - most)], { size: 2, oneSided: [2] });
    const felt = solve(limited(4), [0, 0]);
    expect(felt.x[0]).to.be.closeTo(2.5, 1e-6);
    expect(felt.x[1]).to.be.closeTo(1.5, 1e-6);
    const free = solve(limited(6), [0, 0]);
    expect(free.x[0]).to.be.closeTo(3, 1e-8);
    expect(free.x[1]).to.be.closeTo(2, 1e-8);
    expect(free.steps).to.be.below(12);
    const back = solve(limited(4), [30, 20]);
    expect(back.x[0] + back.x[1]).to.be.closeTo(4, 1e-6);
  });

  it('stop by their own rule, and say which', () => {
    const nowhere = { ...problem(([a]) => [a], { size: 1 }), values: () => null };
    expect(solve(nowhere, [1]).reason).to.equal('no_start');
    expect(
      solve(
        problem(([a]) => [a * a + 1], { size: 1 }),
        [0],
      ).reason,
    ).to.equal('flat');
    const banana = problem(([a, b]) => [10 * (b - a * a), 1 - a], { size: 2 });
    expect(solve(banana, [-1.2, 1], { evaluations: 5 })).to.deep.include({
      reason: 'evaluations',
      evaluations: 5,
    });
    // A valley in which every step gains little: twenty of them are told apart from none.
    const slow = problem(([a, b]) => [1000 * (b - a * a), 0.01 * (20 - a)], { size: 2 });
    expect(solve(slow, [-5, 25], { slow: 0.5 }).reason).to.equal('slow');
    expect(solve(slow, [-5, 25]).reason).to.not.equal('slow');
    expect(solve(banana, [-1.2, 1], { steps: 3 })).to.deep.include({ reason: 'steps', steps: 3 });
  });

  it('go round what has no value', () => {
    const rooted = problem(([a]) => [Math.sqrt(a) - 0.1], { size: 1 });
    const walled: LeastSquares = {
      ...rooted,
      values: (x) => (x[0] > 0 ? Float64Array.of(Math.sqrt(x[0]) - 0.1) : null),
      columns: (x) => [Float64Array.of(0.5 / Math.sqrt(x[0]))],
    };
    expect(solve(walled, [4]).x[0]).to.be.closeTo(0.01, 1e-8);
  });

  it('leave unknowns alone that nothing depends on', () => {
    const found = solve(
      problem(([a]) => [a - 2], { size: 2 }),
      [0, 7],
    );
    expect([...found.x]).to.deep.equal([2, 7]);
  });
});
