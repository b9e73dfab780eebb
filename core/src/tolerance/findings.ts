import type { Project } from '../project/model.ts';
import type { Adjustment, Compensator, Tolerance, Tolerancing } from '../project/tolerances.ts';
import { departureDistribution } from '../tolerances/drawn.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { lensOfTarget } from '../tolerances/titles.ts';
import { tryOut, type Watched } from './one-by-one.ts';
import { watchedRequirement } from './watched.ts';

/** What is wrong with a tolerance or a compensator, before anything is studied. */
export interface ToleranceFinding {
  /** Id of the tolerance or the compensator. */
  readonly of: string;
  /** Whether studies cannot go on with it; otherwise it does nothing. */
  readonly severity: 'error' | 'warning';
  readonly text: string;
}

/**
 * What prevents a study: parameters and elements that are not there or cannot depart, limits and distributions that cannot be, two
 * tolerances of one thing, compensators that find no place or have no effect. What is off is not looked at.
 */
export function toleranceFindings(
  project: Project,
  { tolerances, compensators = [] }: Tolerancing,
): ToleranceFinding[] {
  const found: ToleranceFinding[] = [];
  const error = (of: string, text: string) => found.push({ of, severity: 'error', text });
  const seen = new Map<string, string>();
  for (const tolerance of tolerances) {
    const { id, lower, upper, off } = tolerance;
    if (off) continue;
    const limits = departureDistribution(tolerance);
    if (!limits.ok) error(id, limits.reason);
    // A hair of the range: whether it can be made at the limits is for the trials to say.
    const made = perturbed(project, [{ of: tolerance, by: 1e-6 * (upper > 0 ? upper : lower) }]);
    if (!made.ok) error(id, made.reason);
    if (lower === 0 && upper === 0)
      found.push({ of: id, severity: 'warning', text: 'It has no range: both limits are 0.' });
    const other = seen.get(keyOf(tolerance));
    if (other !== undefined)
      found.push({ of: id, severity: 'warning', text: `It is about the same as “${other}”: both departures add up.` });
    else seen.set(keyOf(tolerance), id);
  }
  for (const { id, group } of alone(tolerances))
    found.push({ of: id, severity: 'warning', text: `It is alone in the group “${group}”: it departs on its own.` });
  for (const compensator of compensators) {
    const set = tryOut(project, [], [compensator], []);
    if (!set.ok) error(compensator.id, set.reason);
    else if (compensator.kind === 'adjust' && !hasEffect(project, compensator, compensators))
      found.push({ of: compensator.id, severity: 'warning', text: `It has no effect on ${aimOf(compensator)}.` });
  }
  return found;
}

/** Tolerances without another one in their group. */
function alone(tolerances: readonly Tolerance[]): { readonly id: string; readonly group: string }[] {
  const counting = tolerances.filter(({ off }) => !off);
  return counting.flatMap(({ id, with: own }) =>
    own && !counting.some((other) => other.id !== id && other.with?.group === own.group)
      ? [{ id, group: own.group }]
      : [],
  );
}

const aimOf = ({ aim }: Adjustment) => (aim === 'spots' ? 'the spots' : 'its requirement');

/** Whether an adjustment changes what it is to set: from one end of its range to the other, all else being set. */
function hasEffect(
  project: Project,
  { target, lower, upper, ...one }: Adjustment,
  all: readonly Compensator[],
): boolean {
  if (lower === upper) return false;
  const watched =
    one.aim === 'spots'
      ? spotsOf(project, lensOfTarget(target))
      : [watchedRequirement(project, one.requirement)].filter((found) => found !== undefined);
  const others = all.filter(({ kind }) => kind === 'refocus');
  const ends = [lower, 0, upper].map((by) => tryOut(project, [{ of: target, by }], others, watched));
  return watched.some((_, k) => {
    const values = ends.map((end) => (end.ok && end.value.values[k].ok ? end.value.values[k].value : NaN));
    const [least, largest] = [Math.min(...values), Math.max(...values)];
    return Number.isNaN(least) || largest - least > 1e-9 * Math.max(Math.abs(least), Math.abs(largest));
  });
}

function spotsOf(project: Project, lens: string | null): Watched[] {
  const fields = project.lenses.find(({ id }) => id === lens)?.fields.points ?? [];
  return fields.map(({ id }) => ({
    id,
    measure: 'rms_spot_radius',
    lens: lens!,
    settings: { field: id },
  }));
}

/** The same for two tolerances of one thing. */
function keyOf(tolerance: Tolerance): string {
  switch (tolerance.kind) {
    case 'element':
      return `element ${tolerance.lens}.${tolerance.surface} ${tolerance.to ?? ''} ${tolerance.motion}`;
    case 'figure':
    case 'homogeneity':
      return `${tolerance.kind} ${tolerance.lens}.${tolerance.surface} ${tolerance.error}`;
    case 'wedge':
      return `wedge ${tolerance.lens}.${tolerance.surface} ${tolerance.across}`;
    case 'melt':
      return `melt ${tolerance.material} ${tolerance.quantity}`;
    case 'number':
      return `number ${tolerance.address}`;
    default: // one radius, in percent or in fringes
      return `radius ${tolerance.address}`;
  }
}
