import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { MeasureGoal } from '../project/improve.ts';
import { goalTitle } from './goal-scale.ts';

/**
 * A limit on the worst field as one limit for each field that counts; every other goal as it is. The largest of several values has no slope where
 * two of them are equal, which is just where a good design ends up, and a solver would stall there. The limits of all fields ask for the same and
 * are smooth.
 */
export function eachField(evaluation: Evaluation, goal: MeasureGoal): readonly MeasureGoal[] {
  if (goal.settings?.field !== 'worst' || goal.target !== undefined || goal.min !== undefined) return [goal];
  const lens = evaluation.lens(goal.of);
  if (!lens.ok) return [goal];
  const fields = lens.value.model.lens.fields.points.filter(({ weight }) => weight > 0);
  return fields.map(({ id }) => ({
    ...goal,
    settings: { ...goal.settings, field: id },
    label: `${goalTitle(goal)} (${id})`,
  }));
}
