import { OrthogonalFit } from '../math/linear-fit.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import { RandomStream } from '../math/random.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import { responseByDerivatives } from './by-derivatives.ts';
import { composed } from './components.ts';
import { tryOut, valueOf, type StudyInput } from './one-by-one.ts';
import { isKnown, type Response } from './response.ts';

/** How a joint study is sampled. */
export interface JointChoice {
  readonly seed: number;
  /** The fit error that is good enough, as a share of the standard deviation of a measure. */
  readonly wanted: number;
  /** Most trials. */
  readonly most: number;
}

/** A trial spread over all ranges at once. */
export interface JointTrial {
  /** Its number, from 0: with the seed it says which departures it has. */
  readonly trial: number;
  /** By component, squared where the component is; null where it has no value. */
  readonly values: readonly (number | null)[];
}

/** How well a response gives one watched measure. */
export interface FitQuality {
  /** RMS difference of trials that had no part in the fit, over their standard deviation. */
  readonly error: number;
  /** How many trials those are. */
  readonly trials: number;
  readonly verdict: 'good' | 'doubtful' | 'unusable';
  /** Ids of the tolerances whose effect bends most, the strongest first. */
  readonly bends: readonly string[];
}

/** The responses to all tolerances together, and how good they are. */
export interface Joint {
  readonly response: Response;
  /** By watched measure; null where too few trials have a value. */
  readonly quality: readonly (FitQuality | null)[];
  readonly trials: number;
  /** Trials without all values. */
  readonly lost: number;
}

/** Errors up to which a fit is good, and up to which it is doubtful. */
const [GOOD, DOUBTFUL] = [0.05, 0.2];
/** Trials for each number of a fit at least, and how many times as many in each further round. */
const [ENOUGH, GROWTH] = [1.3, 1.6];
/** Of so many trials one chooses between fits and one judges the choice; the others are fitted. */
const TURN = 6;
const [CHOOSES, JUDGES] = [0, 3];
/** Tolerances that are named as those that bend most. */
const NAMED = 3;

/** The range of a tolerance, by its middle and its half width. */
interface Axis {
  readonly middle: number;
  readonly half: number;
}

/** A trial with its place in the cube of all ranges. */
interface Row extends JointTrial {
  readonly u: Float64Array;
}

const axesOf = (tolerances: readonly Tolerance[]) =>
  tolerances.map(({ lower, upper }): Axis => ({ middle: (lower + upper) / 2, half: (upper - lower) / 2 }));

/** Where a trial lies in the cube of all ranges, −1 to 1 in each. */
function placeOf(axes: readonly Axis[], seed: number, trial: number): Float64Array {
  const stream = new RandomStream(seed, trial);
  return Float64Array.from(axes, () => 2 * stream.uniform() - 1);
}

/** Tolerances that count in a joint study: those that are on and have a range. */
function spreadTolerances(tolerances: readonly Tolerance[]): Outcome<Tolerance[]> {
  const drawn = drawnTolerances(tolerances.filter(({ lower, upper }) => upper !== lower));
  return drawn.ok ? success(drawn.value.map(({ tolerance }) => tolerance)) : drawn;
}

/** Numbers of a fit of slopes and curvatures, and of one with all products. */
const diagonalCount = (n: number) => 1 + 2 * n;
const fullCount = (n: number) => 1 + n + (n * (n + 1)) / 2;
const trialsFor = (numbers: number) => Math.ceil((ENOUGH * numbers * TURN) / (TURN - 2)) + TURN;

/** Trials with which a joint study of so many tolerances begins. */
export function firstTrials(tolerances: number): number {
  return trialsFor(diagonalCount(tolerances));
}

/** Trials of the next round; those of a fit with all products where they are near. */
export function nextTrials(tolerances: number, have: number): number {
  const full = trialsFor(fullCount(tolerances));
  const next = Math.ceil(GROWTH * have);
  return have < full && next > full / 2 ? full : next;
}

/**
 * Makes and evaluates trials of a joint study, those from one number up to another that is left out. The same seed gives the same trials, whichever
 * of them are made where.
 *
 * Fails for tolerances that cannot be drawn, or where the design cannot be compensated.
 *
 * @param start - what is known by derivatives: says of what components the watched measures are made
 */
export function* jointTrials(
  { project, tolerances, compensators }: StudyInput,
  start: Response,
  seed: number,
  from: number,
  to: number,
): Generator<JointTrial, Outcome<null>, void> {
  const spread = spreadTolerances(tolerances);
  if (!spread.ok) return spread;
  const axes = axesOf(spread.value);
  const { components } = start;
  const watched = components.map(({ request }) => request);
  const design = tryOut(project, [], compensators, watched);
  if (!design.ok) return design;
  for (let trial = from; trial < to; trial++) {
    const place = placeOf(axes, seed, trial);
    const departures = spread.value.map((of, i) => ({ of, by: axes[i].middle + axes[i].half * place[i] }));
    const made = tryOut(project, departures, compensators, watched, design.value.evaluation);
    const values = components.map(({ squared }, k) => {
      const value = valueOf(made, k, design.value);
      return value.ok ? (squared ? value.value ** 2 : value.value) : null;
    });
    yield { trial, values };
  }
  return success(null);
}

