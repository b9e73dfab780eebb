import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import type { Adjustment, Compensator, Tolerance, ToleranceTarget } from '../project/tolerances.ts';
import { compileLens, type LensModel } from '../sequence/lens-model.ts';
import { firstOrder } from '../sequence/paraxial.ts';
import { linearChanges, type LinearChange } from './linear-changes.ts';
import { perturbed } from './perturb.ts';
import { lensOfTarget, toleranceTitle } from './titles.ts';
import type { FocusRule, Settings } from './spot-response.ts';

/** What tolerances change of one lens, and how it is focused after making. */
export interface LensDepartures {
  /** By tolerance. */
  readonly changes: readonly (readonly LinearChange[])[];
  readonly rule: FocusRule;
  /** What is adjusted for its spots, and what each changes. */
  readonly adjustments: readonly Adjustment[];
  readonly adjusting: readonly (readonly LinearChange[])[];
}

/**
 * A project whose surfaces carry the polynomials by which their figures depart, all of them 0: the same rays, and rays are differentiated
 * by them. Fails where a figure cannot depart.
 */
export function withFigures(project: Project, tolerances: readonly Tolerance[]): Outcome<Project> {
  const figures = tolerances.filter(({ kind, off }) => (kind === 'figure' || kind === 'homogeneity') && !off);
  return figures.length === 0
    ? success(project)
    : perturbed(
        project,
        figures.map((of) => ({ of, by: 0 })),
      );
}

/** Fails where a tolerance cannot be made or changes what rays are not differentiated by, or something is adjusted for a requirement. */
export function lensDepartures(
  project: Project,
  model: LensModel,
  tolerances: readonly Tolerance[],
  compensators: readonly Compensator[],
): Outcome<LensDepartures> {
  const adjustments = compensators.filter((one) => one.kind === 'adjust');
  if (adjustments.some(({ aim }) => aim !== 'spots'))
    return failure('What is adjusted for a requirement is not known by derivatives: it is known when it is traced.');
  const own = adjustments.filter(({ target }) => lensOfTarget(target) === model.lens.id);
  const all: Departing[] = [...tolerances, ...own.map(({ target, lower, upper }) => ({ ...target, lower, upper }))];
  const changes: (readonly LinearChange[])[] = [];
  for (const one of all) {
    const found = linearChanges(project, model, one, Math.max(-one.lower, one.upper));
    if (!found.ok) return failure(`${toleranceTitle(project, one)}: ${found.reason}`);
    changes.push(found.value);
  }
  const parts = {
    changes: changes.slice(0, tolerances.length),
    adjusting: changes.slice(tolerances.length),
    adjustments: own,
  };
  const refocus = compensators.findLast((one) => one.kind === 'refocus' && one.lens === model.lens.id);
  const criterion = refocus?.kind === 'refocus' ? refocus.criterion : null;
  if (criterion !== 'paraxial') return success({ ...parts, rule: criterion ? 'best' : 'fixed' });
  const shifts = paraxialShifts(project, model, all);
  return shifts.ok ? success({ ...parts, rule: shifts.value }) : shifts;
}

/** What departs, and how far. */
type Departing = ToleranceTarget & { readonly lower: number; readonly upper: number };

/** By how much the last distance is set, to the paraxial image: per departure by differences of first-order data. */
function paraxialShifts(project: Project, model: LensModel, all: readonly Departing[]): Outcome<Settings> {
  const design = paraxialShift(model);
  if (!design.ok) return design;
  const departures: number[] = [];
  for (const one of all) {
    const step = Math.max(-one.lower, one.upper) / 100;
    const ends: number[] = [];
    for (const by of [-step, step]) {
      const made = perturbed(project, [{ of: one, by }]);
      if (!made.ok) return made;
      const lens = made.value.lenses.find(({ id }) => id === model.lens.id)!;
      const shift = paraxialShift(compileLens(made.value, lens));
      if (!shift.ok) return shift;
      ends.push(shift.value);
    }
    departures.push(step > 0 ? (ends[1] - ends[0]) / (2 * step) : 0);
  }
  return success({ design: design.value, departures });
}

/** How far the paraxial image lies after the image surface, mm. */
function paraxialShift(model: LensModel): Outcome<number> {
  const data = firstOrder(model, model.primary);
  if (!data.ok) return data;
  const { imageDistance } = data.value;
  if (!Number.isFinite(imageDistance)) return failure('The paraxial image lies at infinity.');
  return success(imageDistance - model.surfaces[model.surfaces.length - 2].gap);
}
