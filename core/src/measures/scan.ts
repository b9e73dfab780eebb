import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { setByText } from '../project/set-text.ts';
import type { Measured } from './measure.ts';
import { evaluateMeasure, type MeasureRequest } from './registry.ts';

/** One parameter of a scan with the values it takes, in its unit. */
export interface ScanAxis {
  readonly address: string;
  readonly values: readonly number[];
}

/** One point of a scan: the value of each axis and what each measure is there. */
export interface ScanRow {
  readonly at: readonly number[];
  readonly measured: readonly Outcome<Measured>[];
}

/** Number of points of a scan over all combinations. */
export function scanSize(axes: readonly ScanAxis[]): number {
  return axes.reduce((size, { values }) => size * values.length, 1);
}

/**
 * One point of a scan, counted from 0 with the last axis running fastest. Fails where a parameter does not exist or does not take the
 * value; a measure that has no value there fails by itself in the row, and so do all where numbers that follow from others cannot.
 *
 * @param follow - brings numbers that follow from others up to date, or says which cannot be
 */
export function scanPoint(
  project: Project,
  axes: readonly ScanAxis[],
  measures: readonly MeasureRequest[],
  point: number,
  follow: (project: Project) => Outcome<Project> = success,
): Outcome<ScanRow> {
  let rest = point;
  const at = new Array<number>(axes.length);
  for (let axis = axes.length - 1; axis >= 0; axis--) {
    const { values } = axes[axis];
    at[axis] = values[rest % values.length];
    rest = Math.floor(rest / values.length);
  }
  if (rest > 0 || point < 0) return failure(`The scan has no point ${point}.`);
  let changed = project;
  for (const [axis, { address }] of axes.entries()) {
    const next = setByText(changed, address, at[axis]);
    if (!next.ok) return next;
    changed = next.value;
  }
  const followed = follow(changed);
  if (!followed.ok) return success({ at, measured: measures.map(() => followed) });
  const evaluation = new Evaluation(followed.value);
  return success({ at, measured: measures.map((request) => evaluateMeasure(evaluation, request)) });
}
