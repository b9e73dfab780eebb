import { Matrix, SingularValueDecomposition } from 'ml-matrix';
import { dampedLeastSquares } from '../math/damped-least-squares.ts';
import type { FormulaEvaluator } from '../math/formula.ts';
import { success, type Outcome } from '../math/outcome.ts';
import { dampedStep, reachableSquare, residualSquare, triangleOf } from '../math/triangle.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { Project } from '../project/model.ts';
import { listParameters } from '../project/parameters.ts';
import { unseen } from './free-numbers.ts';
import { makingRows, rimRays } from './making-limits.ts';
import { contributionsOf, type Contribution } from './polish.ts';
import { MeritProblem } from './problem.ts';

/** A number that a run ended on the bound of, pushed against it. */
export interface AtBound {
  readonly address: string;
  readonly value: number;
  readonly side: 'lower' | 'upper';
}

/** Two goals whose slopes point against each other: what makes the one smaller makes the other larger. */
export interface Conflict {
  readonly goals: readonly [string, string];
  /** Cosine between the slopes, in the scale of the solver: −1 straight against each other. */
  readonly cosine: number;
}

/** Free numbers that do nearly the same together: turning them by these shares changes next to nothing. */
export interface Dependent {
  readonly numbers: readonly { readonly address: string; readonly share: number }[];
  /** How much less they change than what changes most. */
  readonly ratio: number;
}

/** Something that was tried and helped. */
export interface Suggestion {
  readonly address: string;
  /** What a trial run of a few steps made of the merit, as a share of it: −0.31 for 31 % less. */
  readonly gain: number;
}

/** Why a polish cannot go on, from the derivatives where it ended. */
export interface Diagnosis {
  readonly merit: number;
  /** Largest first, with how much of each its own goal alone could still take away by the free numbers: 0 for what none can move. */
  readonly contributions: readonly (Contribution & { readonly movable: number })[];
  readonly conflicts: readonly Conflict[];
  readonly dependent: readonly Dependent[];
  readonly atBounds: readonly AtBound[];
  /** Titles of making-limits that are reached. */
  readonly limits: readonly string[];
  readonly suggestions: readonly Suggestion[];
}

/** Slopes that are nearly straight against each other, of goals that matter. */
const AGAINST = -0.8;
const MATTERS = 0.02;
/** Singular values below this share of the largest are directions in which nothing happens. */
const DEPENDENT = 1e-3;
/** Numbers that are tried, and evaluations that each trial may take. */
const TRIALS = 4;
const TRIAL_EVALUATIONS = 25;
const WORTH_TELLING = 0.02;

/** Looks at a project where a run has ended. Yields between the trials of suggestions. Fails where there is no merit. */
export function* diagnose(
  project: Project,
  evaluate: FormulaEvaluator | null,
): Generator<void, Outcome<Diagnosis>, void> {
  const made = MeritProblem.of(project, evaluate);
  if (!made.ok) return made;
  const problem = made.value;
  const values = problem.values(problem.start)!;
  const columns = activeColumns(problem, values, problem.columns(problem.start));
  const parts = contributionsOf(problem, values);
  const total = parts.reduce((sum, { square }) => sum + square, 0);
  const counted = counting(problem, values);
  const contributions = parts
    .map((part, k) => ({ ...part, movable: movable(problem, k, columns, counted, part.square) }))
    .sort((a, b) => b.square - a.square);
  const diagnosis = {
    merit: Math.sqrt(total),
    contributions,
    conflicts: conflictsOf(problem, parts, columns, counted, total),
    dependent: dependentOf(problem, columns),
    atBounds: boundsOf(problem, columns, counted),
    limits: limitsReached(project),
  };
  yield;
  const suggestions: Suggestion[] = [];
  for (const address of candidates(project, evaluate, columns, values)) {
    const gain = tried(project, evaluate, address, Math.sqrt(total));
    if (gain < -WORTH_TELLING) suggestions.push({ address, gain });
    yield;
  }
  return success({ ...diagnosis, suggestions: suggestions.sort((a, b) => a.gain - b.gain) });
}

