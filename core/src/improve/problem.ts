import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { SampledSquares } from '../math/evolution.ts';
import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { evaluateMeasure, findMeasure, isOfScene } from '../measures/registry.ts';
import { countingGoals, type Goal, type ImageGoal, type MeasureGoal } from '../project/improve.ts';
import type { Project } from '../project/model.ts';
import { versionOf } from '../relations/version.ts';
import { hasRelations } from '../relations/broken.ts';
import { chainOf, type Chain } from './chain.ts';
import { eachField } from './each-field.ts';
import { goalScale, makingScale, sidesOf } from './goal-scale.ts';
import { freeNumbers, NumberWriter, type FreeNumber } from './free-numbers.ts';
import { exactDerivatives } from './exact-measures.ts';
import { imageRows } from './image-goal.ts';
import type { ImageRows } from './image-rows.ts';
import { makingRows } from './making-limits.ts';
import { layOut, rimRaysOf, type Layout, type LimitBlock, type Placed, type RowBlock } from './rows-layout.ts';

/** A version of the project that a run looks at, with everything that is computed of it. */
interface Version {
  readonly x: Float64Array;
  readonly project: Project;
  readonly evaluation: Evaluation;
  readonly values: Float64Array;
  /** Standard errors of the values; 0 for those that are exact. */
  readonly errors: Float64Array;
}

/** Derivatives at a place. */
export interface ColumnWork {
  /** By free number, with what is exact. */
  readonly columns: Float64Array[];
  /** Whether anything is to be had by differences. */
  readonly open: boolean;
  /** Puts differences into the columns of those numbers that are chosen by their place. */
  differ(which: (v: number) => boolean): void;
}

/**
 * The goals and limits of a project as functions of its free numbers, for solvers: rows whose squares sum to the square of the merit.
 * Derivatives of rays are exact, through links, conditions and states by the chain rule; those of measures and making-limits are
 * differences.
 */
export class MeritProblem implements SampledSquares {
  readonly project: Project;
  readonly numbers: readonly FreeNumber[];
  readonly lower: Float64Array;
  readonly upper: Float64Array;
  readonly blocks: readonly RowBlock[];
  readonly oneSided: readonly number[];
  readonly start: Float64Array;
  readonly spread: Float64Array;
  /** Whether a goal is sampled by rays at random: differences between near places say nothing then. */
  readonly sampled: boolean;
  readonly #count: number;
  readonly #writer: NumberWriter;
  readonly #evaluate: FormulaEvaluator | null;
  readonly #goals: readonly Placed[];
  readonly #limits: readonly LimitBlock[];
  #latest: Version | null = null;
  #columns: { readonly x: Float64Array; readonly columns: Float64Array[] } | null = null;
  readonly #chains = new Map<string, Chain>();

  private constructor(
    project: Project,
    numbers: readonly FreeNumber[],
    evaluate: FormulaEvaluator | null,
    goals: readonly Placed[],
    layout: Layout,
  ) {
    this.project = project;
    this.numbers = numbers;
    this.#evaluate = evaluate;
    this.#goals = goals;
    this.#limits = layout.limits;
    this.blocks = layout.blocks;
    this.oneSided = layout.oneSided;
    this.#count = layout.count;
    this.#writer = new NumberWriter(project, numbers);
    this.start = Float64Array.from(numbers, ({ start }) => start);
    this.spread = Float64Array.from(numbers, ({ spread }) => spread);
    this.sampled = goals.some(({ goal }) => isSampled(goal));
    this.lower = Float64Array.from(numbers, ({ lower }) => lower);
    this.upper = Float64Array.from(numbers, ({ upper }) => upper);
  }

