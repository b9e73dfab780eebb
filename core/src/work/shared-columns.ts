import type { JobContext } from '../compute/protocol.ts';
import { formulaEvaluator } from '../math/formula.ts';
import { MeritProblem } from '../improve/problem.ts';
import type { Project } from '../project/model.ts';
import { hasRelations } from '../relations/broken.ts';

/** Which of the free numbers of a project are to be differed, at a place. */
export interface ColumnsInput {
  /** The same for all places of one run. */
  readonly run: string;
  readonly project: Project;
  readonly x: Float64Array;
  /** Every `of`-th number, from `part` on. */
  readonly part: number;
  readonly of: number;
}

/** Columns of some numbers, by their places. */
export type ColumnsPart = readonly (readonly [v: number, column: Float64Array])[];

/** The run that this worker helped last: making a problem ready takes as long as looking at it. */
let known: { readonly run: string; readonly problem: MeritProblem } | null = null;

/** Columns of some numbers; null where the project is none that can be polished. */
export async function columnsPart({ run, project, x, part, of }: ColumnsInput): Promise<ColumnsPart | null> {
  if (known?.run !== run) {
    const made = MeritProblem.of(project, hasRelations(project) ? await formulaEvaluator() : null);
    if (!made.ok) return null;
    known = { run, problem: made.value };
  }
  if (!known.problem.valuesAt(x)) return null;
  const work = known.problem.columnWork(x);
  const own = (v: number) => v % of === part;
  work.differ(own);
  return work.columns.flatMap((column, v) => (own(v) ? [[v, column] as const] : []));
}

/** Steps that take less than this, ms, are not worth being shared. */
const WORTH = 60;
/** Parts into which numbers are cut; rounds without asking after none was taken. */
const PARTS = 4;
const QUIET = 6;

let runs = 0;

/** Shares the differences of a polish among the workers that have nothing to do. */
export class SharedColumns {
  readonly #problem: MeritProblem;
  readonly #context: JobContext<never>;
  readonly #run = `${Date.now()} ${Math.random()} ${++runs}`;
  #quiet = 0;
  /** Parts that others have done. */
  helped = 0;

  constructor(problem: MeritProblem, context: JobContext<never>) {
    this.#problem = problem;
    this.#context = context;
  }

  /** Computes the columns at the place from which a solver goes on, if its last step took `took` ms and others can help. */
  async ahead(x: Float64Array, took: number): Promise<void> {
    if (took < WORTH || this.#quiet-- > 0 || this.#problem.size < 2) return;
    const work = this.#problem.columnWork(x);
    if (!work.open) return;
    const of = Math.min(PARTS, this.#problem.size);
    const others = Array.from({ length: of - 1 }, (_, k) => k + 1);
    // Others begin while this worker does its own part.
    const answers = others.map((part) =>
      this.#context.help('columns', {
        run: this.#run,
        project: this.#problem.project,
        x,
        part,
        of,
      } satisfies ColumnsInput),
    );
    work.differ((v) => v % of === 0);
    const done = (await Promise.all(answers)) as (ColumnsPart | null)[];
    for (const one of done) for (const [v, column] of one ?? []) work.columns[v] = column;
    const left = new Set(others.filter((_, k) => done[k] === null));
    if (left.size > 0) work.differ((v) => left.has(v % of));
    this.helped += others.length - left.size;
    this.#quiet = left.size === others.length ? QUIET : 0;
    this.#problem.keepColumns(x, work.columns);
  }
}
