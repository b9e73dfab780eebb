import { parse as parseTolerant, printParseErrorCode, type ParseError } from 'jsonc-parser';
import { ValidationError } from 'yup';
import { migrate } from './migrate.ts';
import { PROJECT_FORMAT, PROJECT_VERSION, type Project } from './model.ts';
import { projectSchema } from './schema.ts';

/** Largest project file that is read, in bytes of text. */
export const MAX_PROJECT_BYTES = 50 * 1024 * 1024;

/** One thing wrong in a file: the place as a path of ids, and what is wrong there. */
export interface FileProblem {
  readonly place: string;
  readonly reason: string;
}

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
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return notJson(text);
  }
  return readProject(json);
}

/** The sentence about a file over the limit. */
export function tooLarge(bytes: number): string {
  return `the file has ${Math.ceil(bytes / 1024 / 1024)} MB; the limit is ${MAX_PROJECT_BYTES / 1024 / 1024} MB`;
}

/** Checks a parsed document as `readProjectText` does after parsing. Unknown keys are kept. */
export function readProject(json: unknown): ReadResult {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) {
    return refuse('file', 'this is no project: the file must hold one JSON object');
  }
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
  try {
    projectSchema.validateSync(brought.value, { strict: true, abortEarly: false });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const inner = error.inner.length > 0 ? error.inner : [error];
    return {
      ok: false,
      problems: inner.slice(0, 20).map((problem) => ({
        place: placeOf(brought.value, problem.path ?? ''),
        reason: withoutPath(problem),
      })),
    };
  }
  return { ok: true, project: brought.value as unknown as Project, from: version };
}

/** The file text of a project: readable JSON that `readProjectText` gives back unchanged. */
export function projectText(project: Project): string {
  return `${JSON.stringify(project, null, 2)}\n`;
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
