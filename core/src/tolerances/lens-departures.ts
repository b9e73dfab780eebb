import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { compileLens, type LensModel } from '../sequence/lens-model.ts';
import { firstOrder } from '../sequence/paraxial.ts';
import { linearChanges, type LinearChange } from './linear-changes.ts';
import { perturbed } from './perturb.ts';
import type { FocusRule, FocusShifts } from './spot-response.ts';

/** What tolerances change of one lens, and how it is focused after making. */
export interface LensDepartures {
  /** By tolerance. */
  readonly changes: readonly (readonly LinearChange[])[];
  readonly rule: FocusRule;
}

/**
 * A project whose surfaces carry the polynomials by which their figures depart, all of them 0: the same rays, and rays are differentiated
 * by them. Fails where a figure cannot depart.
 */
export function withFigures(project: Project, tolerances: readonly Tolerance[]): Outcome<Project> {
  const figures = tolerances.filter(({ kind, off }) => kind === 'figure' && !off);
  return figures.length === 0
    ? success(project)
    : perturbed(
        project,
        figures.map((of) => ({ of, by: 0 })),
      );
}

/** Fails where a tolerance cannot be made, or changes what rays are not differentiated by. */
export function lensDepartures(
  project: Project,
  model: LensModel,
  tolerances: readonly Tolerance[],
  compensators: readonly Compensator[],
): Outcome<LensDepartures> {
  const changes: (readonly LinearChange[])[] = [];
  for (const tolerance of tolerances) {
    const found = linearChanges(project, model, tolerance, Math.max(-tolerance.lower, tolerance.upper));
    if (!found.ok) return found;
    changes.push(found.value);
  }
  const criterion = compensators.findLast(({ lens }) => lens === model.lens.id)?.criterion;
  if (criterion !== 'paraxial') return success({ changes, rule: criterion ? 'best' : 'fixed' });
  const shifts = paraxialShifts(project, model, tolerances);
  return shifts.ok ? success({ changes, rule: shifts.value }) : shifts;
}

/** By how much the last distance is set, to the paraxial image: per departure by differences of first-order data. */
function paraxialShifts(project: Project, model: LensModel, tolerances: readonly Tolerance[]): Outcome<FocusShifts> {
  const design = paraxialShift(model);
  if (!design.ok) return design;
  const departures: number[] = [];
  for (const tolerance of tolerances) {
    const step = Math.max(-tolerance.lower, tolerance.upper) / 100;
    const ends: number[] = [];
    for (const by of [-step, step]) {
      const made = perturbed(project, [{ of: tolerance, by }]);
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