/**
 * Responses from trials. Of each component the best of those by derivatives alone (`start`), with slopes and curvatures of what trials
 * differ by, and with all products where there are trials enough for them: best in trials that are not fitted. Others again judge it.
 */
export function fitJoint(start: Response, seed: number, trials: readonly JointTrial[]): Joint {
  const tolerances = start.tolerances.filter(({ lower, upper }) => upper !== lower);
  const axes = axesOf(tolerances);
  const rows = trials.map(({ trial, values }) => ({ trial, values, u: placeOf(axes, seed, trial) }));
  const choosing = rows.filter(({ trial }) => trial % TURN === CHOOSES);
  const judging = rows.filter(({ trial }) => trial % TURN === JUDGES);
  const learnt = rows.filter((row) => !choosing.includes(row) && !judging.includes(row));
  const fits = new Map<string, OrthogonalFit | null>();
  const fitOf = (have: readonly Row[], full: boolean) => {
    const key = `${full} ${have.length === learnt.length ? 'all' : have.map(({ trial }) => trial).join()}`;
    if (!fits.has(key)) fits.set(key, fitOver(have, full));
    return fits.get(key)!;
  };
  const quadratics = start.quadratics.map((known, c) => {
    const first = scaled(known ?? nothing(start.tolerances.length), start.tolerances, tolerances, axes);
    const have = learnt.filter(({ values }) => values[c] !== null);
    const candidates = known ? [first] : [];
    for (const full of [false, true]) {
      if (have.length < ENOUGH * (full ? fullCount(axes.length) : diagonalCount(axes.length))) continue;
      const found = fitOf(have, full)?.solve(have.map(({ values, u }) => values[c]! - at(first, u)));
      if (found) candidates.push(sum(first, unfolded(found, axes.length, full)));
    }
    const misses = candidates.map((one) =>
      choosing.reduce((all, { values, u }) => all + (values[c] === null ? 0 : (values[c] - at(one, u)) ** 2), 0),
    );
    return candidates[misses.indexOf(Math.min(...misses))] ?? null;
  });
  const response: Response = {
    ...start,
    tolerances,
    quadratics: quadratics.map((one) => one && unscaled(one, axes)),
  };
  return {
    response,
    quality: start.compositions.map((composition, k) => {
      if (!isKnown(response, k)) return null;
      const both = judging.flatMap(({ values, u }) => {
        if (composition.of.some((c) => values[c] === null)) return [];
        const fitted = quadratics.map((one) => (one ? at(one, u) : NaN));
        return [{ direct: composed(composition, values as number[]), fitted: composed(composition, fitted) }];
      });
      const bends = bendsOf(
        composition.of.map((c) => quadratics[c]!),
        tolerances,
      );
      return both.length < 2 ? null : { ...errorOf(both), trials: both.length, bends };
    }),
    trials: trials.length,
    lost: trials.filter(({ values }) => values.includes(null)).length,
  };
}

/**
 * The full response of each measure to all tolerances together: by derivatives first, then trials spread over all ranges until the fit of
 * every measure is as good as wanted. Yields the share of the trials that are done, of those planned so far.
 *
 * Fails for tolerances that cannot be drawn, where the design cannot be compensated, or where the most trials are fewer than the fit has
 * numbers.
 */
export function* joint(
  study: StudyInput,
  { seed, wanted, most }: JointChoice,
): Generator<number, Outcome<Joint>, void> {
  const spread = spreadTolerances(study.tolerances);
  if (!spread.ok) return spread;
  const count = spread.value.length;
  let planned = firstTrials(count);
  if (planned > most) return failure(`${count} tolerances need at least ${planned} trials, ${most} are allowed.`);
  const start = responseByDerivatives(study);
  if (!start.ok) return start;
  const trials: JointTrial[] = [];
  for (;;) {
    const work = jointTrials(study, start.value, seed, trials.length, planned);
    let step = work.next();
    for (; !step.done; step = work.next()) {
      trials.push(step.value);
      yield trials.length / planned;
    }
    if (!step.value.ok) return step.value;
    const found = fitJoint(start.value, seed, trials);
    const next = nextTrials(count, planned);
    if (worstError(found) <= wanted || next > most) return success(found);
    planned = next;
  }
}

/** The largest error of those measures that are known at all. */
export function worstError({ quality }: Joint): number {
  return Math.max(0, ...quality.map((one) => one?.error ?? 0));
}

