import {
  failure,
  findMeasure,
  freshId,
  isOfScene,
  subjectOf,
  splitStateAddress,
  success,
  type Edit,
  type Goal,
  type GoalGroup,
  type ImageGoal,
  type Lens,
  type MeasureGoal,
  type Outcome,
  type ParameterState,
  type Project,
} from '@ulvex/core';
import type { Done } from './commit-goal.ts';

function inserted(project: Project, item: Goal): Edit {
  return project.goals
    ? { kind: 'insert', list: 'goals', after: project.goals.at(-1)?.id ?? null, item }
    : { kind: 'set', path: 'goals', value: [item] };
}

/** What a goal is called: its own name, or that of its measure. */
export function goalName(goal: Goal): string {
  if (goal.label !== undefined) return goal.label;
  return goal.kind === 'image_quality' ? 'Image quality' : (findMeasure(goal.measure)?.title ?? goal.measure);
}

/** What the image as a whole can be judged by. */
export const IMAGE_KINDS = [
  ['spot', 'RMS spot'],
  ['spot peak', 'largest distance of a ray'],
  ['wavefront', 'RMS wavefront'],
  ['wavefront peak', 'wavefront, peak to valley'],
  ['mtf', 'MTF at a frequency'],
] as const;
export type ImageKind = (typeof IMAGE_KINDS)[number][0];

/** Cycles per mm where nothing else is said: detail that a camera should still show. */
const USUAL_FREQUENCY = 50;

export function imageKindOf({ what, by }: ImageGoal): ImageKind {
  return what === 'mtf' || by !== 'peak' ? what : `${what} peak`;
}

function imageKind(kind: ImageKind, frequency = USUAL_FREQUENCY): Pick<ImageGoal, 'what' | 'by' | 'frequency'> {
  if (kind === 'mtf') return { what: kind, frequency };
  const [what] = kind.split(' ') as ['spot' | 'wavefront'];
  return { what, ...(kind.endsWith('peak') && { by: 'peak' as const }) };
}

/** One live goal for the sharpness of the whole image. */
export function addImageGoal(project: Project, lens: Lens, kind: ImageKind): Done {
  const id = freshId('g', project.goals ?? []);
  const item: ImageGoal = {
    id,
    kind: 'image_quality',
    of: lens.id,
    weight: 1,
    ...imageKind(kind),
    about: 'centroid',
    lateralColour: true,
  };
  return { edits: [inserted(project, item)], label: 'Want image quality' };
}

/** A goal judged in another way. */
export function setImageKind(goal: ImageGoal, kind: ImageKind): Outcome<Done> {
  const { what: _what, by: _by, frequency, workshop: _workshop, ...rest } = goal;
  const item: Goal = { ...rest, ...imageKind(kind, frequency) };
  return success({ edits: [{ kind: 'set', path: `goals.${goal.id}`, value: item }], label: `Goal ${goalName(goal)}` });
}

export function readFrequency(text: string): Outcome<number> {
  const value = Number(text.trim().replace(',', '.'));
  return value > 0 && Number.isFinite(value)
    ? success(value)
    : failure('A frequency is a number of cycles/mm, above 0.');
}

export function readWeight(text: string): Outcome<number> {
  const value = Number(text.trim().replace(',', '.'));
  return value >= 0 && text.trim() !== '' && Number.isFinite(value)
    ? success(value)
    : failure('A weight is a number, 0 or above.');
}

/** Puts a goal into a group, by its id; `:new` makes one, nothing takes it out. */
export function groupGoal(project: Project, goal: Goal, to: string): Outcome<Done> {
  const groups = project.goalGroups ?? [];
  const path = `goals.${goal.id}.group`;
  if (to !== ':new')
    return success({ edits: [{ kind: 'set', path, value: to || undefined }], label: `Group of ${goalName(goal)}` });
  const group: GoalGroup = { id: freshId('group', groups), name: `Group ${groups.length + 1}`, weight: 1 };
  const made: Edit = { kind: 'set', path: 'goalGroups', value: [...groups, group] };
  return success({ edits: [made, { kind: 'set', path, value: group.id }], label: `${group.name} of goals` });
}

export function setGroup(group: GoalGroup, key: keyof GoalGroup, value: unknown): Done {
  return { edits: [{ kind: 'set', path: `goalGroups.${group.id}.${key}`, value }], label: `Goals ${group.name}` };
}

/** Its goals stay, with their own weights. */
export function removeGroup(project: Project, { id, name }: GoalGroup): Done {
  const left = (project.goalGroups ?? []).filter((group) => group.id !== id);
  const members = (project.goals ?? []).filter(({ group }) => group === id);
  return {
    edits: [
      ...members.map((goal): Edit => ({ kind: 'set', path: `goals.${goal.id}.group`, value: undefined })),
      { kind: 'set', path: 'goalGroups', value: left.length > 0 ? left : undefined },
    ],
    label: `Dissolve ${name}`,
  };
}

