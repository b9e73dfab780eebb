import { findMeasure } from '../measures/registry.ts';
import type { Goal, MeasureGoal } from '../project/improve.ts';
import type { MakingRow } from './making-limits.ts';

/** How much of a unit counts as one unit of merit where the weight is 1. */
const SCALES: Readonly<Record<string, number>> = {
  mm: 0.01,
  µm: 1,
  mrad: 0.01,
  '°': 0.05,
  '%': 0.1,
  λ: 0.02,
};
/** By how much a limit is stiffer than a target. */
const LIMIT_STIFFNESS = 10;
/** Excess of a making limit that counts as one unit of merit: mm, or hundredths of a degree. */
const MAKING_SCALE = 0.002;

/** What a goal is called: its own name, or that of its measure. */
export function goalTitle(goal: Goal): string {
  if (goal.label !== undefined) return goal.label;
  return goal.kind === 'image_quality' ? 'Image quality' : (findMeasure(goal.measure)?.title ?? goal.measure);
}

/** On which sides a goal wants something of its measure. */
export function sidesOf({ target, min, max }: MeasureGoal): ('target' | 'min' | 'max')[] {
  const sides: ('target' | 'min' | 'max')[] = [];
  if (target !== undefined) sides.push('target');
  if (min !== undefined) sides.push('min');
  if (max !== undefined) sides.push('max');
  return sides;
}

/** How much of a measure's unit counts as one unit of merit, beside a target or beyond a limit: limits are to be kept, targets to be neared. */
export function goalScale(unit: string, goal: MeasureGoal, side: 'target' | 'min' | 'max'): number {
  const scale = SCALES[unit] ?? 0.001 * Math.max(1, Math.abs(goal.target ?? goal.max ?? goal.min ?? 1));
  return side === 'target' ? scale : scale / LIMIT_STIFFNESS;
}

/** Excess that counts as one unit of merit, in the unit of a limit. */
export function makingScale({ unit }: MakingRow): number {
  return unit === '°' ? 10 * MAKING_SCALE : MAKING_SCALE;
}
