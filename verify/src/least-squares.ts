import { dampedLeastSquares, type LeastSquares, type PolishResult } from '@ulvex/core';
import { TEST_PROBLEMS, type TestProblem } from './least-squares-problems.ts';

/** How far above a documented minimum, to the digits that are documented, a run may end. */
const SHARE = 1e-4;
/** What counts as 0. */
const NOTHING = 1e-10;

function problemOf({ start, f }: TestProblem): LeastSquares {
  return {
    size: start.length,
    values(x) {
      const values = Float64Array.from(f([...x]));
      return values.every(Number.isFinite) ? values : null;
    },
    // Central differences: the formulas above stand alone.
    columns: (x) =>
      start.map((_, j) => {
        const h = 1e-6 * Math.max(Math.abs(x[j]), 1e-2);
        const [behind, before] = [h, -h].map((by) => f([...x].map((value, k) => (k === j ? value + by : value))));
        return Float64Array.from(behind, (value, i) => (value - before[i]) / (2 * h));
      }),
  };
}

/** Runs a problem from a multiple of its standard start to its end. */
export function runProblem(problem: TestProblem, factor: number): PolishResult & { readonly solved: boolean } {
  const start = problem.start.every((value) => value === 0)
    ? problem.start.map(() => (factor === 1 ? 0 : factor))
    : problem.start.map((value) => factor * value);
  const run = dampedLeastSquares(problemOf(problem), start, { evaluations: 3000, steps: 3000 });
  for (;;) {
    const step = run.next();
    if (!step.done) continue;
    const { square } = step.value;
    const solved = problem.minima.some((minimum) =>
      minimum === 0 ? square <= NOTHING : Math.abs(square - minimum) <= SHARE * minimum,
    );
    return { ...step.value, solved };
  }
}

/** What came of all problems from a multiple of their standard starts. */
export function solveAll(factor: number) {
  const runs = TEST_PROBLEMS.map((problem) => ({ name: problem.name, ...runProblem(problem, factor) }));
  return {
    runs,
    solved: runs.filter(({ solved }) => solved).length,
    of: runs.length,
    evaluations: runs.reduce((sum, run) => sum + run.evaluations, 0),
  };
}
