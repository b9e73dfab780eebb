import type { Panel } from '../analyses/panels.ts';
import { readSettings, type SettingSpecs, type SettingValues } from '../measures/measure.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import type { Lens, Project } from '../project/model.ts';
import { inState } from '../project/states.ts';

/** What an operation is done to: a lens, and the run of surfaces that is chosen in it. */
export interface OperationSubject {
  readonly project: Project;
  readonly lens: Lens;
  /** The project as designed, and the state in which it is looked at here; null for none. */
  readonly base: Project;
  readonly state: string | null;
  /** Indices of the first and the last surface that are chosen. */
  readonly first: number;
  readonly last: number;
}

/** What could be done in place of what an operation would do. */
export interface OwnChoice {
  readonly name: string;
  readonly words: string;
  /** What the history calls it. */
  readonly label: string;
  readonly edits: readonly Edit[];
}

/** What an operation would do: shown before it is done. */
export interface Operated {
  readonly edits: readonly Edit[];
  /** Whether they are of the design, and name the states that they are of; else they are for `redirected`. */
  readonly ofDesign?: boolean;
  /** What the history calls it. */
  readonly label: string;
  /** What came of it, in words and numbers. */
  readonly notes: readonly string[];
  /** What single parts of the lens would want by themselves, to be taken in its place. */
  readonly choices?: { readonly title: string; readonly of: readonly OwnChoice[] };
  /** What it was chosen by, as pictures. */
  readonly panels?: readonly Panel[];
}

/** Something that is done to a lens as a whole, in one step of the history. */
export interface Operation<S extends SettingSpecs = SettingSpecs> {
  readonly id: string;
  readonly title: string;
  /** What it does and what it keeps, in plain words. */
  readonly meaning: string;
  /** What has to be chosen for it: nothing, one surface, or a run of them. */
  readonly on: 'lens' | 'surface' | 'run';
  /** Whether the image surface can be chosen, too. */
  readonly image?: true;
  readonly settings: S;
  /** Pure. Fails with a sentence where it cannot be done; nothing is changed then. */
  run(subject: OperationSubject, settings: SettingValues<S>): Outcome<Operated>;
}

/** Types an operation by its settings without naming the type twice. */
export function defineOperation<const S extends SettingSpecs>(operation: Operation<S>): Operation<SettingSpecs> {
  return operation as unknown as Operation<SettingSpecs>;
}

/**
 * Runs an operation on the surfaces with two ids, with its settings checked.
 *
 * @param base - the project as designed
 * @param state - id of the state that it is looked at in; its edits are for `redirected` then
 */
export function operate(
  operation: Operation,
  base: Project,
  lensId: string,
  span: readonly [first: string, last: string],
  settings: unknown,
  state: string | null = null,
): Outcome<Operated> {
  const read = readSettings(operation, settings);
  if (!read.ok) return read;
  const seen = state === null ? success(base) : inState(base, state);
  if (!seen.ok) return seen;
  const project = seen.value;
  const lens = project.lenses.find(({ id }) => id === lensId);
  if (!lens) return failure(`There is no lens “${lensId}”.`);
  const ends = span.map((id) => lens.surfaces.findIndex((surface) => surface.id === id));
  if (ends.some((index) => index < 0)) return failure('There is no such surface.');
  return operation.run({ project, lens, base, state, first: Math.min(...ends), last: Math.max(...ends) }, read.value);
}