/** Values with those limits at 0 that are kept. */
function counting(problem: MeritProblem, values: Float64Array): Float64Array {
  const counted = values.slice();
  for (const i of problem.oneSided) if (counted[i] < 0) counted[i] = 0;
  return counted;
}

/** Columns in which limits that are kept have no slope. */
function activeColumns(
  { oneSided }: MeritProblem,
  values: Float64Array,
  columns: readonly Float64Array[],
): Float64Array[] {
  return columns.map((column) => {
    const active = column.slice();
    for (const i of oneSided) if (values[i] <= 0) active[i] = 0;
    return active;
  });
}

/** Which share of a goal's square the free numbers could take away if it were the only goal, by the derivatives. */
function movable(
  problem: MeritProblem,
  block: number,
  columns: readonly Float64Array[],
  counted: Float64Array,
  square: number,
): number {
  if (square === 0) return 1;
  const { from, count } = problem.blocks[block];
  const own = counted.slice(from, from + count);
  const rows = columns.map((column) => column.slice(from, from + count));
  if (count < columns.length) {
    // Fewer rows than numbers: whatever has a slope can be moved.
    return rows.some((column) => column.some((value, i) => value !== 0 && own[i] !== 0)) ? 1 : 0;
  }
  const triangle = triangleOf(rows, own);
  const step = dampedStep(triangle, new Float64Array(columns.length).fill(1), 0);
  const none = residualSquare(triangle, new Float64Array(columns.length));
  return Math.max(0, Math.min(1, (none - residualSquare(triangle, step)) / square));
}

/** Slopes of each goal's square, each number in the scale of its column. */
function slopesOf(
  problem: MeritProblem,
  block: number,
  columns: readonly Float64Array[],
  counted: Float64Array,
): Float64Array {
  const { from, count } = problem.blocks[block];
  return Float64Array.from(columns, (column) => {
    let [slope, size] = [0, 0];
    for (let i = from; i < from + count; i++) slope += column[i] * counted[i];
    for (const value of column) size += value * value;
    return slope / (Math.sqrt(size) || 1);
  });
}

function conflictsOf(
  problem: MeritProblem,
  parts: readonly Contribution[],
  columns: readonly Float64Array[],
  counted: Float64Array,
  total: number,
): Conflict[] {
  const slopes = parts.map((_, k) => slopesOf(problem, k, columns, counted));
  const conflicts: Conflict[] = [];
  for (let a = 0; a < parts.length; a++)
    for (let b = a + 1; b < parts.length; b++) {
      // What matters is how hard they pull, not how far they are off: a goal held to its target pulls as hard as what it holds against.
      const [one, other] = [slopes[a], slopes[b]].map((slope) => Math.hypot(...slope));
      if (Math.min(one, other) < MATTERS * Math.max(one, other) || Math.max(one, other) < 1e-9 * Math.sqrt(total))
        continue;
      const cosine = slopes[a].reduce((sum, value, k) => sum + value * slopes[b][k], 0) / (one * other);
      if (cosine < AGAINST) conflicts.push({ goals: [parts[a].title, parts[b].title], cosine });
    }
  return conflicts.sort((a, b) => a.cosine - b.cosine).slice(0, 4);
}

/** Directions in the space of free numbers in which next to nothing changes. */
function dependentOf(problem: MeritProblem, columns: readonly Float64Array[]): Dependent[] {
  const sizes = columns.map((column) => Math.sqrt(column.reduce((sum, value) => sum + value * value, 0)));
  const live = columns.flatMap((_, j) => (sizes[j] > 0 ? [j] : []));
  if (live.length < 2) return [];
  const { r, n } = triangleOf(
    live.map((j) => columns[j].map((value) => value / sizes[j])),
    new Float64Array(columns[0].length),
  );
  const matrix = Matrix.zeros(n, n);
  for (let j = 0; j < n; j++) for (let i = 0; i <= j; i++) matrix.set(i, j, r[n * j + i]);
  const svd = new SingularValueDecomposition(matrix, { autoTranspose: false });
  const largest = Math.max(...svd.diagonal);
  const found: Dependent[] = [];
  svd.diagonal.forEach((value, k) => {
    if (value > DEPENDENT * largest) return;
    const shares = live.map((j, i) => ({
      address: problem.numbers[j].address,
      share: svd.rightSingularVectors.get(i, k),
    }));
    const numbers = shares
      .filter(({ share }) => Math.abs(share) > 0.3)
      .sort((a, b) => Math.abs(b.share) - Math.abs(a.share));
    if (numbers.length > 1) found.push({ numbers, ratio: value / largest });
  });
  return found.sort((a, b) => a.ratio - b.ratio).slice(0, 3);
}

