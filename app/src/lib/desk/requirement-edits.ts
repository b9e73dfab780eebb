import {
  failure,
  findMeasure,
  freshId,
  isOfScene,
  parseQuantity,
  subjectOf,
  success,
  type Edit,
  type Lens,
  type Outcome,
  type Project,
  type Requirement,
} from '@ulvex/core';

/** What a requirement is called: its own name, or that of its measure. */
export function requirementTitle(requirement: Requirement): string {
  return requirement.label ?? findMeasure(requirement.measure)?.title ?? requirement.measure;
}

/** A new requirement from a measure, without limits yet, about the last field where the measure asks for one. */
export function addRequirement(
  project: Project,
  lens: Lens | null | undefined,
  measureId: string,
  settings: Readonly<Record<string, unknown>> = {},
): Outcome<{ readonly edits: readonly Edit[]; readonly label: string; readonly id: string }> {
  const measure = findMeasure(measureId);
  if (!measure) return failure(`There is no measure “${measureId}”.`);
  const subject = subjectOf(project, measure, lens?.id ?? null);
  if (subject === null)
    return failure(`${measure.title} needs a ${isOfScene(measure) ? 'scene' : 'lens'}: there is none.`);
  const spec = measure.settings.field;
  const field = spec?.kind === 'field' ? (spec.fallback ?? lens?.fields.points.at(-1)?.id ?? '') : null;
  const id = freshId('r', project.requirements);
  const item: Requirement = {
    id,
    measure: measure.id,
    lens: subject,
    settings: field === null ? settings : { field, ...settings },
  };
  const after = project.requirements.at(-1)?.id ?? null;
  return success({
    id,
    label: `Require ${measure.title}`,
    edits: [{ kind: 'insert', list: 'requirements', after, item }],
  });
}

/** Another limit for a requirement; undefined takes it away. Fails where the limits would cross. */
export function setLimit(
  requirement: Requirement,
  key: 'min' | 'max',
  value: number | undefined,
): Outcome<{ readonly edits: readonly Edit[]; readonly label: string }> {
  const other = key === 'min' ? requirement.max : requirement.min;
  if (value !== undefined && other !== undefined && (key === 'min' ? value > other : value < other))
    return failure('The lower limit must not be above the upper one.');
  return success({
    label: `Limit of ${requirementTitle(requirement)}`,
    edits: [{ kind: 'set', path: `requirements.${requirement.id}.${key}`, value }],
  });
}

/** A limit from what is typed: a number, `*2/3` of the present one, or nothing (also `–` or `none`) for no limit. */
export function readLimit(text: string, current?: number): Outcome<number | undefined> {
  if (/^\s*(–|-|none)?\s*$/.test(text)) return success(undefined);
  return parseQuantity(text, { kind: 'number', ...(current !== undefined && { current }) });
}

/** A limit as its cell shows it. */
export function limitText(value: number | undefined): string {
  return value === undefined ? '–' : String(value).replace('-', '−');
}
