import type { Panel } from '../analyses/panels.ts';
import type { Outcome } from '../math/outcome.ts';
import { readSettings, type SettingSpecs, type SettingValues } from '../measures/measure.ts';
import { failure } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import type { Lens, Project } from '../project/model.ts';

/** What an operation is done to: a lens, and the run of surfaces that is chosen in it. */
export interface OperationSubject {
  readonly project: Project;
  readonly lens: Lens;
  /** Indices of the first and the last surface that are chosen. */
  readonly first: number;
  readonly last: number;
}

/** What an operation would do: shown before it is done. */
export interface Operated {
  readonly edits: readonly Edit[];
  /** What the history calls it. */
  readonly label: string;
  /** What came of it, in words and numbers. */
  readonly notes: readonly string[];
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
  readonly settings: S;
  /** Pure. Fails with a sentence where it cannot be done; nothing is changed then. */
  run(subject: OperationSubject, settings: SettingValues<S>): Outcome<Operated>;
}

/** Types an operation by its settings without naming the type twice. */
export function defineOperation<const S extends SettingSpecs>(
  operation: Operation<S>,
): Operation<SettingSpecs> {
  return operation as unknown as Operation<SettingSpecs>;
}

/** Runs an operation on the surfaces with two ids, with its settings checked. */
export function operate(
  operation: Operation,
  project: Project,
  lensId: string,
  span: readonly [first: string, last: string],
  settings: unknown,
): Outcome<Operated> {
  const read = readSettings(operation, settings);
  if (!read.ok) return read;
  const lens = project.lenses.find(({ id }) => id === lensId);
  if (!lens) return failure(`There is no lens “${lensId}”.`);
  const ends = span.map((id) => lens.surfaces.findIndex((surface) => surface.id === id));
  if (ends.some((index) => index < 0)) return failure('There is no such surface.');
  return operation.run({ project, lens, first: Math.min(...ends), last: Math.max(...ends) }, read.value);
}
