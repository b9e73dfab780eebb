import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import { inState } from '../project/states.ts';
import { brokenWords } from './broken.ts';
import { settle } from './settle.ts';

/** What is different about a version of a project. */
export interface VersionChoice {
  /** Numbers that are set, as edits; none by default. */
  readonly edits?: readonly Edit[];
  /** Evaluates the formulas of links and conditions; null if the project has none. */
  readonly evaluate: FormulaEvaluator | null;
  /** Id of the state in which it is seen; as designed by default. */
  readonly state?: string;
  /** Whether a link or condition that does not hold is a failure; otherwise its number keeps the value it has. */
  readonly strict?: boolean;
}

/**
 * A project with some numbers set, links and conditions followed, seen in a state. Scans, polishes and test plates make their versions here.
 *
 * Fails for an unknown state and, if `strict`, when a link or condition does not hold.
 */
export function versionOf(
  project: Project,
  { edits = [], evaluate, state, strict = false }: VersionChoice,
): Outcome<Project> {
  let version = edits.length > 0 ? applyEdits(project, edits).project : project;
  if (evaluate) {
    const settled = settle(version, evaluate);
    if (strict && settled.broken.length > 0) return failure(brokenWords(settled.broken));
    version = settled.project;
  }
  return state === undefined || state === 'designed' ? success(version) : inState(version, state);
}