function errorOf(
  both: readonly { readonly direct: number; readonly fitted: number }[],
): Pick<FitQuality, 'error' | 'verdict'> {
  const mean = both.reduce((all, { direct }) => all + direct, 0) / both.length;
  const spread = both.reduce((all, { direct }) => all + (direct - mean) ** 2, 0);
  const misses = both.reduce((all, { direct, fitted }) => all + (direct - fitted) ** 2, 0);
  // What never changes is fitted well.
  const still = Math.sqrt(misses) <= 1e-12 * Math.abs(mean) * Math.sqrt(both.length);
  const error = still ? 0 : Math.sqrt(misses / spread);
  return { error, verdict: error <= GOOD ? 'good' : error <= DOUBTFUL ? 'doubtful' : 'unusable' };
}

/** Tolerances by the largest share of their curvature in what they do, in any component. */
function bendsOf(components: readonly QuadraticResponse[], tolerances: readonly Tolerance[]): string[] {
  const bend = tolerances.map((_, i) => Math.max(...components.map(({ curvatures }) => Math.abs(curvatures[i][i]))));
  return [...bend.keys()]
    .filter((i) => bend[i] > 0)
    .sort((a, b) => bend[b] - bend[a])
    .slice(0, NAMED)
    .map((i) => tolerances[i].id);
}

const nothing = (n: number): QuadraticResponse => ({
  value: 0,
  slopes: new Array<number>(n).fill(0),
  curvatures: Array.from({ length: n }, () => new Array<number>(n).fill(0)),
});

const at = ({ value, slopes, curvatures }: QuadraticResponse, u: ArrayLike<number>): number =>
  slopes.reduce((all, slope, i) => all + u[i] * curvatures[i].reduce((row, q, j) => row + q * u[j], slope), value);

/** Polynomials that are orthogonal over the cube: 1, u, u² − 1/3, and products of two where `full`. */
function fitOver(rows: readonly Row[], full: boolean): OrthogonalFit | null {
  const [m, n] = [rows.length, rows[0]?.u.length ?? 0];
  const columns = full ? fullCount(n) : diagonalCount(n);
  const table = new Float64Array(columns * m).fill(1, 0, m);
  let next = m;
  const add = (of: (u: Float64Array) => number) => rows.forEach(({ u }) => (table[next++] = of(u)));
  for (let i = 0; i < n; i++) add((u) => u[i]);
  for (let i = 0; i < n; i++) add((u) => u[i] * u[i] - 1 / 3);
  if (full) for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) add((u) => u[i] * u[j]);
  return m < columns ? null : OrthogonalFit.over(table, new Float64Array(m).fill(1));
}

/** What the coefficients of `fitOver` stand for. */
function unfolded(found: Float64Array, n: number, full: boolean): QuadraticResponse {
  const curvatures = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  for (let i = 0; i < n; i++) curvatures[i][i] = found[1 + n + i];
  let next = 1 + 2 * n;
  if (full)
    for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) curvatures[i][j] = curvatures[j][i] = found[next++] / 2;
  const value = curvatures.reduce((all, row, i) => all - row[i] / 3, found[0]);
  return { value, slopes: [...found.subarray(1, 1 + n)], curvatures };
}

const sum = (a: QuadraticResponse, b: QuadraticResponse): QuadraticResponse => ({
  value: a.value + b.value,
  slopes: a.slopes.map((slope, i) => slope + b.slopes[i]),
  curvatures: a.curvatures.map((row, i) => row.map((q, j) => q + b.curvatures[i][j])),
});

/** A response in departures of all tolerances, in the cube of those that have a range: x = middle + half·u. */
function scaled(
  { value, slopes, curvatures }: QuadraticResponse,
  all: readonly Tolerance[],
  some: readonly Tolerance[],
  axes: readonly Axis[],
): QuadraticResponse {
  const from = some.map((one) => all.indexOf(one));
  const middles = axes.map(({ middle }) => middle);
  const turned = from.map((i) => from.reduce((row, j, k) => row + curvatures[i][j] * middles[k], 0));
  return {
    value: from.reduce((total, i, k) => total + middles[k] * (slopes[i] + turned[k]), value),
    slopes: from.map((i, k) => axes[k].half * (slopes[i] + 2 * turned[k])),
    curvatures: from.map((i, k) => from.map((j, l) => axes[k].half * axes[l].half * curvatures[i][j])),
  };
}

/** The response in departures, x = middle + half·u. */
function unscaled({ value, slopes, curvatures }: QuadraticResponse, axes: readonly Axis[]): QuadraticResponse {
  const matrix = curvatures.map((row, i) => row.map((q, j) => q / (axes[i].half * axes[j].half)));
  const linear = slopes.map((slope, i) => slope / axes[i].half);
  // y = c + g·(x − m) + (x − m)ᵀQ(x − m).
  const turned = matrix.map((row) => row.reduce((total, q, j) => total + q * axes[j].middle, 0));
  return {
    value: axes.reduce((total, { middle }, i) => total - middle * (linear[i] - turned[i]), value),
    slopes: linear.map((g, i) => g - 2 * turned[i]),
    curvatures: matrix,
  };
}
