import {
  requirementStates,
  worstAnswer,
  type Measured,
  type Outcome,
  type Project,
  type Query,
  type Requirement,
} from '@ulvex/core';

/** The question that answers a requirement in all states that it counts in. */
export function statesQuestion(project: Project, requirement: Requirement): Query<'measure_states'> {
  const { measure, lens, settings } = requirement;
  const states = requirementStates(project, requirement);
  return { kind: 'measure_states', measure, lens, settings, states, state: 'designed' };
}

/** What a requirement is worth. */
export interface WorstState {
  readonly outcome: Outcome<Measured>;
  /** Name of the state that the value is of. */
  readonly state: string;
}

/** Of the answers in all states the one that stands worst to the limits. */
export function worstState(
  project: Project,
  requirement: Requirement,
  answers: readonly Outcome<Measured>[],
): WorstState | null {
  const worst = worstAnswer(requirement, answers);
  if (worst === null) return null;
  const id = requirementStates(project, requirement)[worst];
  const name = project.states?.find((one) => one.id === id)?.name ?? (id === 'designed' ? 'as designed' : id);
  return { outcome: answers[worst], state: name };
}
