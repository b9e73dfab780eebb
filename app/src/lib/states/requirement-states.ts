import {
  standing,
  type Measured,
  type Outcome,
  type Project,
  type Query,
  type Requirement,
} from '@ulvex/core';

/** The states that a requirement counts in, by id; `designed` alone where it names none. */
function statesMeant(project: Project, { state }: Requirement): readonly string[] {
  if (state === undefined) return ['designed'];
  return state === 'every' ? ['designed', ...(project.states ?? []).map(({ id }) => id)] : [state];
}

/** The question that answers a requirement in all states that it counts in. */
export function statesQuestion(project: Project, requirement: Requirement): Query<'measure_states'> {
  const { measure, lens, settings } = requirement;
  return {
    kind: 'measure_states',
    measure,
    lens,
    settings,
    states: statesMeant(project, requirement),
    state: 'designed',
  };
}

/** What a requirement is worth. */
export interface WorstState {
  readonly outcome: Outcome<Measured>;
  /** Name of the state that the value is of. */
  readonly state: string;
}

/** Of the answers in all states the one that stands worst to the limits: without a value, then the least margin. */
export function worstState(project: Project, requirement: Requirement, answers: readonly Outcome<Measured>[]): WorstState | null {
  const states = statesMeant(project, requirement);
  const margin = (one: Outcome<Measured>) => (one.ok ? standing(one.value.value, requirement).margin : -Infinity);
  let worst = -1;
  for (const k of answers.keys()) if (worst < 0 || margin(answers[k]) < margin(answers[worst])) worst = k;
  if (worst < 0) return null;
  const id = states[worst];
  const name = project.states?.find((one) => one.id === id)?.name ?? (id === 'designed' ? 'as designed' : id);
  return { outcome: answers[worst], state: name };
} // prettier-ignore
