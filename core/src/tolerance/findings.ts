import type { Project } from '../project/model.ts';
import type { Tolerance, Tolerancing } from '../project/tolerances.ts';
import { departureDistribution } from '../tolerances/drawn.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { tryOut } from './one-by-one.ts';

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
 * tolerances of one thing, compensators that find no focus. What is off is not looked at.
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
  for (const compensator of compensators) {
    const set = tryOut(project, [], [compensator], []);
    if (!set.ok) error(compensator.id, set.reason);
  }
  return found;
}

/** The same for two tolerances of one thing. */
function keyOf(tolerance: Tolerance): string {
  switch (tolerance.kind) {
    case 'element':
      return `element ${tolerance.lens}.${tolerance.surface} ${tolerance.to ?? ''} ${tolerance.motion}`;
    case 'figure':
      return `figure ${tolerance.lens}.${tolerance.surface} ${tolerance.error}`;
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
