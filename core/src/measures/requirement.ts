import type { Outcome } from '../math/outcome.ts';
import type { Project, Requirement } from '../project/model.ts';
import type { Measured } from './measure.ts';

/** How a measured value stands to the limits of a requirement. */
export type Verdict = 'met' | 'close' | 'missed';

/** Share of the span between two limits, or of the size of a single one, within which a met requirement counts as close. */
const CLOSE = 0.05;

/** Where a value stands between its limits. */
export interface Standing {
  readonly verdict: Verdict;
  /** Distance to the nearest limit in the measure's unit; negative outside. */
  readonly margin: number;
  /** Place on a margin bar: 0 at its left end, 1 at its right; clamped to it. */
  readonly place: number;
  /** Places of the limits on the bar, where there are any. */
  readonly minPlace: number | null;
  readonly maxPlace: number | null;
}

/**
 * Compares a value with the limits of a requirement.
 *
 * With two limits the bar runs a quarter of their span beyond each. With one, its length is twice the size of the limit
 * (or 1 for a limit of 0), so that the limit stands at three quarters (maximum) or one quarter (minimum).
 */
export function standing(value: number, { min, max }: Pick<Requirement, 'min' | 'max'>): Standing {
  const below = min === undefined ? Infinity : value - min;
  const above = max === undefined ? Infinity : max - value;
  const margin = Math.min(below, above);
  const span = min !== undefined && max !== undefined ? max - min : Math.abs(max ?? min ?? 1) || 1;
  const verdict: Verdict = margin < 0 ? 'missed' : margin < CLOSE * span ? 'close' : 'met';
  const [from, to] =
    min !== undefined && max !== undefined
      ? [min - span / 4, max + span / 4]
      : max !== undefined
        ? [max - 1.5 * span, max + 0.5 * span]
        : [(min ?? 0) - 0.5 * span, (min ?? 0) + 1.5 * span];
  const at = (x: number) => Math.min(1, Math.max(0, to > from ? (x - from) / (to - from) : 0.5));
  return {
    verdict,
    margin,
    place: at(value),
    minPlace: min === undefined ? null : at(min),
    maxPlace: max === undefined ? null : at(max),
  };
}

/** Ids of the states that a requirement counts in; `designed` alone where it names none. */
export function requirementStates(project: Project, { state }: Pick<Requirement, 'state'>): readonly string[] {
  if (state === undefined) return ['designed'];
  return state === 'every' ? ['designed', ...(project.states ?? []).map(({ id }) => id)] : [state];
}

/** Of answers in several states the one that stands worst to the limits: without a value, else of the least margin. Null without answers. */
export function worstAnswer(requirement: Requirement, answers: readonly Outcome<Measured>[]): number | null {
  const margin = (one: Outcome<Measured>) => (one.ok ? standing(one.value.value, requirement).margin : -Infinity);
  let worst: number | null = null;
  for (const k of answers.keys()) if (worst === null || margin(answers[k]) < margin(answers[worst])) worst = k;
  return worst;
}