  /**
   * Fails, saying what to do, where nothing is free, nothing is wanted, or a goal has no value at the start.
   *
   * @param evaluate - of `formulaEvaluator`; needed where numbers follow from others
   */
  static of(project: Project, evaluate: FormulaEvaluator | null): Outcome<MeritProblem> {
    const numbers = freeNumbers(project);
    if (numbers.length === 0)
      return failure('No number is free: choose numbers and press Shift F7, or make all radii free.');
    const wanted = countingGoals(project.goals, project.goalGroups).filter(({ off, weight }) => !off && weight > 0);
    if (wanted.length === 0) return failure('There are no goals: add one, such as image quality, with a weight.');
    const states = (project.states ?? []).map(({ id }) => id);
    const evaluation = new Evaluation(project);
    const goals = wanted.flatMap((goal): Placed[] =>
      (goal.state === 'every' ? ['designed', ...states] : [goal.state ?? 'designed']).flatMap((state) => {
        const seen = goal.kind === 'measure' ? evaluation.inState(state) : null;
        const parts = goal.kind === 'measure' && seen?.ok ? eachField(seen.value, goal) : [goal];
        return parts.map((part) => ({ goal: part, state }));
      }),
    );
    if (hasRelations(project) && !evaluate) return failure('Formulas are not loaded.');
    const layout = layOut(project, goals);
    if (!layout.ok) return layout;
    return success(new MeritProblem(project, numbers, hasRelations(project) ? evaluate : null, goals, layout.value));
  }

  get size(): number {
    return this.numbers.length;
  }

