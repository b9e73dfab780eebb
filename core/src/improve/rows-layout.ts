import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import type { Goal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { goalTitle, sidesOf } from './goal-scale.ts';
import { imageRows } from './image-goal.ts';
import { makingRows, rimRays, type RimRays } from './making-limits.ts';

/** A goal in one of the states in which it counts. */
export interface Placed<G extends Goal = Goal> {
  readonly goal: G;
  /** Id of the state; `designed` for the design. */
  readonly state: string;
}

/** The rows of one goal, in the state in which they count. */
export interface RowBlock {
  readonly goal: Goal | null;
  readonly state: string;
  readonly from: number;
  readonly count: number;
}

/** The making-limits of one lens in one state. */
export interface LimitBlock {
  readonly lens: string;
  readonly state: string;
  readonly rows: number;
}

/** How many rows stand on which side. */
export interface Layout {
  readonly blocks: readonly RowBlock[];
  readonly count: number;
  readonly oneSided: readonly number[];
  readonly limits: readonly LimitBlock[];
}

/** What a run looks at, and in which order. */
export function layOut(project: Project, goals: readonly Placed[]): Outcome<Layout> {
  const blocks: RowBlock[] = [];
  const oneSided: number[] = [];
  let count = 0;
  const evaluation = new Evaluation(project);
  const lenses = new Map<string, { lens: string; state: string }>();
  for (const { goal, state } of goals) {
    const name = goalTitle(goal);
    const seen = evaluation.inState(state);
    if (!seen.ok) return failure(`${name}: ${seen.reason}`);
    if (goal.kind === 'image_quality') {
      const lens = seen.value.lens(goal.of);
      if (!lens.ok) return failure(`${name}: ${lens.reason}`);
      const rows = imageRows(goal, lens.value);
      if (!rows.ok) return failure(`${name}: ${rows.reason}`);
      const missing = rows.value.missing();
      if (missing !== null)
        return failure(
          `${name} has no value at the start: ${missing}. Make the lens such that all rays arrive, or lessen aperture or field first.`,
        );
      blocks.push({ goal, state, from: count, count: rows.value.count });
      count += rows.value.count;
      lenses.set(`${goal.of} ${state}`, { lens: goal.of, state });
      continue;
    }
    const measured = evaluateMeasure(seen.value, { measure: goal.measure, lens: goal.of, settings: goal.settings });
    if (!measured.ok) return failure(`${name} has no value at the start: ${measured.reason}`);
    const sides = sidesOf(goal);
    if (sides.length === 0) return failure(`${name} has neither a target nor a limit: give it one, or switch it off.`);
    if (goal.min !== undefined && goal.max !== undefined && goal.min > goal.max)
      return failure(`${name}: its lower limit ${goal.min} lies above its upper one ${goal.max}.`);
    blocks.push({ goal, state, from: count, count: sides.length });
    sides.forEach((side, k) => side !== 'target' && oneSided.push(count + k));
    count += sides.length;
    if (project.lenses.some(({ id }) => id === goal.of)) lenses.set(`${goal.of} ${state}`, { lens: goal.of, state });
  }
  const limits: { lens: string; state: string; rows: number }[] = [];
  if (!project.making?.off)
    for (const { lens, state } of lenses.values()) {
      const seen = evaluation.inState(state);
      const found = seen.ok ? seen.value.lens(lens) : seen;
      const rim = found.ok ? rimRaysOf(found.value) : null;
      if (!found.ok || !rim)
        return failure(`Making-limits cannot be evaluated: rays at the rim of the pupil do not reach the image.`);
      const rows = makingRows(found.value.model, rim, project.making).length;
      limits.push({ lens, state, rows });
      blocks.push({ goal: null, state, from: count, count: rows });
      for (let k = 0; k < rows; k++) oneSided.push(count + k);
      count += rows;
    }
  return success({ blocks, count, oneSided, limits });
}

const RIM = new WeakMap<LensEvaluation, RimRays | null>();

/** The rays at the rim, once for every version of a lens. */
export function rimRaysOf(lens: LensEvaluation): RimRays | null {
  let found = RIM.get(lens);
  if (found === undefined) RIM.set(lens, (found = rimRays(lens)));
  return found;
}