function boundsOf(problem: MeritProblem, columns: readonly Float64Array[], counted: Float64Array): AtBound[] {
  return problem.numbers.flatMap(({ address, spec, lower, upper, start }, j): AtBound[] => {
    const slope = columns[j].reduce((sum, value, i) => sum + value * counted[i], 0);
    // As solvers see it: the bounds of a curvature are those of a radius the other way round.
    if (start <= lower && slope > 0)
      return [{ address, value: unseen(spec, start), side: spec.transform === 'reciprocal' ? 'upper' : 'lower' }];
    if (start >= upper && slope < 0)
      return [{ address, value: unseen(spec, start), side: spec.transform === 'reciprocal' ? 'lower' : 'upper' }];
    return [];
  });
}

/** Making-limits that are within a hundredth of a millimetre or a tenth of a degree of what is allowed, or beyond. */
function limitsReached(project: Project): string[] {
  if (project.making?.off) return [];
  const evaluation = new Evaluation(project);
  return project.lenses.flatMap(({ id }) => {
    const lens = evaluation.lens(id);
    const rim = lens.ok ? rimRays(lens.value) : null;
    if (!lens.ok || !rim) return [];
    const rows = makingRows(lens.value.model, rim, project.making);
    return rows
      .filter(({ over, unit }) => over > (unit === '°' ? -0.1 : -0.01))
      .map(
        ({ title, value, unit }) =>
          `${title} ${Number(value.toPrecision(4))}${unit === '°' ? '°' : unit === '' ? '' : ` ${unit}`}`,
      );
  });
}

/** Fixed numbers of the lenses that goals are about, those first of which the derivatives promise most. */
function candidates(
  project: Project,
  evaluate: FormulaEvaluator | null,
  columns: readonly Float64Array[],
  values: Float64Array,
): string[] {
  const lenses = new Set((project.goals ?? []).map(({ of }) => of));
  const fixed = listParameters(project).filter(({ address, spec, value }) => {
    const [root, lens, list, surface] = address.split('.');
    if (root !== 'lenses' || list !== 'surfaces' || !lenses.has(lens) || project.parameters?.[address]) return false;
    const last = project.lenses.find(({ id }) => id === lens)!.surfaces.at(-1)!.id;
    return (
      surface !== last &&
      (spec.id === 'thickness' || (spec.id === 'radius' && Number.isFinite(value)) || spec.id === 'conic')
    );
  });
  if (fixed.length === 0) return [];
  const states = Object.fromEntries(fixed.map(({ address }) => [address, { kind: 'free' } as const]));
  const made = MeritProblem.of({ ...project, parameters: states }, evaluate);
  if (!made.ok) return [];
  const counted = counting(made.value, values);
  const more = activeColumns(made.value, values, made.value.columns(made.value.start));
  const promised = fixed.map(({ address }, k) => ({
    address,
    gain: reachableSquare(triangleOf([...columns, more[k]], counted)),
  }));
  return promised
    .sort((a, b) => b.gain - a.gain)
    .slice(0, TRIALS)
    .map(({ address }) => address);
}

/** What freeing one more number makes of the merit in a short run, as a share of it. */
function tried(project: Project, evaluate: FormulaEvaluator | null, address: string, merit: number): number {
  const made = MeritProblem.of(
    { ...project, parameters: { ...project.parameters, [address]: { kind: 'free' } } },
    evaluate,
  );
  if (!made.ok) return 0;
  const run = dampedLeastSquares(made.value, made.value.start, {
    evaluations: TRIAL_EVALUATIONS,
    gain: 1e-5,
  });
  for (;;) {
    const step = run.next();
    if (step.done) return Math.sqrt(step.value.square) / merit - 1;
  }
}
