import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { evaluateMeasure, type MeasureRequest } from '../measures/registry.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import type { Departure } from '../tolerances/perturb.ts';
import { madeAndSet } from './compensate.ts';
import { influencesOf, quadraticThrough, type Influence, type Sampled } from './influence.ts';

/** What a study watches: a measure, evaluated as requirements are. */
export interface Watched extends MeasureRequest {
  readonly id: string;
}

/** What a trial has come to. */
export interface Trial {
  /** By watched measure; a failure with its reason where the trial has no value. */
  readonly values: readonly Outcome<number>[];
  /** By watched measure: the unit of its value, where the measure's own depends on what it looks at; null where it does not. */
  readonly units: readonly (string | null)[];
  /** By watched measure: the standard error of one that is sampled by rays; null for one that is exact. */
  readonly errors: readonly (number | null)[];
  /** By watched measure: that it was found from some of the rays only; null where nothing is wrong. */
  readonly cautions: readonly (string | null)[];
  /** How far each compensator moved: a refocus in mm, an adjustment in the unit of what it moves. */
  readonly moved: readonly number[];
}

/** A study of tolerances one by one. */
export interface OneByOne {
  /** The design, compensated: values by watched measure. */
  readonly nominal: readonly Outcome<number>[];
  /** Units of the values by watched measure, see `Trial`. */
  readonly units: readonly (string | null)[];
  readonly tolerances: readonly Tolerance[];
  /** By tolerance, then by watched measure. */
  readonly influences: readonly (readonly Influence[])[];
  /** Why trials have no value: tolerance, departure and reason, the first of each tolerance. */
  readonly failures: readonly { readonly tolerance: string; readonly at: number; readonly reason: string }[];
}

/**
 * One trial: the project as it is made and set, its measures evaluated. Fails where the departures cannot be made or a compensator finds no
 * place.
 *
 * @param near - an evaluation of the design, compensated: what was found for it is where the trial begins
 */
export function tryOut(
  project: Project,
  departures: readonly Departure[],
  compensators: readonly Compensator[],
  watched: readonly Watched[],
  near: Evaluation | null = null,
): Outcome<Tried> {
  const made = madeAndSet(project, departures, compensators, near);
  if (!made.ok) return made;
  const { moved } = made.value;
  const evaluation = new Evaluation(made.value.project, made.value.near);
  const measured = watched.map((request) => evaluateMeasure(evaluation, request));
  return success({
    values: measured.map((one) => (one.ok ? success(one.value.value) : one)),
    units: measured.map((one) => (one.ok ? (one.value.unit ?? null) : null)),
    errors: measured.map((one) => (one.ok ? (one.value.standardError ?? null) : null)),
    // What rays of a scene come to has its error, and cautions about that are none about the trial.
    cautions: measured.map((one) =>
      one.ok && one.value.cautionLabel === undefined && one.value.standardError === undefined
        ? (one.value.caution ?? null)
        : null,
    ),
    moved,
    project: made.value.project,
    evaluation,
  });
}

/** A watched value of a trial. It fails, too, where rays are lost that arrive in the design. */
export function valueOf(trial: Outcome<Trial>, k: number, design: Trial): Outcome<number> {
  if (!trial.ok) return trial;
  const caution = trial.value.cautions[k];
  return caution && !design.cautions[k] ? failure(caution) : trial.value.values[k];
}

/** A trial with the project as it was made and set, and the evaluation that its values came of. */
export interface Tried extends Trial {
  readonly project: Project;
  readonly evaluation: Evaluation;
}

/** The design, compensated, by watched measure. */
export type DesignStand = Pick<Trial, 'values' | 'units'>;

/** What studies work with: a design, what departs from it, what is set after making, and what is watched. */
export interface StudyInput {
  readonly project: Project;
  readonly tolerances: readonly Tolerance[];
  readonly compensators: readonly Compensator[];
  readonly watched: readonly Watched[];
}

/**
 * Takes each tolerance over its range in steps, all else as designed, and yields each as it is done. Those that are off are skipped.
 *
 * Fails for limits of the wrong sign, or where the design itself cannot be compensated; else returns the values of the design, compensated, by
 * watched measure.
 *
 * @param points - departures of a tolerance with limits on both sides, 3 or more; the design is one of them, so an even number is raised by one
 */
export function* sampleEach(
  { project, tolerances, compensators, watched }: StudyInput,
  points = 5,
): Generator<Sampled, Outcome<DesignStand>, void> {
  const counting = drawnTolerances(tolerances);
  if (!counting.ok) return counting;
  const design = tryOut(project, [], compensators, watched);
  if (!design.ok) return design;
  for (const { tolerance } of counting.value) {
    const at = departuresOf(tolerance, points);
    const columns = watched.map((): (number | null)[] => []);
    const errors = watched.map(() => 0);
    let lost: Sampled['failure'];
    for (const by of at) {
      const trial =
        by === 0 ? design : tryOut(project, [{ of: tolerance, by }], compensators, watched, design.value.evaluation);
      columns.forEach((column, k) => {
        const value = valueOf(trial, k, design.value);
        column.push(value.ok ? value.value : null);
        if (trial.ok) errors[k] = Math.max(errors[k], trial.value.errors[k] ?? 0);
        if (!value.ok) lost ??= { at: by, reason: value.reason };
      });
    }
    const curves = columns.map((values, k) => ({
      at,
      values,
      fit: quadraticThrough(at, values),
      ...(errors[k] > 0 && { error: errors[k] }),
    }));
    yield { tolerance: tolerance.id, curves, ...(lost && { failure: lost }) };
  }
  const { values, units } = design.value;
  return success({ values, units });
}

/** Takes each tolerance over its range, see `sampleEach`. Yields the share that is done. */
export function* oneByOne(study: StudyInput, points = 5): Generator<number, Outcome<OneByOne>, void> {
  const tolerances = study.tolerances.filter(({ off }) => !off);
  const sampled: Sampled[] = [];
  const work = sampleEach(study, points);
  let step = work.next();
  for (; !step.done; step = work.next()) {
    sampled.push(step.value);
    yield sampled.length / tolerances.length;
  }
  if (!step.value.ok) return step.value;
  const influences = influencesOf(tolerances, sampled);
  if (!influences.ok) return influences;
  const failures = sampled.flatMap(({ tolerance, failure: lost }) => (lost ? [{ tolerance, ...lost }] : []));
  const { values: nominal, units } = step.value.value;
  return success({ nominal, units, tolerances, influences: influences.value, failures });
}

/** Departures from the lower to the upper limit in equal steps on either side; the design is one of them. */
export function departuresOf({ lower, upper }: Tolerance, points: number): number[] {
  const side = Math.max(1, Math.floor(points / 2));
  const below = lower < 0 ? Array.from({ length: side }, (_, k) => (lower * (side - k)) / side) : [];
  const above = upper > 0 ? Array.from({ length: side }, (_, k) => (upper * (k + 1)) / side) : [];
  return [...below, 0, ...above];
}
