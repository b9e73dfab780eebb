import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { refocus } from '../imaging/point/refocus.ts';
import { fitLeastSquares } from '../math/linear-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { responseMoments } from '../math/quadratic-response.ts';
import { evaluateMeasure, type MeasureRequest } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { drawnTolerances, type DrawnTolerance } from '../tolerances/drawn.ts';
import { perturbed, type Departure } from '../tolerances/perturb.ts';

/** What a study watches: a measure, evaluated as requirements are. */
export interface Watched extends MeasureRequest {
  readonly id: string;
}

/** What a trial has come to. */
export interface Trial {
  /** By watched measure; a failure with its reason where the trial has no value. */
  readonly values: readonly Outcome<number>[];
  /** By watched measure: that it was found from some of the rays only; null where nothing is wrong. */
  readonly cautions: readonly (string | null)[];
  /** How far each compensator moved, mm. */
  readonly moved: readonly number[];
}

/** What one tolerance does to one measure over its range. */
export interface Influence {
  /** Departures that were tried, and the value at each; null where a trial has none. */
  readonly at: readonly number[];
  readonly values: readonly (number | null)[];
  /** value + slope·x + curvature·x² through them by least squares; null where too few trials have a value. */
  readonly fit: QuadraticFit | null;
  /** Values at the lower and the upper limit. */
  readonly ends: readonly [number | null, number | null];
  /** Change of the mean, and standard deviation, by the fit over the distribution. */
  readonly shift: number;
  readonly deviation: number;
  /** Its share of the sum of squares of all deviations of this measure. */
  readonly share: number;
}

export interface QuadraticFit {
  readonly value: number;
  readonly slope: number;
  readonly curvature: number;
  /** The largest difference of the curve from the fit, as a share of the range of the curve. */
  readonly residual: number;
}

/** A study of tolerances one by one. */
export interface OneByOne {
  /** The design, compensated: values by watched measure. */
  readonly nominal: readonly Outcome<number>[];
  readonly tolerances: readonly Tolerance[];
  /** By tolerance, then by watched measure. */
  readonly influences: readonly (readonly Influence[])[];
  /** Why trials have no value: tolerance, departure and reason, the first of each tolerance. */
  readonly failures: readonly { readonly tolerance: string; readonly at: number; readonly reason: string }[];
}

/**
 * One trial: the project with departures, its compensators set, its measures evaluated. Fails where the departures cannot be made or a
 * compensator finds no place.
 */
export function tryOut(
  project: Project,
  departures: readonly Departure[],
  compensators: readonly Compensator[],
  watched: readonly Watched[],
): Outcome<Trial> {
  const made = perturbed(project, departures);
  if (!made.ok) return made;
  let current = made.value;
  const moved: number[] = [];
  for (const { lens, criterion } of compensators) {
    const set = refocus(current, lens, criterion);
    if (!set.ok) return set;
    moved.push(set.value.shift);
    current = applyEdits(current, [set.value.edit]).project;
  }
  const evaluation = new Evaluation(current);
  const measured = watched.map((request) => evaluateMeasure(evaluation, request));
  return success({
    values: measured.map((one) => (one.ok ? success(one.value.value) : one)),
    cautions: measured.map((one) => (one.ok && one.value.cautionLabel === undefined && one.value.caution) || null),
    moved,
  });
}

/** A watched value of a trial. It fails, too, where rays are lost that arrive in the design. */
export function valueOf(trial: Outcome<Trial>, k: number, design: Trial): Outcome<number> {
  if (!trial.ok) return trial;
  const caution = trial.value.cautions[k];
  return caution && !design.cautions[k] ? failure(caution) : trial.value.values[k];
}

/**
 * Takes each tolerance over its range in steps, all else as designed, and ranks nothing: the caller sorts. Yields the share that is done.
 *
 * Fails for limits of the wrong sign, or where the design itself cannot be compensated.
 *
 * @param points - departures of a tolerance with limits on both sides, 3 or more; the design is one of them, so an even number is raised by one
 */
