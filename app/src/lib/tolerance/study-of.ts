import type { Project } from '@ulvex/core';
import { watchedRequirements, type StudyInput, type WatchedRequirement } from '@ulvex/core/tolerance';

/** What studies of the open project work with, its requirements as they are watched. */
export interface RoomStudy extends StudyInput {
  readonly watched: readonly WatchedRequirement[];
}

export function studyOf(project: Project): RoomStudy {
  const { tolerances = [], compensators = [] } = project.tolerancing ?? {};
  return {
    project,
    tolerances: tolerances.filter(({ off }) => !off),
    compensators,
    watched: watchedRequirements(project),
  };
}

/** Parts of a project that what is made does not depend on. */
const WORDS: ReadonlySet<string> = new Set(['name', 'notes', 'boards', 'requirements', 'tolerancing', 'goals']);

const TEXTS = new WeakMap<object, string>();

/** Whether two values of a document are the same: what is taken back is equal, not identical. */
function same(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (typeof one !== 'object' || typeof other !== 'object' || !one || !other) return false;
  const text = (value: object) => {
    const known = TEXTS.get(value) ?? JSON.stringify(value);
    TEXTS.set(value, known);
    return known;
  };
  return text(one) === text(other);
}

/** Whether two versions of a project are made alike: they differ in words, limits and arrangements only. */
export function madeAlike(one: Project, other: Project): boolean {
  const keys = new Set([...Object.keys(one), ...Object.keys(other)] as (keyof Project)[]);
  return [...keys].every((key) => {
    if (key === 'states') return statesAlike(one, other);
    return WORDS.has(key) || same(one[key], other[key]);
  });
}

/** Whether the states that both have are the same. One that only one of them has is asked for by none of the other's requirements. */
function statesAlike({ states = [] }: Project, { states: others = [] }: Project): boolean {
  return states.every((state) => {
    const own = others.find(({ id }) => id === state.id);
    return !own || same(state, own);
  });
}

/** Whether two studies have the same trials: of the design, the tolerances and the requirements; limits of requirements may differ. */
export function sameTrials(one: RoomStudy, other: RoomStudy): boolean {
  return (
    madeAlike(one.project, other.project) &&
    answersFor(one, other) &&
    JSON.stringify(one.tolerances) === JSON.stringify(other.tolerances)
  );
}

/** Whether a study answers for another: it watched all that the other one does, by the same questions. Limits may differ. */
export function answersFor(one: RoomStudy, other: RoomStudy): boolean {
  const questions = ({ watched }: RoomStudy) =>
    watched.map(({ id, measure, lens, settings, state }) => JSON.stringify([id, measure, lens, settings, state]));
  const known = questions(one);
  return questions(other).every((question) => known.includes(question)) && same(one.compensators, other.compensators);
}
