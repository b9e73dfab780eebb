import type { Edit } from '../project/edit.ts';
import type { Project } from '../project/model.ts';

/** A relation that does not hold, and why. Its number keeps the value it had. */
export interface BrokenRelation {
  readonly address: string;
  readonly reason: string;
  /** A ring of addresses, each of which follows from the next. */
  readonly cycle?: readonly string[];
}

/** A project whose relations hold. */
export interface Settled {
  readonly project: Project;
  /** What brings the given project there; empty where everything held already. */
  readonly edits: readonly Edit[];
  readonly broken: readonly BrokenRelation[];
  /** Whether time ran out first: nothing of it counts then, and there are no edits. */
  readonly unfinished?: boolean;
}

/** Relations that do not hold, in a sentence. */
export function brokenWords(broken: readonly BrokenRelation[]): string {
  const [first, ...rest] = broken;
  const more = rest.length > 0 ? ` ${rest.length} more do not either.` : '';
  return `${first.address} does not follow as it should: ${first.reason}${more}`;
}

/** Whether a project has numbers that follow from others: only then `settle` has something to do. */
export function hasRelations({ parameters }: Project): boolean {
  return Object.values(parameters ?? {}).some(({ kind }) => kind === 'linked' || kind === 'derived');
}