export function* oneByOne(
  project: Project,
  tolerances: readonly Tolerance[],
  compensators: readonly Compensator[],
  watched: readonly Watched[],
  points = 5,
): Generator<number, Outcome<OneByOne>, void> {
  const counting = drawnTolerances(tolerances);
  if (!counting.ok) return counting;
  const design = tryOut(project, [], compensators, watched);
  if (!design.ok) return design;
  const failures: OneByOne['failures'][number][] = [];
  const influences: Omit<Influence, 'share'>[][] = [];
  for (const drawn of counting.value) {
    const { tolerance } = drawn;
    const at = departuresOf(tolerance, points);
    const columns = watched.map((): (number | null)[] => []);
    for (const by of at) {
      const trial = by === 0 ? design : tryOut(project, [{ of: tolerance, by }], compensators, watched);
      columns.forEach((column, k) => {
        const value = valueOf(trial, k, design.value);
        column.push(value.ok ? value.value : null);
        if (!value.ok && !failures.some(({ tolerance: id }) => id === tolerance.id))
          failures.push({ tolerance: tolerance.id, at: by, reason: value.reason });
      });
    }
    influences.push(columns.map((values) => influenceOf(drawn, at, values)));
    yield influences.length / counting.value.length;
  }
  const sums = watched.map((_, k) => influences.reduce((sum, row) => sum + row[k].deviation ** 2, 0));
  return success({
    nominal: design.value.values,
    tolerances: counting.value.map(({ tolerance }) => tolerance),
    influences: influences.map((row) =>
      row.map((one, k) => ({ ...one, share: sums[k] > 0 ? one.deviation ** 2 / sums[k] : 0 })),
    ),
    failures,
  });
}

/** Departures from the lower to the upper limit in equal steps on either side; the design is one of them. */
function departuresOf({ lower, upper }: Tolerance, points: number): number[] {
  const side = Math.max(1, Math.floor(points / 2));
  const below = lower < 0 ? Array.from({ length: side }, (_, k) => (lower * (side - k)) / side) : [];
  const above = upper > 0 ? Array.from({ length: side }, (_, k) => (upper * (k + 1)) / side) : [];
  return [...below, 0, ...above];
}

function influenceOf({ distribution }: DrawnTolerance, at: readonly number[], values: readonly (number | null)[]) {
  const known = at.flatMap((x, k) => (values[k] === null ? [] : [[x, values[k]] as const]));
  const fit = quadraticThrough(known);
  const moments =
    fit && responseMoments({ value: 0, slopes: [fit.slope], curvatures: [[fit.curvature]] }, [distribution.moments]);
  return {
    at,
    values,
    fit,
    ends: [values[0] ?? null, values[values.length - 1] ?? null] as const,
    shift: moments?.mean ?? 0,
    deviation: Math.sqrt(Math.max(0, moments?.variance ?? 0)),
  };
}

/** A parabola by least squares; a straight line through two points. Null for fewer. */
function quadraticThrough(points: readonly (readonly [x: number, y: number])[]): QuadraticFit | null {
  const reach = Math.max(...points.map(([x]) => Math.abs(x)));
  if (points.length < 2 || !(reach > 0)) return null;
  const terms = Math.min(3, points.length);
  const row = (x: number) => [1, x / reach, (x / reach) ** 2].slice(0, terms);
  const found = fitLeastSquares(
    points.map(([x]) => row(x)),
    points.map(([, y]) => y),
  );
  if (!found) return null;
  const [value, slope, curvature = 0] = found;
  const heights = points.map(([, y]) => y);
  const range = Math.max(...heights) - Math.min(...heights);
  const misses = points.map(([x, y]) => Math.abs(y - row(x).reduce((sum, term, k) => sum + term * found[k], 0)));
  return {
    value,
    slope: slope / reach,
    curvature: curvature / reach ** 2,
    residual: range > 0 ? Math.max(...misses) / range : 0,
  };
}
