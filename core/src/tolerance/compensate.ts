import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { focusOf } from '../imaging/point/refocus.ts';
import { minimumNear } from '../math/minimum.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { solveOne } from '../math/solve-one.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import type { Adjustment, Compensator } from '../project/tolerances.ts';
import { linearChanges, type LinearChange } from '../tolerances/linear-changes.ts';
import { perturbed, type Departure } from '../tolerances/perturb.ts';
import { spotChanges, type SpotChanges } from '../tolerances/spot-changes.ts';
import { leastSquareSteps } from '../tolerances/spot-response.ts';
import { compensatorTitle, lensOfTarget } from '../tolerances/titles.ts';
import { watchedRequirement } from './watched.ts';

/** A project as it is made and set. */
export interface Made {
  readonly project: Project;
  /** How far each compensator moved: a refocus in mm, an adjustment in the unit of what it moves. */
  readonly moved: readonly number[];
  /** The last evaluation on the way: the one of the project itself begins there. */
  readonly near: Evaluation | null;
}

/** A project that is being set, with what has moved so far, by the id of its compensator. */
interface Setting {
  readonly project: Project;
  readonly moved: ReadonlyMap<string, number>;
  readonly near: Evaluation | null;
}

/**
 * A project with departures, then with its compensators where they are best: what is adjusted for a requirement, one after another, refocused
 * each time; then what is adjusted for spots, together; then refocused.
 *
 * Fails where the departures cannot be made, rays are lost, or a compensator finds no place.
 *
 * @param near - an evaluation of the design, where those of what is made begin
 */
export function madeAndSet(
  project: Project,
  departures: readonly Departure[],
  compensators: readonly Compensator[],
  near: Evaluation | null = null,
): Outcome<Made> {
  const made = perturbed(project, departures);
  if (!made.ok) return made;
  let current: Setting = { project: made.value, moved: new Map(), near };
  for (const one of compensators) {
    if (one.kind !== 'adjust' || one.aim === 'spots') continue;
    const set = setForRequirement(project, current, one, compensators);
    if (!set.ok) return set;
    current = set.value;
  }
  const focused = setForSpots(current, compensators);
  if (!focused.ok) return focused;
  const { project: done, moved, near: last } = focused.value;
  return success({ project: done, moved: compensators.map(({ id }) => moved.get(id) ?? 0), near: last });
}

/** Sets what is adjusted for spots, lens by lens, and then all that is refocused. */
function setForSpots(start: Setting, compensators: readonly Compensator[]): Outcome<Setting> {
  let current = start;
  const lenses = new Map<string, Adjustment[]>();
  for (const one of compensators) {
    if (one.kind !== 'adjust' || one.aim !== 'spots') continue;
    const lens = lensOfTarget(one.target);
    if (lens === null)
      return failure(`${compensatorTitle(start.project, one)} is in no lens: it has no spots.`, one.id);
    lenses.set(lens, [...(lenses.get(lens) ?? []), one]);
  }
  for (const [lens, adjustments] of lenses) {
    const refocus = compensators.findLast((one) => one.kind === 'refocus' && one.lens === lens);
    const withFocus = refocus?.kind === 'refocus' && refocus.criterion !== 'paraxial';
    const set = adjustForSpots(current, lens, adjustments, withFocus);
    if (!set.ok) return set;
    current = set.value;
  }
  for (const one of compensators) {
    if (one.kind !== 'refocus') continue;
    const set = focusOf(current.project, one.lens, one.criterion, current.near);
    if (!set.ok) return set;
    const moved = new Map(current.moved).set(one.id, set.value.shift);
    current = { project: applyEdits(current.project, [set.value.edit]).project, moved, near: set.value.evaluation };
  }
  return success(current);
}

/** Rounds of least squares; rays are nearly linear in what is adjusted, so that two are enough as a rule. */
const ROUNDS = 4;
/** A step that is this small against its range is the last one: what is left is of second order in it. */
const SMALL = 2e-4;

/** Moves what is adjusted to the least mean square spot of a lens, within the ranges; focus moves freely beside it, if it will be set. */
function adjustForSpots(
  start: Setting,
  lensId: string,
  adjustments: readonly Adjustment[],
  withFocus: boolean,
): Outcome<Setting> {
  const by = new Float64Array(adjustments.length);
  let { project, near } = start;
  for (let round = 0; round < ROUNDS; round++) {
    const evaluation = new Evaluation(project, near);
    const lens = evaluation.lens(lensId);
    if (!lens.ok) return lens;
    const changes: (readonly LinearChange[])[] = [];
    for (const { target, lower, upper } of adjustments) {
      const found = linearChanges(project, lens.value.model, target, Math.max(-lower, upper));
      if (!found.ok) return found;
      changes.push(found.value);
    }
    const spots = spotChanges(lens.value, changes);
    if (!spots.ok) return spots;
    const ranges = adjustments.map(({ lower, upper }, k) => [lower - by[k], upper - by[k]] as const);
    const steps = stepsWithin(spots.value, ranges, withFocus);
    steps.forEach((step, k) => (by[k] += step));
    const moved = perturbed(
      start.project,
      adjustments.map(({ target }, k) => ({ of: target, by: by[k] })),
    );
    if (!moved.ok) return moved;
    [project, near] = [moved.value, evaluation];
    if (adjustments.every(({ lower, upper }, k) => Math.abs(steps[k]) <= SMALL * (upper - lower))) break;
  }
  const moved = new Map(start.moved);
  adjustments.forEach(({ id }, k) => moved.set(id, by[k]));
  return success({ project, moved, near });
}