/** A goal from a measure; its target is what it is now, so that it is kept. */
export function addMeasureGoal(
  project: Project,
  lens: Lens | null,
  measureId: string,
  now: number | null,
): Outcome<Done> {
  const measure = findMeasure(measureId);
  if (!measure) return failure(`There is no measure “${measureId}”.`);
  const of = subjectOf(project, measure, lens?.id ?? null);
  if (of === null) return failure(`${measure.title} needs a ${isOfScene(measure) ? 'scene' : 'lens'}: there is none.`);
  const spec = measure.settings.field;
  const field = spec?.kind === 'field' ? (spec.fallback ?? lens?.fields.points.at(-1)?.id) : undefined;
  const id = freshId('g', project.goals ?? []);
  const item: MeasureGoal = {
    id,
    kind: 'measure',
    measure: measureId,
    of,
    settings: field === undefined ? {} : { field },
    weight: 1,
    ...(now !== null && { target: Number(now.toPrecision(6)) }),
  };
  return success({ edits: [inserted(project, item)], label: `Want ${measure.title}` });
}

/** Goals from requirements: their limits become limits of goals. None for those that are wanted already. */
export function goalsFromRequirements(project: Project): Done {
  let now = project;
  const edits: Edit[] = [];
  for (const { measure, lens, settings, min, max, label, state } of project.requirements) {
    const found = findMeasure(measure);
    if (!found || (min === undefined && max === undefined)) continue;
    const known = (now.goals ?? []).some(
      (goal) =>
        goal.kind === 'measure' &&
        goal.measure === measure &&
        JSON.stringify(goal.settings) === JSON.stringify(settings),
    );
    if (known) continue;
    const item: MeasureGoal = {
      id: freshId('g', now.goals ?? []),
      kind: 'measure',
      measure,
      of: lens,
      settings,
      weight: 1,
      ...(label !== undefined && { label }),
      ...(state !== undefined && { state }),
      ...(min !== undefined && { min }),
      ...(max !== undefined && { max }),
    };
    edits.push(inserted(now, item));
    now = { ...now, goals: [...(now.goals ?? []), item] };
  }
  return { edits, label: 'Goals from the requirements' };
}

export function removeGoal(project: Project, goal: Goal): Done {
  const last = project.goals?.length === 1;
  return {
    edits: [last ? { kind: 'set', path: 'goals', value: undefined } : { kind: 'remove', list: 'goals', id: goal.id }],
    label: `Remove the goal ${goalName(goal)}`,
  };
}

/** One part of a goal set; undefined takes it away. Fails where limits would cross. */
export function setGoal(goal: Goal, key: string, value: unknown): Outcome<Done> {
  const next = { ...goal, [key]: value } as Partial<MeasureGoal>;
  if (next.min !== undefined && next.max !== undefined && next.min > next.max)
    return failure('The lower limit must not be above the upper one.');
  return success({
    edits: [{ kind: 'set', path: `goals.${goal.id}.${key}`, value }],
    label: `Goal ${goalName(goal)}`,
  });
}

const RADII = /\.radius$/;
const THICKNESSES = /\.thickness$/;

/** Addresses of the radii or thicknesses of a lens that a run could change: fixed or free, not those that follow from others. */
export function turnable(project: Project, lens: Lens, what: 'radii' | 'thicknesses'): readonly string[] {
  const last = lens.surfaces.length - 1;
  return lens.surfaces.slice(0, last).flatMap(({ id, shape, reflects }, k): string[] => {
    const address = `lenses.${lens.id}.surfaces.${id}.${what === 'radii' ? 'radius' : 'thickness'}`;
    const state = project.parameters?.[address];
    if (state && state.kind !== 'free') return [];
    if (what === 'thicknesses') return [address];
    const flat = !('radius' in shape) || (shape.radius === 'infinity' && id === lens.stop);
    return flat || (reflects && k === last) ? [] : [address];
  });
}

/** Numbers that are free now, in the order of the lens. */
export function freeAddresses(project: Project): readonly string[] {
  const free = Object.entries(project.parameters ?? {}).flatMap(([address, { kind }]) =>
    kind === 'free' ? [address] : [],
  );
  const place = new Map<string, number>();
  for (const lens of project.lenses)
    lens.surfaces.forEach(({ id }, k) => place.set(`lenses.${lens.id}.surfaces.${id}`, k));
  // A number of a state stands behind that of the design.
  const rank = (given: string) => {
    const split = splitStateAddress(given);
    const address = split?.address ?? given;
    const kind = RADII.test(address) ? 0 : THICKNESSES.test(address) ? 2 : 1;
    return 10 * (place.get(address.split('.').slice(0, 4).join('.')) ?? 1e4) + kind + (split ? 0.5 : 0);
  };
  return free.sort((a, b) => rank(a) - rank(b));
}

/** Other bounds for a free number. Fails where they cross. */
export function setBound(
  state: ParameterState | undefined,
  side: 'min' | 'max',
  value: number | undefined,
): Outcome<ParameterState> {
  const { min, max } = state?.kind === 'free' ? state : {};
  const next = { min, max, [side]: value };
  if (next.min !== undefined && next.max !== undefined && !(next.min < next.max))
    return failure('The lower bound must be below the upper one.');
  return success({
    kind: 'free',
    ...(next.min !== undefined && { min: next.min }),
    ...(next.max !== undefined && { max: next.max }),
  });
}
