import { dampedLeastSquares, type PolishRules, type StopReason } from '../math/damped-least-squares.ts';
import { evolve } from '../math/evolution.ts';
import { quasiNewton } from '../math/quasi-newton.ts';
import type { FormulaEvaluator } from '../math/formula.ts';
import { success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import { countingGoals, limitsOf } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { NumberWriter } from './free-numbers.ts';
import { goalTitle } from './goal-scale.ts';
import { isSampled, MeritProblem } from './problem.ts';
import type { RowBlock } from './rows-layout.ts';

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
  /** What gives the free numbers these values. */
  readonly edits: readonly Edit[];
  /** The project with them, and with all that follows from them. */
  readonly project: Project;
}

/**
 * What turns the numbers: damped least squares, the slopes of the sum alone, or values alone, which needs no derivatives and is what sampled goals
 * are looked at with.
 */
export const POLISH_METHODS = ['squares', 'slopes', 'values'] as const;
export type PolishMethod = (typeof POLISH_METHODS)[number];

export interface PolishOptions extends PolishRules {
  /** By Ulvex's choice when left out: values alone where a goal is sampled by rays at random, else damped least squares. */
  readonly method?: PolishMethod;
}

export interface PolishEnd extends Polished {
  readonly method: PolishMethod;
  readonly reason: StopReason;
  /** The merit at the start. */
  readonly before: number;
}

/**
 * The usual rule of a polish: it stops when a step gains less than a millionth of the sum of squares and none could gain more, or when
 * twenty steps together gain less than a hundredth of it.
 */
const RULES: PolishRules = { gain: 1e-6, slow: 0.01, evaluations: 1000 };
/** A search by values alone stops by its own rule; it needs more looks. */
const BY_VALUES: PolishRules = { gain: 1e-9, evaluations: 5000 };

/**
 * Turns the free numbers of a project to the nearest minimum of its goals, within bounds and making-limits. Yields
 * with every step. Fails, saying what to do, where there is nothing to be done or no value to start from.
 */
export function* polish(
  project: Project,
  evaluate: FormulaEvaluator | null,
  options: PolishOptions = {},
): Generator<Polished, Outcome<PolishEnd>, void> {
  const made = MeritProblem.of(project, evaluate);
  if (!made.ok) return made;
  return yield* polishProblem(made.value, options);
}

/** A polish of a problem that is there already. */
export function* polishProblem(
  problem: MeritProblem,
  { method: asked, ...rules }: PolishOptions = {},
): Generator<Polished, Outcome<PolishEnd>, void> {
  const { project } = problem;
  const start = problem.values(problem.start);
  const before = Math.sqrt(contributionsOf(problem, start!).reduce((sum, { square }) => sum + square, 0));
  const method = asked ?? (problem.sampled ? 'values' : 'squares');
  const solver = { squares: dampedLeastSquares, slopes: quasiNewton, values: evolve }[method];
  const run = solver(problem, problem.start, { ...(method === 'values' ? BY_VALUES : RULES), ...rules });
  const writer = new NumberWriter(project, problem.numbers);
  let known: Polished | null = null;
  for (;;) {
    const step = run.next();
    const { x, square, evaluations, steps } = step.value;
    const edits = writer.edits(project, x);
    const state: Polished =
      known?.x === x
        ? { ...known, evaluations, steps }
        : {
            merit: Math.sqrt(square),
            evaluations,
            steps,
            x,
            contributions: contributionsOf(problem, problem.valuesAt(x)),
            edits: edits.ok ? edits.value : [],
            project: problem.projectAt(x) ?? project,
          };
    known = state;
    if (step.done) return success({ ...state, method, reason: step.value.reason, before });
    yield state;
  }
}

/** A polish run to its end at once. */
export function polishToEnd(
  project: Project,
  evaluate: FormulaEvaluator | null,
  options: PolishOptions,
): Outcome<PolishEnd> {
  const run = polish(project, evaluate, options);
  for (;;) {
    const step = run.next();
    if (step.done) return step.value;
  }
}

/** Something that a run should not begin with unasked. */
export interface Warning {
  readonly text: string;
  /** Whether a run waits until it is agreed to. */
  readonly asks: boolean;
}

/**
 * What is doubtful about a run before it begins: no making-limits at all, goals that count nothing, goals that no free number moves. Fails as
 * `polish` would, where it cannot begin.
 */
export function warnings(project: Project, evaluate: FormulaEvaluator | null): Outcome<readonly Warning[]> {
  const made = MeritProblem.of(project, evaluate);
  if (!made.ok) return made;
  const problem = made.value;
  const found: Warning[] = [];
  const unlimited =
    project.making?.off === true || Object.values(limitsOf(project.making)).every((limit) => limit === null);
  const bounded = problem.numbers.some(({ lower, upper }) => Number.isFinite(lower) || Number.isFinite(upper));
  const limited = problem.oneSided.length > 0;
  const lens = project.lenses.some(({ id }) => problem.blocks.some(({ goal }) => goal?.of === id));
  if (!bounded && !limited)
    found.push({
      asks: true,
      text: lens
        ? 'No limit of any kind is set: a run may make needles, negative gaps and glass bent back on itself.'
        : 'No free number has a bound: a run may move things anywhere.',
    });
  else if (unlimited && lens)
    found.push({ asks: false, text: 'Making-limits are off: a run may produce lenses that cannot be made.' });
  for (const goal of countingGoals(project.goals, project.goalGroups))
    if (!goal.off && goal.weight === 0)
      found.push({ asks: false, text: `${goalTitle(goal)} has weight 0: it does not count.` });
  const values = problem.values(problem.start)!;
  const columns = problem.columns(problem.start);
  for (const { goal, from, count } of problem.blocks) {
    if (!goal || isSampled(goal)) continue; // slopes of what is sampled are not taken
    const moved = columns.some((column) => column.subarray(from, from + count).some((value) => value !== 0));
    const missed = values
      .subarray(from, from + count)
      .some((value, i) => value !== 0 && (value > 0 || !problem.oneSided.includes(from + i)));
    if (!moved && missed)
      found.push({ asks: false, text: `${goalTitle(goal)} is not met, and no free number moves it.` });
  }
  return success(found);
}

/** What each goal makes of the sum of squares. */
export function contributionsOf(problem: MeritProblem, values: Float64Array): Contribution[] {
  const oneSided = new Set(problem.oneSided);
  return problem.blocks.map(({ goal, state, from, count }: RowBlock) => {
    let square = 0;
    for (let i = from; i < from + count; i++) if (values[i] > 0 || !oneSided.has(i)) square += values[i] * values[i];
    return { goal: goal?.id ?? null, title: goal ? goalTitle(goal) : 'Making-limits', state, square };
  });
}