/** Least-squares steps within ranges: the one that leaves its range farthest is held at its end, and the others are found again. */
function stepsWithin(
  spots: readonly SpotChanges[],
  ranges: readonly (readonly [number, number])[],
  withFocus: boolean,
): Float64Array {
  const held = new Map<number, number>();
  for (;;) {
    const open = [...ranges.keys()].filter((k) => !held.has(k));
    const columns = (one: SpotChanges) => [...open.map((k) => one.changes[k]), ...(withFocus ? [one.focus] : [])];
    const rows = (one: SpotChanges) =>
      one.rows.map((row, i) => [...held].reduce((sum, [k, step]) => sum + step * one.changes[k][i], row));
    const found = leastSquareSteps(spots, columns, rows);
    let [farthest, most] = [-1, 0];
    open.forEach((k, i) => {
      const [low, high] = ranges[k];
      const beyond = Math.max(low - found[i], found[i] - high) / (high - low || 1);
      if (beyond > most) [farthest, most] = [k, beyond];
    });
    if (farthest < 0) {
      const steps = new Float64Array(ranges.length);
      open.forEach((k, i) => (steps[k] = found[i]));
      for (const [k, step] of held) steps[k] = step;
      return steps;
    }
    const [low, high] = ranges[farthest];
    held.set(farthest, found[open.indexOf(farthest)] > high ? high : low);
  }
}

/** Moves one adjustment to where its requirement is as wanted, refocused each time. */
function setForRequirement(
  design: Project,
  start: Setting,
  one: Adjustment,
  compensators: readonly Compensator[],
): Outcome<Setting> {
  const { target, lower, upper, aim } = one;
  const others = compensators.filter((other) => other.kind === 'refocus' || other.aim === 'spots');
  const movedTo = (by: number): Outcome<Setting> => {
    const moved = perturbed(start.project, [{ of: target, by }]);
    return moved.ok ? success({ ...start, project: moved.value, moved: new Map(start.moved).set(one.id, by) }) : moved;
  };
  const known = new Map<number, Outcome<number>>();
  const value = (by: number): number => {
    const moved = by < lower || by > upper ? OUTSIDE : movedTo(by);
    const found = known.get(by) ?? (moved.ok ? requirementValue(moved.value, one, others) : moved);
    known.set(by, found);
    return found.ok ? found.value : NaN;
  };
  let best: number | null;
  if (aim === 'design') {
    const wanted = designValue(design, one, others);
    if (!wanted.ok) return wanted;
    best = nearestTo(value, wanted.value, lower, upper);
  } else {
    const sign = aim === 'least' ? 1 : -1;
    best = minimumNear((by) => sign * value(by), 0, (upper - lower) / 10, FINE)?.x ?? null;
  }
  if (best !== null) return movedTo(best);
  const lost = [...known.values()].find((found) => !found.ok);
  return failure(
    lost && !lost.ok ? lost.reason : `${compensatorTitle(design, one)} finds no place in its range.`,
    one.id,
  );
}

const OUTSIDE = failure('It is outside of its range.');
/** How closely the place of a least or largest value is wanted, of a tenth of the range. */
const FINE = 1e-3;

/** The place in a range where a function has a value, or else is nearest to it; null where it has none at all. */
function nearestTo(value: (by: number) => number, wanted: number, lower: number, upper: number): number | null {
  const ends = [0, lower, upper].map((by) => ({ by, off: Math.abs(value(by) - wanted) }));
  const known = ends.filter(({ off }) => Number.isFinite(off)).sort((a, b) => a.off - b.off);
  if (known.length === 0) return null;
  const enough = 1e-6 * Math.max(known[known.length - 1].off, 1e-9 * Math.abs(wanted));
  if (known[0].off <= enough) return known[0].by;
  const found = solveOne({
    f: (by) => value(by) - wanted,
    start: 0,
    step: (upper > 0 ? upper : lower) / 10,
    enough: (off) => Math.abs(off) <= enough,
    from: lower,
    to: upper,
  });
  return found ?? known[0].by;
}

/** The value of an adjustment's requirement, once all else is set. */
function requirementValue(start: Setting, one: Adjustment, others: readonly Compensator[]): Outcome<number> {
  const watched = watchedRequirement(start.project, one.requirement);
  if (!watched) return failure(`There is no requirement “${one.requirement ?? ''}”.`, one.id);
  const set = setForSpots(start, others);
  if (!set.ok) return set;
  const found = evaluateMeasure(new Evaluation(set.value.project, set.value.near), watched);
  return found.ok ? success(found.value.value) : found;
}

const DESIGNS = new WeakMap<Project, Map<string, Outcome<number>>>();

/** The value in the design, which each of its trials asks for. */
function designValue(design: Project, one: Adjustment, others: readonly Compensator[]): Outcome<number> {
  const values = DESIGNS.get(design) ?? new Map<string, Outcome<number>>();
  DESIGNS.set(design, values);
  const key = `${one.requirement} ${JSON.stringify(others)}`;
  const known = values.get(key);
  if (known) return known;
  const found = requirementValue({ project: design, moved: new Map(), near: null }, one, others);
  values.set(key, found);
  return found;
}
