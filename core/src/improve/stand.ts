import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { evaluateMeasure, findMeasure } from '../measures/registry.ts';
import { countingGoals, type Goal, type ImageGoal, type MeasureGoal } from '../project/improve.ts';
import { eachField } from './each-field.ts';
import { imageRows, imageSampling, imageUnit } from './image-goal.ts';
import type { ImagePart } from './image-rows.ts';
import { makingRows, rimRays, type MakingRow } from './making-limits.ts';
import { goalScale, goalTitle, makingScale, sidesOf } from './goal-scale.ts';

/** How a goal stands in one state. */
export interface GoalStand {
  readonly goal: string;
  readonly title: string;
  /** Id of the state; `designed` for the design. */
  readonly state: string;
  /** The measure's value, or the RMS of an image goal; null where it has none, and why. */
  readonly value: number | null;
  readonly unit: string;
  /** One standard deviation, where the value is sampled at random. */
  readonly standardError?: number;
  readonly why?: string;
  /** What it adds to the square of the merit. */
  readonly square: number;
  /** Of an image goal: how it is sampled and why, and what each field and colour makes of it. */
  readonly sampling?: string;
  readonly parts?: readonly ImagePart[];
}

/** How a making-limit stands, and what it adds to the square of the merit. */
export interface LimitStand extends MakingRow {
  readonly lens: string;
  readonly state: string;
  readonly square: number;
}

/** How all goals and limits of a project stand: the merit is the root of the sum of their squares. */
export interface MeritStand {
  readonly merit: number;
  readonly goals: readonly GoalStand[];
  readonly limits: readonly LimitStand[];
}

/** Every goal that is on and counts, in every state in which it does, and the limits of the lenses that they are about. */
export function meritStand(evaluation: Evaluation): MeritStand {
  const { project } = evaluation;
  const counting = countingGoals(project.goals, project.goalGroups);
  const goals = counting.flatMap((goal) =>
    statesOf(evaluation, goal).map((state) => goalStand(evaluation, goal, state)),
  );
  const lenses = new Map<string, { lens: string; state: string }>();
  for (const goal of counting)
    if (!goal.off)
      for (const state of statesOf(evaluation, goal)) lenses.set(`${goal.of} ${state}`, { lens: goal.of, state });
  const limits = project.making?.off
    ? []
    : [...lenses.values()].flatMap(({ lens, state }) => limitStands(evaluation, lens, state));
  const on = new Set(counting.filter(({ off }) => !off).map(({ id }) => id));
  const square = goals.reduce((sum, one) => sum + (on.has(one.goal) ? one.square : 0), 0);
  return { merit: Math.sqrt(square + limits.reduce((sum, one) => sum + one.square, 0)), goals, limits };
}

function statesOf({ project }: Evaluation, { state }: Goal): readonly string[] {
  if (state !== 'every') return [state ?? 'designed'];
  return ['designed', ...(project.states ?? []).map(({ id }) => id)];
}

function goalStand(evaluation: Evaluation, goal: Goal, state: string): GoalStand {
  const seen = evaluation.inState(state);
  const base = { goal: goal.id, title: goalTitle(goal), state };
  if (!seen.ok) return { ...base, value: null, unit: '', why: seen.reason, square: 0 };
  return {
    ...base,
    ...(goal.kind === 'measure' ? measureStand(seen.value, goal) : imageStand(seen.value, goal)),
  };
}

function measureStand(evaluation: Evaluation, goal: MeasureGoal): Omit<GoalStand, 'goal' | 'title' | 'state'> {
  const measured = evaluateMeasure(evaluation, {
    measure: goal.measure,
    lens: goal.of,
    settings: goal.settings,
  });
  if (!measured.ok) return { value: null, unit: '', why: measured.reason, square: 0 };
  const { value, unit = findMeasure(goal.measure)!.unit, standardError } = measured.value;
  const parts = eachField(evaluation, goal);
  const square = parts.reduce((sum, part) => {
    const one =
      part === goal
        ? measured
        : evaluateMeasure(evaluation, { measure: part.measure, lens: part.of, settings: part.settings });
    return sum + (one.ok ? missedSquare(part, unit, one.value.value) : 0);
  }, 0);
  return { value, unit, square, ...(standardError !== undefined && { standardError }) };
}

/** What a value makes of the square of the merit: how far it is off its target, or beyond its limits. */
function missedSquare(goal: MeasureGoal, unit: string, value: number): number {
  return sidesOf(goal).reduce((sum, side) => {
    const miss =
      side === 'min'
        ? Math.max(0, goal.min! - value)
        : side === 'max'
          ? Math.max(0, value - goal.max!)
          : value - goal.target!;
    return sum + goal.weight * (miss / goalScale(unit, goal, side)) ** 2;
  }, 0);
}

function imageStand(evaluation: Evaluation, goal: ImageGoal): Omit<GoalStand, 'goal' | 'title' | 'state'> {
  const unit = imageUnit(goal);
  const lens = evaluation.lens(goal.of);
  const rows = lens.ok ? imageRows(goal, lens.value) : lens;
  if (!lens.ok || !rows.ok) return { value: null, unit, why: rows.ok ? '' : rows.reason, square: 0 };
  const stand = rows.value.stand();
  if (!stand) return { value: null, unit, why: rows.value.missing() ?? 'a chief ray does not arrive', square: 0 };
  const { value, square, parts } = stand;
  return { value, unit, square: goal.weight * square, parts, sampling: imageSampling(lens.value, goal).why };
}

function limitStands(evaluation: Evaluation, lensId: string, state: string): LimitStand[] {
  const seen = evaluation.inState(state);
  const lens = seen.ok ? seen.value.lens(lensId) : seen;
  const rim = lens.ok ? rimRays(lens.value) : null;
  if (!lens.ok || !rim) return [];
  return makingRows(lens.value.model, rim, evaluation.project.making).map((row) => ({
    ...row,
    lens: lensId,
    state,
    square: row.over > 0 ? (row.over / makingScale(row)) ** 2 : 0,
  }));
}
