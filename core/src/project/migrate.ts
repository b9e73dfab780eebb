import { failure, success, type Outcome } from '../math/outcome.ts';
import { PROJECT_VERSION } from './model.ts';

type Json = Record<string, unknown>;

/** Brings a document of version `from` to version `from + 1`. It may trust nothing: validation comes after. */
export type Migration = (document: Json) => Json;

/** `MIGRATIONS[v]` brings a file of version v to v + 1. Version 1 is the first, so there is none yet. */
const MIGRATIONS: Readonly<Record<number, Migration>> = {};

/**
 * Brings a document forward to the version of this program, step by step. Does not change its argument.
 *
 * Fails, naming the step, when a document is too broken for a step to work on.
 *
 * @param version - a whole number not above PROJECT_VERSION
 */
export function migrate(
  document: Json,
  version: number,
  steps = MIGRATIONS,
  target = PROJECT_VERSION,
): Outcome<Json> {
  let result = document;
  for (let from = version; from < target; from++) {
    const step: Migration | undefined = steps[from];
    if (!step) return failure(`files of version ${from} cannot be read any more`);
    try {
      result = { ...step(result), version: from + 1 };
    } catch (error) {
      return failure(
        `bringing the file from version ${from} to ${from + 1} failed: ${(error as Error).message}`,
      );
    }
  }
  return success(result);
}