  /** The project with the numbers that solvers say, and all that follows from them. */
  projectAt(x: ArrayLike<number>): Project | null {
    const edits = this.#writer.edits(this.project, x);
    const version = edits.ok ? versionOf(this.project, { edits: edits.value, evaluate: this.#evaluate }) : edits;
    return version.ok ? version.value : null;
  }

  values(x: Float64Array): Float64Array | null {
    const project = this.projectAt(x);
    if (!project) return null;
    const evaluation = new Evaluation(project);
    const errors = new Float64Array(this.#count);
    const values = this.#rows(evaluation, errors);
    if (!values) return null;
    this.#latest = { x: x.slice(), project, evaluation, values, errors };
    return values;
  }

  errors(x: Float64Array): Float64Array {
    return this.#at(x).errors;
  }

  /** All rows of a version; null where a goal has no value. */
  #rows(evaluation: Evaluation, errors?: Float64Array): Float64Array | null {
    const values = new Float64Array(this.#count);
    for (const [k, { goal, state }] of this.#goals.entries()) {
      const { from } = this.blocks[k];
      const seen = evaluation.inState(state);
      if (!seen.ok) return null;
      if (goal.kind === 'image_quality') {
        const rows = imageRowsOf(seen.value, goal, this.blocks[k].count);
        if (!rows?.values(values, from)) return null;
        scale(values, from, this.blocks[k].count, Math.sqrt(goal.weight));
      } else if (!measureRows(seen.value, goal, values, from, errors)) return null;
    }
    let at = this.#count - this.#limits.reduce((sum, { rows }) => sum + rows, 0);
    for (const { lens, state, rows } of this.#limits) {
      const seen = evaluation.inState(state);
      const found = seen.ok ? seen.value.lens(lens) : seen;
      if (!found.ok) return null;
      const rim = rimRaysOf(found.value);
      if (!rim) return null;
      const made = makingRows(found.value.model, rim, this.project.making);
      if (made.length !== rows) return null;
      for (const row of made) values[at++] = row.over / makingScale(row);
    }
    return values;
  }

  columns(x: Float64Array): Float64Array[] {
    const known = this.#columns;
    if (known && known.x.every((value, k) => value === x[k])) return known.columns;
    const work = this.columnWork(x);
    work.differ(() => true);
    return work.columns;
  }

  /** Columns at a place that come from elsewhere, so that they are not computed once more when they are asked for next. */
  keepColumns(x: Float64Array, columns: Float64Array[]): void {
    this.#columns = { x, columns };
  }

  /** Columns at a place: those derivatives that are exact, and how to get at the others, which can be done elsewhere, number by number. */
  columnWork(x: Float64Array): ColumnWork {
    const version = this.#at(x);
    this.#chains.clear();
    const columns = this.numbers.map(() => new Float64Array(this.#count));
    const rest = new Set<number>(); // numbers whose images are known by differences alone
    const exact = new Set<RowBlock>(); // measures whose derivatives are known
    for (const [k, { goal, state }] of this.#goals.entries()) {
      if (goal.kind === 'image_quality') this.#imageColumns(version, goal, state, this.blocks[k], columns, rest);
      else if (this.#measureColumns(version, goal, state, this.blocks[k], columns)) exact.add(this.blocks[k]);
    }
    const open =
      rest.size > 0 || this.blocks.some((block) => block.goal?.kind !== 'image_quality' && !exact.has(block));
    return { columns, open, differ: (which) => open && this.#differences(version, columns, rest, exact, which) };
  }

  #at(x: Float64Array): Version {
    const known = this.#latest;
    if (known && known.x.every((value, k) => value === x[k])) return known;
    this.values(x);
    return this.#latest!;
  }

  /** The values at a place that has some, without computing them anew where it was the last to be looked at. */
  valuesAt(x: Float64Array): Float64Array {
    return this.#at(x).values;
  }

  /** Exact derivatives of an image goal, where they are to be had. */
  #imageColumns(
    version: Version,
    goal: ImageGoal,
    state: string,
    { from, count }: RowBlock,
    columns: readonly Float64Array[],
    rest: Set<number>,
  ): void {
    const seen = version.evaluation.inState(state);
    const lens = seen.ok ? seen.value.lens(goal.of) : seen;
    if (!seen.ok || !lens.ok) return;
    const chain = this.#chainOf(version, state, seen.value.project, lens.value);
    const rows = imageRowsOf(seen.value, goal, count)!;
    const exact = rows.columns(chain.variables);
    const root = Math.sqrt(goal.weight);
    if (!exact) {
      this.numbers.forEach((_, v) => rest.add(v));
      return;
    }
    chain.by.forEach((parts, v) => {
      if (!parts) {
        rest.add(v);
        return;
      }
      const column = columns[v];
      for (const [variable, share] of parts)
        for (let i = 0; i < count; i++) column[from + i] += root * share * exact[variable][i];
    });
  }

  /** Exact derivatives of a measure; false where they are not to be had. */
  #measureColumns(
    version: Version,
    goal: MeasureGoal,
    state: string,
    { from, count }: RowBlock,
    columns: readonly Float64Array[],
  ): boolean {
    const seen = version.evaluation.inState(state);
    const lens = seen.ok ? seen.value.lens(goal.of) : seen;
    if (!seen.ok || !lens.ok) return false;
    const chain = this.#chainOf(version, state, seen.value.project, lens.value);
    if (chain.by.includes(null)) return false;
    const exact = exactDerivatives(lens.value, goal, chain.variables);
    if (!exact) return false;
    const unit = findMeasure(goal.measure)!.unit;
    const sides = sidesOf(goal);
    const roots = sides.map(
      (side) => (Math.sqrt(goal.weight) / goalScale(unit, goal, side)) * (side === 'min' ? -1 : 1),
    );
    chain.by.forEach((parts, v) => {
      let slope = 0;
      for (const [variable, share] of parts!) slope += share * exact[variable];
      for (let i = 0; i < count; i++) columns[v][from + i] = roots[i] * slope;
    });
    return true;
  }

  /** The chain of a lens in a state, made once for all goals about it. */
  #chainOf(version: Version, state: string, seen: Project, lens: LensEvaluation): Chain {
    const key = `${lens.model.lens.id} ${state}`;
    let chain = this.#chains.get(key);
    if (!chain) {
      const moved = (v: number) => this.projectAt(version.x.with(v, version.x[v] + this.numbers[v].small));
      chain = chainOf({
        numbers: this.numbers,
        state,
        project: version.project,
        seen,
        lens,
        moved: this.#evaluate ? moved : null,
      });
      this.#chains.set(key, chain);
    }
    return chain;
  }

  /** Columns of measures and making-limits, and of images by the numbers in `rest`, by differences. */
  #differences(
    version: Version,
    columns: readonly Float64Array[],
    rest: ReadonlySet<number>,
    exact: ReadonlySet<RowBlock>,
    which: (v: number) => boolean,
  ): void {
    for (const [v, { small: tiny, spread }] of this.numbers.entries()) {
      if (!which(v)) continue;
      // Sampled values change in steps, ray by ray.
      const small = this.sampled ? spread / 50 : tiny;
      const way = version.x[v] + small > this.upper[v] ? -small : small;
      const moved = this.projectAt(version.x.with(v, version.x[v] + way));
      const there =
        moved &&
        (rest.has(v) ? this.#rows(new Evaluation(moved)) : this.#measuredRows(new Evaluation(moved), version, exact));
      if (!there) continue;
      for (const block of this.blocks) {
        const { goal, from, count } = block;
        if ((goal?.kind === 'image_quality' && !rest.has(v)) || exact.has(block)) continue;
        for (let i = from; i < from + count; i++) {
          const change = there[i] - version.values[i];
          // What rays at random cannot tell is no slope.
          columns[v][i] = Math.abs(change) > 3 * version.errors[i] ? change / way : 0;
        }
      }
    }
  }

  /** Rows but for those of images, with rays at the rim where they were: how far out they pass changes little with a small step. */
  #measuredRows(evaluation: Evaluation, version: Version, exact: ReadonlySet<RowBlock>): Float64Array | null {
    const values = version.values.slice();
    for (const [k, { goal, state }] of this.#goals.entries()) {
      if (goal.kind === 'image_quality' || exact.has(this.blocks[k])) continue;
      const seen = evaluation.inState(state);
      if (!seen.ok || !measureRows(seen.value, goal, values, this.blocks[k].from)) return null;
    }
    let at = this.#count - this.#limits.reduce((sum, { rows }) => sum + rows, 0);
    for (const { lens, state, rows } of this.#limits) {
      const [before, there] = [version.evaluation, evaluation].map((one) => {
        const seen = one.inState(state);
        const found = seen.ok ? seen.value.lens(lens) : seen;
        return found.ok ? found.value : null;
      });
      const rim = before && rimRaysOf(before);
      if (!there || !rim) return null;
      const made = makingRows(there.model, rim, this.project.making);
      if (made.length !== rows) return null;
      for (const row of made) values[at++] = row.over / makingScale(row);
    }
    return values;
  }
}

/** Whether a goal is sampled by rays at random: it has no slopes. */
export function isSampled(goal: Goal): boolean {
  const measure = goal.kind === 'measure' ? findMeasure(goal.measure) : undefined;
  return measure !== undefined && isOfScene(measure);
}

function measureRows(
  evaluation: Evaluation,
  goal: MeasureGoal,
  out: Float64Array,
  at: number,
  errors?: Float64Array,
): boolean {
  const measured = evaluateMeasure(evaluation, {
    measure: goal.measure,
    lens: goal.of,
    settings: goal.settings,
  });
  if (!measured.ok) return false;
  const { value, unit = findMeasure(goal.measure)!.unit, standardError = 0 } = measured.value;
  sidesOf(goal).forEach((side, k) => {
    const wanted = goal[side]!;
    const root = Math.sqrt(goal.weight) / goalScale(unit, goal, side);
    out[at + k] = root * (side === 'min' ? wanted - value : value - wanted);
    if (errors) errors[at + k] = root * standardError;
  });
  return true;
}

/** The rows of an image goal; null where it has none, or other ones than the run began with. */
function imageRowsOf(evaluation: Evaluation, goal: ImageGoal, count: number): ImageRows | null {
  const lens = evaluation.lens(goal.of);
  const rows = lens.ok ? imageRows(goal, lens.value) : null;
  return rows?.ok && rows.value.count === count ? rows.value : null;
}

function scale(values: Float64Array, from: number, count: number, by: number): void {
  if (by !== 1) for (let i = from; i < from + count; i++) values[i] *= by;
}
