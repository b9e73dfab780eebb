import { dampedLeastSquares, type PolishRules, type StopReason } from '../math/damped-least-squares.ts';
import type { FormulaEvaluator } from '../math/formula.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import { NumberWriter } from './free-numbers.ts';
import { goalTitle, MeritProblem, type RowBlock } from './problem.ts';

/** How much of the merit a goal, or the making-limits, make. */
export interface Contribution {
  /** Id of the goal; null for making-limits. */
  readonly goal: string | null;
  readonly title: string;
  readonly state: string;
  /** Sum of its squares: the merit is the root of the sum over all. */
  readonly square: number;
}

/** How a run stands. */
export interface Polished {
  readonly merit: number;
  readonly evaluations: number;
  readonly steps: number;
  /** Values of the free numbers as solvers see them. */
  readonly x: Float64Array;
  readonly contributions: readonly Contribution[];
}

export interface PolishEnd extends Polished {
  readonly reason: StopReason;
  readonly before: number;
  /** What makes the project what the run found. */
  readonly edits: readonly Edit[];
  readonly project: Project;
}

/** The usual rule of a polish: it stops when a step gains less than a millionth of the sum of squares, and none could. */
const RULES: PolishRules = { gain: 1e-6, evaluations: 1000 };

/**
 * Turns the free numbers of a project to the nearest minimum of its goals, within bounds and making-limits. Yields with every step that made
 * it better. Fails, saying what to do, where there is nothing to be done or no value to start from.
 */
export function* polish(project: Project, evaluate: FormulaEvaluator | null, rules: PolishRules = {}): Generator<Polished, Outcome<PolishEnd>, void> {
  const made = MeritProblem.of(project, evaluate);
  if (!made.ok) return made;
  const problem = made.value;
  const start = problem.values(problem.start);
  const before = Math.sqrt(contributionsOf(problem, start!).reduce((sum, { square }) => sum + square, 0));
  const run = dampedLeastSquares(problem, problem.start, { ...RULES, ...rules });
  for (;;) {
    const step = run.next();
    const { x, square, evaluations, steps } = step.value;
    const values = problem.values(x)!;
    const state = { merit: Math.sqrt(square), evaluations, steps, x, contributions: contributionsOf(problem, values) };
    if (!step.done) {
      yield state;
      continue;
    }
    const writer = new NumberWriter(project, problem.numbers);
    const edits = writer.edits(project, x);
    return success({ ...state, reason: step.value.reason, before, edits: edits.ok ? edits.value : [], project: problem.projectAt(x) ?? project });
  }
} // prettier-ignore

/** What each goal makes of the sum of squares. */
export function contributionsOf(problem: MeritProblem, values: Float64Array): Contribution[] {
  const oneSided = new Set(problem.oneSided);
  return problem.blocks.map(({ goal, state, from, count }: RowBlock) => {
    let square = 0;
    for (let i = from; i < from + count; i++)
      if (values[i] > 0 || !oneSided.has(i)) square += values[i] * values[i];
    return { goal: goal?.id ?? null, title: goal ? goalTitle(goal) : 'Making-limits', state, square };
  });
}
