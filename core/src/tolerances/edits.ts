import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import type { Lens, Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import type { Scene } from '../project/scene.ts';
import type {
  Adjustment,
  Compensator,
  GroupShare,
  RefocusAfter,
  Tolerance,
  ToleranceTarget,
  Tolerancing,
  WatchedAs,
} from '../project/tolerances.ts';
import { departureDistribution } from './drawn.ts';
import {
  figureTolerances,
  gradeTolerances,
  groupTolerances,
  homogeneityTolerances,
  placeTolerances,
  type Grade,
} from './grades.ts';
import { perturbed } from './perturb.ts';
import { compensatorTitle, lensOfTarget, toleranceTitle, toleranceUnit } from './titles.ts';

/** A change of the tolerances: edits of the design, and what the history calls it. */
export interface ToleranceGesture {
  readonly edits: readonly Edit[];
  readonly label: string;
}

const NONE: Tolerancing = { tolerances: [] };

function written(value: Tolerancing, label: string): ToleranceGesture {
  return { edits: [{ kind: 'set', path: 'tolerancing', value }], label };
}

/**
 * Gives a lens the tolerances of a grade, in place of those that it has; a refocus is added if nothing is set after making. Tolerances of other
 * lenses stay.
 */
export function applyGrade(project: Project, lens: Lens, grade: Grade): ToleranceGesture {
  const { tolerances, compensators = [], ...rest } = project.tolerancing ?? NONE;
  const glasses = new Set(lens.surfaces.map(({ after }) => after?.material));
  const others = tolerances.filter((one) =>
    one.kind === 'melt' ? !glasses.has(one.material) : lensOfTarget(one) !== lens.id,
  );
  const own = gradeTolerances(project, lens, grade);
  const taken = new Set(others.map(({ id }) => id));
  const named = own.map((one) => ({ ...one, id: freshId(one.id, taken) }));
  const focus: Compensator = { id: `${lens.id}_focus`, kind: 'refocus', lens: lens.id, criterion: 'centroid' };
  const refocused = compensators.some((one) => one.kind === 'refocus' && one.lens === lens.id);
  const set = refocused ? compensators : [...compensators, focus];
  const value = { ...rest, tolerances: [...others, ...named], compensators: set };
  return written(value, `Tolerances: ${grade.title.toLowerCase()}`);
}

/** Gives the places of a scene tolerances, see `placeTolerances`, in place of those that its things have. */
export function tolerancePlaces(project: Project, scene: Scene): ToleranceGesture {
  const mine = (one: Tolerance) => 'address' in one && one.address.startsWith(`scenes.${scene.id}.`);
  const own = placeTolerances(scene).filter((one) => 'address' in one && findParameter(project, one.address).ok);
  return replaced(project, mine, own, 'Tolerances: places in the scene');
}

/** Gives the faces of a lens errors of figure by a grade, in place of those that they have. */
export function toleranceFigures(project: Project, lens: Lens, grade: Grade): ToleranceGesture {
  const mine = (one: Tolerance) => one.kind === 'figure' && one.lens === lens.id;
  return replaced(project, mine, figureTolerances(project, lens, grade), 'Tolerances: figure of faces');
}

/** Gives the glasses of a lens an index that varies across them, by a grade, in place of what they have. */
export function toleranceHomogeneity(project: Project, lens: Lens, grade: Grade): ToleranceGesture {
  const mine = (one: Tolerance) => one.kind === 'homogeneity' && one.lens === lens.id;
  return replaced(project, mine, homogeneityTolerances(project, lens, grade), 'Tolerances: homogeneity of glasses');
}

/** Lets surfaces move together as a group, from one up to another one. Fails where the group cannot move. */
export function toleranceGroup(
  project: Project,
  lens: Lens,
  from: string,
  to: string,
  grade: Grade,
): Outcome<ToleranceGesture> {
  const own = groupTolerances(lens, from, to, grade);
  const made = perturbed(project, [{ of: own[0], by: own[0].upper }]);
  if (!made.ok) return made;
  const mine = (one: Tolerance) =>
    one.kind === 'element' && one.lens === lens.id && one.surface === from && one.to === to;
  return success(replaced(project, mine, own, 'Tolerances: group in its cell'));
}

/** Tolerances in place of some of those that there are. */
function replaced(
  project: Project,
  mine: (one: Tolerance) => boolean,
  own: readonly Tolerance[],
  label: string,
): ToleranceGesture {
  const { tolerances, ...rest } = project.tolerancing ?? NONE;
  const others = tolerances.filter((one) => !mine(one));
  const taken = new Set(others.map(({ id }) => id));
  const named = own.map((one) => ({ ...one, id: freshId(one.id, taken) }));
  return written({ ...rest, tolerances: [...others, ...named] }, label);
}

function freshId(wanted: string, taken: Set<string>): string {
  for (let n = 1; ; n++) {
    const id = n === 1 ? wanted : `${wanted}_${n}`;
    if (taken.has(id)) continue;
    taken.add(id);
    return id;
  }
}

/** Limits that a new tolerance begins with, by its unit. */
const FIRST: Readonly<Record<string, number>> = { mm: 0.05, '°': 0.05, '%': 0.1, fringes: 3, ppm: 5 };

function firstLimit(project: Project, target: ToleranceTarget, unit: string): number {
  const value = target.kind === 'number' ? findParameter(project, target.address) : null;
  const size = value?.ok && Number.isFinite(value.value.value) ? Math.abs(value.value.value) / 1000 : 0;
  return FIRST[unit] ?? Number((size > 0 ? size : 0.001).toPrecision(1));
}

/** Adds a tolerance with limits to begin with. Fails where its target is not there. */
export function addTolerance(project: Project, target: ToleranceTarget): Outcome<ToleranceGesture & { id: string }> {
  const unit = toleranceUnit(project, target);
  if (!unit.ok) return unit;
  const limit = firstLimit(project, target, unit.value);
  const { tolerances, ...rest } = project.tolerancing ?? NONE;
  const id = freshId('added', new Set(tolerances.map((one) => one.id)));
  const tolerance: Tolerance = { ...target, id, lower: -limit, upper: limit };
  const label = `Add tolerance: ${toleranceTitle(project, tolerance)}`;
  return success({ ...written({ ...rest, tolerances: [...tolerances, tolerance] }, label), id });
}

/** What may be changed of a tolerance; null for a distribution that is uniform, and for one that counts again. */
export interface ToleranceChange {
  readonly lower?: number;
  readonly upper?: number;
  readonly distribution?: Tolerance['distribution'] | null;
  readonly off?: true | null;
  /** Null for one that departs on its own. */
  readonly with?: GroupShare | null;
}

/** Changes several tolerances in one step. Fails for the first that could not be drawn then; nothing is changed in that case. */
export function changeTolerances(
  project: Project,
  changes: ReadonlyMap<string, ToleranceChange>,
): Outcome<ToleranceGesture> {
  const tolerancing = project.tolerancing ?? NONE;
  const changed: Tolerance[] = [];
  for (const tolerance of tolerancing.tolerances) {
    const change = changes.get(tolerance.id);
    if (!change) {
      changed.push(tolerance);
      continue;
    }
    const { distribution, off, with: group, ...rest } = { ...tolerance, ...change };
    const own = { ...(distribution && { distribution }), ...(off && { off }), ...(group && { with: group }) };
    const next = { ...rest, ...own } as Tolerance;
    const drawn = departureDistribution(next);
    if (!drawn.ok) return failure(drawn.reason, tolerance.id);
    changed.push(next);
  }
  const [only] = changes.keys();
  const one = changes.size === 1 ? tolerancing.tolerances.find(({ id }) => id === only) : undefined;
  const what = one ? toleranceTitle(project, one) : `${changes.size} tolerances`;
  return success(written({ ...tolerancing, tolerances: changed }, `Change ${what}`));
}

/** Deletes tolerances. */
export function removeTolerances(project: Project, ids: readonly string[]): ToleranceGesture {
  const tolerancing = project.tolerancing ?? NONE;
  const [gone, ...more] = tolerancing.tolerances.filter(({ id }) => ids.includes(id));
  const what = more.length > 0 ? `${more.length + 1} tolerances` : gone ? toleranceTitle(project, gone) : 'nothing';
  const tolerances = tolerancing.tolerances.filter(({ id }) => !ids.includes(id));
  return written({ ...tolerancing, tolerances }, `Delete ${what}`);
}

/** Sets by which criterion a lens is refocused after making; null for not at all. */
export function setRefocus(
  project: Project,
  lens: string,
  criterion: RefocusAfter['criterion'] | null,
): ToleranceGesture {
  const tolerancing = project.tolerancing ?? NONE;
  const { compensators = [] } = tolerancing;
  const own = compensators.find((one) => one.kind === 'refocus' && one.lens === lens);
  const others = compensators.filter((one) => one !== own);
  const id = own?.id ?? freshId('focus', new Set(others.map((one) => one.id)));
  const set = criterion === null ? others : [...others, { id, kind: 'refocus' as const, lens, criterion }];
  return written(
    { ...tolerancing, compensators: set },
    criterion === null ? 'No refocus after making' : 'Refocus after making',
  );
}

/** Has something be adjusted after making, for the spots of its lens to begin with. Fails where it is not there, or cannot move. */
export function addAdjustment(project: Project, target: Adjustment['target']): Outcome<ToleranceGesture> {
  const unit = toleranceUnit(project, target);
  if (!unit.ok) return unit;
  const limit = firstLimit(project, target, unit.value);
  const made = perturbed(project, [{ of: target, by: limit / 1000 }]);
  if (!made.ok) return made;
  const tolerancing = project.tolerancing ?? NONE;
  const { compensators = [] } = tolerancing;
  const id = freshId('adjusted', new Set(compensators.map((one) => one.id)));
  const [requirement] = project.requirements;
  const aim: Pick<Adjustment, 'aim' | 'requirement'> =
    lensOfTarget(target) === null && requirement ? { aim: 'design', requirement: requirement.id } : { aim: 'spots' };
  const adjustment: Adjustment = { id, kind: 'adjust', target, lower: -limit, upper: limit, ...aim };
  const label = `Adjust after making: ${toleranceTitle(project, target)}`;
  return success(written({ ...tolerancing, compensators: [...compensators, adjustment] }, label));
}

/** What may be changed of an adjustment. */
export type AdjustmentChange = Partial<Pick<Adjustment, 'lower' | 'upper' | 'aim' | 'requirement'>>;

/** Changes an adjustment; null deletes it. Fails for limits of the wrong sign. */
export function changeAdjustment(
  project: Project,
  id: string,
  change: AdjustmentChange | null,
): Outcome<ToleranceGesture> {
  const tolerancing = project.tolerancing ?? NONE;
  const { compensators = [] } = tolerancing;
  const before = compensators.find((one) => one.kind === 'adjust' && one.id === id);
  if (before?.kind !== 'adjust') return failure(`There is no adjustment “${id}”.`, id);
  const { requirement, ...rest } = { ...before, ...change };
  if (!(rest.lower <= 0 && rest.upper >= 0))
    return failure('The design must be within the range: from 0 or below to 0 or above.', id);
  const next: Adjustment = rest.aim !== 'spots' && requirement !== undefined ? { ...rest, requirement } : rest;
  const set = compensators.flatMap((one) => (one !== before ? [one] : change ? [next] : []));
  const what = compensatorTitle(project, before);
  return success(written({ ...tolerancing, compensators: set }, change ? `Adjust ${what}` : `Do not adjust ${what}`));
}

/** What may be changed of how a requirement is watched; null for a limit that is the one of the design again. */
export interface WatchChange {
  readonly off?: boolean;
  readonly min?: number | null;
  readonly max?: number | null;
}

/** Changes how studies watch a requirement. Fails where nothing could keep its limits, or the requirement is not there. */
export function changeWatch(project: Project, id: string, change: WatchChange): Outcome<ToleranceGesture> {
  const requirement = project.requirements.find((one) => one.id === id);
  if (!requirement) return failure(`There is no requirement “${id}”.`, id);
  const { watch = [], ...rest } = project.tolerancing ?? NONE;
  const before = watch.find((one) => one.requirement === id);
  const { off = false, min = null, max = null } = { ...before, ...change };
  if ((min ?? requirement.min ?? -Infinity) > (max ?? requirement.max ?? Infinity))
    return failure('The lower limit must not be above the upper one.', id);
  const own: WatchedAs = {
    requirement: id,
    ...(off && { off }),
    ...(min !== null && min !== requirement.min && { min }),
    ...(max !== null && max !== requirement.max && { max }),
  };
  const others = watch.filter((one) => one.requirement !== id);
  const next = Object.keys(own).length > 1 ? [...others, own] : others;
  const title = requirement.label ?? requirement.measure.replaceAll('_', ' ');
  const label = change.off === undefined ? `Limit when made: ${title}` : `${off ? 'Do not watch' : 'Watch'} ${title}`;
  return success(written({ ...rest, ...(next.length > 0 && { watch: next }) }, label));
}

/**
 * Limits as they are typed: `0.05` or `±0.05` to either side, `-0.1 +0.2` or `-0.1/0.2` to one and the other, `*0.5` for half of those that
 * there are. Fails, in words, for anything else.
 */
export function readLimits(
  text: string,
  { lower, upper }: { readonly lower: number; readonly upper: number },
): Outcome<{ readonly lower: number; readonly upper: number }> {
  const plain = text.replaceAll('−', '-').replaceAll(',', '.').trim();
  const scaled = /^[*×]\s*(\S+)$/.exec(plain);
  if (scaled) {
    const factor = Number(scaled[1]);
    if (!(factor >= 0 && Number.isFinite(factor))) return failure('“*” needs a factor of 0 or more, such as *0.5.');
    return success({ lower: lower * factor, upper: upper * factor });
  }
  const sides = plain.replace(/^(±|\+\/?-)\s*(?=\d|\.)/, '');
  const numbers = sides
    .split(/\s*(?:\/|\s|\.\.\.?|…)\s*/)
    .filter((part) => part !== '')
    .map(Number);
  if (numbers.length === 0 || numbers.length > 2 || numbers.some((value) => !Number.isFinite(value)))
    return failure('Type one limit for both sides (0.05), or two (-0.1 +0.2).');
  if (numbers.length === 1) {
    if (sides === plain && /^[+-]/.test(plain)) return failure('For one side only type both: 0 +0.2, or -0.1 0.');
    return success({ lower: 0 - numbers[0], upper: numbers[0] });
  }
  const [from, to] = numbers[0] <= numbers[1] ? numbers : [numbers[1], numbers[0]];
  if (from > 0 || to < 0) return failure('The design must be within the limits: from 0 or below to 0 or above.');
  return success({ lower: from, upper: to });
}

/**
 * A group as it is typed: `A` for a departure that is that of the group, `A 0.8` for one that is correlated with it, nothing or `–` for one on its
 * own. Fails, in words, for anything else.
 */
export function readGroup(text: string): Outcome<GroupShare | null> {
  const plain = text.replaceAll('−', '-').replaceAll(',', '.').trim();
  if (plain === '' || plain === '–' || plain === '-') return success(null);
  const found = /^([\p{L}][\p{L}\d_]*)(?:\s+([-+]?\d*\.?\d+))?$/u.exec(plain);
  if (!found) return failure('Type the name of a group, and perhaps a correlation from −1 to 1: A 0.8.');
  const correlation = found[2] === undefined ? 1 : Number(found[2]);
  if (Math.abs(correlation) > 1) return failure('A correlation is from −1 to 1.');
  return success({ group: found[1], ...(correlation !== 1 && { correlation }) });
}
