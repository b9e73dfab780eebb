import { parse as parseTolerant, printParseErrorCode, type ParseError } from 'jsonc-parser';
import { ValidationError } from 'yup';
import type { Material } from '../materials/material.ts';
import { materialSchema } from './material-schema.ts';
import { migrate } from './migrate.ts';
import { PROJECT_FORMAT, PROJECT_VERSION, type Project } from './model.ts';
import { outlineProblem, textProblem, valueCount, type FileProblem } from './outline.ts';
import { validateKnown } from './schema-parts.ts';
import { projectSchema } from './schema.ts';

export type { FileProblem } from './outline.ts';

/** Largest project file that is read, in bytes of text. */
export const MAX_PROJECT_BYTES = 50 * 1024 * 1024;
/** Problems that are told of one file. */
const MOST_PROBLEMS = 20;
/** Values of a document above which only its first problem is told. */
const MOST_LOOKED_AT = 50_000;
/** Above this length a project is written without indentation. */
const INDENTED = 5_000_000;

export type ReadResult =
  | {
      readonly ok: true;
      readonly project: Project;
      /** Version the file had before it was brought forward. */ readonly from: number;
    }
  | { readonly ok: false; readonly problems: readonly FileProblem[] };

/**
 * Reads the text of a project file: size, JSON, format, version, migration, schema, in this order.
 *
 * Never throws for bad input; every refusal names a place and a reason.
 */
export function readProjectText(text: string): ReadResult {
  if (text.length > MAX_PROJECT_BYTES) return refuse('file', tooLarge(text.length));
  const unfit = textProblem(text);
  if (unfit) return refuse('file', `the file ${unfit}`);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return notJson(text);
  }
  const read = readProject(json);
  // Numbers can be longer when they are written than they were (1e20): what cannot be written is not taken.
  if (!read.ok || text.length < MAX_PROJECT_BYTES / 4 || projectText(read.project).length <= MAX_PROJECT_BYTES)
    return read;
  return refuse('file', 'it would be too large to be written again');
}

/** The sentence about a file over the limit. */
export function tooLarge(bytes: number): string {
  return `the file has ${Math.ceil(bytes / 1024 / 1024)} MB; the limit is ${MAX_PROJECT_BYTES / 1024 / 1024} MB`;
}

/**
 * Checks a parsed document as `readProjectText` does after parsing: outline, format, version, migration, schema. Unknown keys are kept. Never throws,
 * and tells at most `most` problems: the first one alone takes a fraction of the time.
 */
export function readProject(json: unknown, most = MOST_PROBLEMS): ReadResult {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) {
    return refuse('file', 'this is no project: the file must hold one JSON object');
  }
  const outline = outlineProblem(json);
  if (outline) return { ok: false, problems: [{ ...outline, place: placeOf(json, outline.place) }] };
  const { format, version } = json as { format?: unknown; version?: unknown };
  if (format !== PROJECT_FORMAT)
    return refuse('format', `this is no Ulvex project: format must be "${PROJECT_FORMAT}"`);
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 0) {
    return refuse('version', 'must be a whole number');
  }
  if (version > PROJECT_VERSION) {
    return refuse(
      'version',
      `the file is of version ${version}; this Ulvex reads up to ${PROJECT_VERSION}. Open it with a newer one`,
    );
  }
  const brought = migrate(json as Record<string, unknown>, version);
  if (!brought.ok) return refuse('version', brought.reason);
  const problems = schemaProblems(brought.value, most);
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, project: brought.value as unknown as Project, from: version };
}

/** Entries of lists of projects in memory that are known to be right. */
const MEMORY = new WeakMap<object, unknown>();

/**
 * What would keep a project in memory from being read back from its file; none for one that can be kept. Costs about
 * as much as what was changed since it was last asked: the rest of a project is shared with what was looked at
 * before.
 */
export function unkeepable(project: Project): readonly FileProblem[] {
  const outline = outlineProblem(project);
  if (outline) return [{ ...outline, place: placeOf(project, outline.place) }];
  try {
    validateKnown(MEMORY, () => projectSchema.validateSync(project, { strict: true }));
    return [];
  } catch {
    return schemaProblems(project);
  }
}

/** What would keep a material from being read back as part of a project; null for one that can be kept. */
export function materialProblem(material: Material): FileProblem | null {
  try {
    materialSchema.validateSync(material, { strict: true });
    return null;
  } catch (error) {
    return error instanceof ValidationError ? told(material, error) : unexpected(error);
  }
}

/** What the schema objects to, the first of it where there is very much. */
function schemaProblems(document: unknown, most = MOST_PROBLEMS): readonly FileProblem[] {
  try {
    // All problems are gathered before the first is told, and each costs memory: a document with one is looked at again for the rest.
    projectSchema.validateSync(document, { strict: true });
    return [];
  } catch (first) {
    if (!(first instanceof ValidationError)) return [unexpected(first)];
    try {
      if (most > 1 && valueCount(document, MOST_LOOKED_AT) <= MOST_LOOKED_AT)
        projectSchema.validateSync(document, { strict: true, abortEarly: false });
      return [told(document, first)];
    } catch (error) {
      if (!(error instanceof ValidationError)) return [unexpected(error)];
      const inner = error.inner.length > 0 ? error.inner : [error];
      return inner.slice(0, most).map((problem) => told(document, problem));
    }
  }
}

const told = (document: unknown, problem: ValidationError): FileProblem => ({
  place: placeOf(document, problem.path ?? ''),
  reason: withoutPath(problem),
});

/** A document that a rule of the schema could not be asked about. */
const unexpected = (error: unknown): FileProblem => ({
  place: 'file',
  reason: `is not made as a project must be (${(error as Error).message})`,
});

/** The file text of a project: readable JSON that `readProjectText` gives back unchanged. */
export function projectText(project: Project): string {
  const text = JSON.stringify(project);
  return `${text.length > INDENTED ? text : JSON.stringify(project, null, 2)}\n`;
}

function refuse(place: string, reason: string): ReadResult {
  return { ok: false, problems: [{ place, reason }] };
}

/** Why a text is no JSON, with line and column: JSON.parse itself does not say where in every engine. */
function notJson(text: string): ReadResult {
  const errors: ParseError[] = [];
  parseTolerant(text, errors, { disallowComments: true, allowTrailingComma: false });
  const first = errors[0];
  if (!first) return refuse('file', 'this is not JSON');
  const before = text.slice(0, first.offset).split('\n');
  const place = `line ${before.length}, column ${before[before.length - 1].length + 1}`;
  const what = printParseErrorCode(first.error)
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase();
  return refuse(place, `this is not JSON: ${what}`);
}

/** Yup puts the path before some default messages; the place says it already. */
function withoutPath(problem: ValidationError): string {
  const path = problem.path ?? '';
  return path !== '' && problem.message.startsWith(`${path} `)
    ? problem.message.slice(path.length + 1)
    : problem.message;
}

/** Turns `lenses[0].surfaces[2].shape.radius` into `lenses.tide.surfaces.l2_front.shape.radius`, as far as ids are known. */
function placeOf(root: unknown, path: string): string {
  const parts = path.match(/[^.[\]"]+/g) ?? [];
  let here: unknown = root;
  const names: string[] = [];
  for (const part of parts) {
    const inList = Array.isArray(here);
    here = (here as Record<string, unknown> | undefined)?.[part];
    const id = (here as { id?: unknown } | undefined)?.id;
    names.push(inList && typeof id === 'string' ? id : inList ? `entry ${Number(part) + 1}` : part);
  }
  return names.join('.') || 'file';
}
