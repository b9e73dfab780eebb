import type { MeshRecord } from '../bodies/mesh-record.ts';
import { readMeshFile } from '../formats/mesh-file.ts';
import { ask, type AskAnswer } from '../ask/ask.ts';
import { CHUNK, drive, EVERY_STEP } from '../compute/drive.ts';
import type { JobContext } from '../compute/protocol.ts';
import { readSagGrid } from '../formats/sag-grid.ts';
import type { Grid } from '../math/spline2d.ts';
import { readMaterialTable } from '../formats/material-table.ts';
import { apertureAs, fieldsAs } from '../imaging/field/convert-choice.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { refocus, type FocusCriterion, type Refocus } from '../imaging/point/refocus.ts';
import type { Material } from '../materials/material.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Measured } from '../measures/measure.ts';
import { evaluateMeasure, findMeasure, type MeasureRequest } from '../measures/registry.ts';
import { scanPoint, scanSize, type ScanAxis, type ScanRow } from '../measures/scan.ts';
import { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
import type { Edit } from '../project/edit.ts';
import { brokenWords, hasRelations, type Settled } from '../relations/broken.ts';
import { changeState } from '../relations/change-state.ts';
import { settle } from '../relations/settle.ts';
import { versionOf } from '../relations/version.ts';
import { operate, type Operated } from '../operations/operation.ts';
import { findOperation } from '../operations/registry.ts';
import { fitPlates, type PlateFit } from '../improve/test-plates.ts';
import { readPlateList } from '../formats/plate-list.ts';
import type { TestPlate } from '../project/improve.ts';
import { diagnose, type Diagnosis } from '../improve/diagnosis.ts';
import { tryMoves, type MoveOptions, type MovesState } from '../improve/moves.ts';
import { MeritProblem } from '../improve/problem.ts';
import { search, type SearchOptions, type SearchState } from '../improve/search.ts';
import {
  polishProblem,
  warnings,
  type PolishOptions,
  type Polished,
  type PolishEnd,
  type Warning,
} from '../improve/polish.ts';
import type { FieldSet, ParameterState, Project, SystemAperture } from '../project/model.ts';
import { readProjectText, type ReadResult } from '../project/read.ts';
import type { SceneModel } from '../scene/scene-model.ts';
import { BATCH, chunksOf, noTally, tracerOf } from '../scene/run.ts';
import type { SceneReport } from '../scene/report.ts';
import type { Tally } from '../scene/tally.ts';
import { readBackup } from './backup.ts';
import { checkProject, type ProjectCheck } from './check.ts';
import { readCheckRequest, readMeasuresRequest, readScanRequest, readTraceRequest } from './requests.ts';
import { TOLERANCE_JOBS } from './tolerance-jobs.ts';
import { traceReport, traceTask, type TraceProgress } from './trace-report.ts';
import { columnsPart, SharedColumns, type ColumnsInput } from './shared-columns.ts';
import { answerSteps, type Answer, type Query } from './queries.ts';

/** A project version and what is asked of it, by keys of the asker's choice, the most urgent first. */
export interface EvaluateInput {
  readonly project: Project;
  readonly queries: readonly {
    readonly key: string;
    readonly query: Query;
    /** Whether the answers before this one are to be sent before it is begun. */
    readonly later?: boolean;
  }[];
}

/** Answers to some of the queries, sent together: a page that draws them takes one turn for all. */
export type EvaluatePart = readonly { readonly key: string; readonly answer: Answer }[];

export interface ScanPartInput {
  readonly project: Project;
  readonly axes: readonly ScanAxis[];
  readonly measures: readonly MeasureRequest[];
  readonly from: number;
  readonly to: number;
}

/** What brings linked and derived numbers of a project up to date when others are turned. */
async function following(project: Project): Promise<(changed: Project) => Outcome<Project>> {
  const evaluate = await evaluatorFor(project);
  return (changed) => versionOf(changed, { evaluate, strict: true });
}

/** A value with what is doubtful about the whole project beside what is about itself. */
function cautioned(outcome: Outcome<Measured>, caution: string | null): Outcome<Measured> {
  if (!outcome.ok || caution === null) return outcome;
  const { value } = outcome;
  return success({ ...value, caution: value.caution ? `${value.caution} ${caution}` : caution });
}

/** How long links and conditions may take to come to rest, ms. */
export const LONGEST_SETTLE = 8000;

export interface OperateInput {
  readonly project: Project;
  readonly operation: string;
  readonly lens: string;
  /** Ids of the first and the last surface that are chosen. */
  readonly span: readonly [string, string];
  readonly settings: unknown;
  /** Id of the state that it is looked at in; null for the design. */
  readonly state: string | null;
}

/** One measure of a request with its answer. */
export interface MeasuresAnswer extends MeasureRequest {
  readonly unit: string;
  readonly outcome: Outcome<Measured>;
}

/** Rows of a scan with how far it has come. */
export interface ScanPart {
  readonly done: number;
  readonly of: number;
  readonly rows: readonly ScanRow[];
}

/** How far a search has come, with its gallery where that has changed. */
export interface SearchPart extends Omit<SearchState, 'gallery'> {
  readonly gallery?: SearchState['gallery'];
}

/** Part of a run through a scene. */
export interface TraceInput {
  readonly project: Project;
  readonly scene: string;
  /** Rays of the whole run, which says how large its chunks are. */
  readonly rays: number;
  /** Chunks from a multiple of `BATCH` on, up to one that is left out. */
  readonly from: number;
  readonly to: number;
}

/** A batch of chunks, by its number in the run. */
export interface TracePart {
  readonly batch: number;
  readonly tally: Tally;
}

/** Runs trials to their end, reports how they stand after each, and ends with what there is where they are cancelled. */
async function trials<S>(run: Generator<S, Outcome<S>, void>, context: JobContext<S>): Promise<Outcome<S>> {
  let last: S | undefined;
  const end = await drive(run, context, {
    ...EVERY_STEP,
    onStep: (state) => {
      last = state;
      context.report(state);
    },
  });
  return end ?? success(last!); // it is cancelled after a step at the earliest
}

/** What evaluates the formulas of a project; null if it has none. */
async function evaluatorFor(project: Project): Promise<FormulaEvaluator | null> {
  return hasRelations(project) ? await formulaEvaluator() : null;
}

/** Rows of some points of a scan, one a step. Fails at the first that cannot be had. */
function* scanRows(
  { project, axes, measures, from, to }: ScanPartInput,
  follow: (changed: Project) => Outcome<Project>,
): Generator<ScanRow, Outcome<null>, void> {
  for (let point = from; point < to; point++) {
    const row = scanPoint(project, axes, measures, point, follow);
    if (!row.ok) return row;
    yield row.value;
  }
  return success(null);
}

/** Scans some points; rows are handed on some at a time. What was handed on stays when it is cancelled. */
async function scanned(
  input: ScanPartInput,
  context: Pick<JobContext<never>, 'pause' | 'cancelled'>,
  report: (rows: readonly ScanRow[]) => void,
): Promise<Outcome<null>> {
  let rows: ScanRow[] = [];
  const flush = () => {
    if (rows.length > 0) report(rows);
    rows = [];
  };
  const work = scanRows(input, await following(input.project));
  return (await drive(work, context, { onStep: (row) => void rows.push(row), flush })) ?? success(null);
}

/** Answers queries one after the other; each answer goes to `take`, and work that is long yields in between. */
function* answers(
  { project, queries }: EvaluateInput,
  about: (key: string) => void,
  take: (answer: EvaluatePart[number]) => void,
): Generator<'later' | 'answered' | 'working', void, void> {
  const evaluation = new Evaluation(project);
  for (const [i, { key, query, later }] of queries.entries()) {
    if (i > 0) yield later ? 'later' : 'answered';
    about(key);
    const work = answerSteps(evaluation, query);
    let step = work.next();
    for (; !step.done; step = work.next()) yield 'working';
    take({ key, answer: step.value });
  }
}

/** Measures of a request with their answers, one a step. */
function* measured(
  evaluation: Evaluation,
  measures: readonly MeasureRequest[],
  caution: string | null,
): Generator<void, readonly MeasuresAnswer[], void> {
  const found: MeasuresAnswer[] = [];
  for (const one of measures) {
    const outcome = evaluateMeasure(evaluation, one);
    const unit = (outcome.ok ? outcome.value.unit : undefined) ?? findMeasure(one.measure)?.unit ?? '';
    found.push({ ...one, unit, outcome: cautioned(outcome, caution) });
    yield;
  }
  return found;
}

/** Traces chunks of a scene, one a step, and reports each batch when it is whole. */
function* chunks(
  model: SceneModel,
  { rays, from, to }: TraceInput,
  report: (part: TracePart) => void,
): Generator<void, void, void> {
  const tracer = tracerOf(model);
  const { size } = chunksOf(rays);
  for (let batch = from; batch < to; batch += BATCH) {
    const sum = noTally(model);
    for (let chunk = batch; chunk < Math.min(to, batch + BATCH); chunk++) {
      tracer.chunk(chunk, size, model.scene.sampling.seed, sum);
      yield;
    }
    report({ batch: batch / BATCH, tally: sum.tally() });
  }
}

/** A project with all that follows from its numbers, and what does not follow as it should. */
async function settled(project: Project): Promise<{ readonly project: Project; readonly caution: string | null }> {
  if (!hasRelations(project)) return { project, caution: null };
  const { project: whole, broken } = settle(project, await formulaEvaluator());
  return { project: whole, caution: broken.length > 0 ? brokenWords(broken) : null };
}

/** How long answers are gathered before they are sent, ms. */
const GATHER = 15;
/** How often another program hears how far a run has come, ms. */
const PROGRESS = 100;

/** What of the inputs of jobs workers keep: projects, and their meshes from version to version. */
export const KEPT_INPUTS = { project: ['meshes'] } as const;

const SCENES = new WeakMap<Project, Evaluation>();

/**
 * The evaluation from which runs through the scenes of a project take what they trace, compiled once as long as the worker keeps the project.
 * Nothing else is asked of it: rays are aimed from those aimed before, so the last digits of a lens would tell what was asked before.
 */
function sceneEvaluation(project: Project): Evaluation {
  let known = SCENES.get(project);
  if (!known) SCENES.set(project, (known = new Evaluation(project)));
  return known;
}

/**
 * The work that workers do. In the browser and in Node the same table is served, so what runs where is a choice of
 * the caller. All queries of one version share one evaluation.
 */
export const JOBS = {
  ...TOLERANCE_JOBS,

  async evaluate(input: EvaluateInput, context: JobContext<EvaluatePart>): Promise<void> {
    let gathered: EvaluatePart[number][] = [];
    await drive(
      answers(input, context.at, (answer) => void gathered.push(answer)),
      context,
      {
        due: (step, since) => step === 'later' || since > (step === 'working' ? CHUNK : GATHER),
        flush: () => {
          if (gathered.length > 0) context.report(gathered);
          gathered = [];
        },
      },
    );
  },

  /** An operation on a lens: what it would do, see `operate`. */
  operate(input: OperateInput): Outcome<Operated> {
    const operation = findOperation(input.operation);
    if (!operation) return failure(`There is no operation “${input.operation}”.`);
    return operate(operation, input.project, input.lens, input.span, input.settings, input.state);
  },

  /** What is doubtful about a run before it begins; see `warnings`. */
  async warnings({ project }: { project: Project }): Promise<Outcome<readonly Warning[]>> {
    return warnings(project, await evaluatorFor(project));
  },

  /** A polish of the free numbers toward the goals; every step that made it better is reported. See `polish`. */
  async polish(
    { project, options }: { project: Project; options?: PolishOptions },
    context: JobContext<Polished>,
  ): Promise<Outcome<PolishEnd>> {
    const made = MeritProblem.of(project, await evaluatorFor(project));
    if (!made.ok) return made;
    const shared = new SharedColumns(made.value, context as JobContext<never>);
    const end = await drive(polishProblem(made.value, options), context, {
      onStep: context.report,
      between: ({ x }, took) => shared.ahead(x, took),
    });
    return end ?? failure('The run was stopped.');
  },

  /** Part of the columns of a run that another worker does; see `SharedColumns`. */
  columns: (input: ColumnsInput) => columnsPart(input),

  /** A search across minima, until it is cancelled; the gallery is reported where it has changed. See `search`. */
  async search(
    { project, options }: { project: Project; options: SearchOptions },
    context: JobContext<SearchPart>,
  ): Promise<Outcome<null>> {
    let shown: SearchState['gallery'] | null = null;
    const end = await drive(search(project, await evaluatorFor(project), options), context, {
      ...EVERY_STEP,
      onStep: ({ gallery, trials: count, evaluations }) => {
        context.report({ trials: count, evaluations, ...(gallery !== shown && { gallery }) });
        shown = gallery;
      },
    });
    return end ?? success(null);
  },

  /** Changes of the form of a lens, tried one by one; how they stand is reported after each. See `tryMoves`. */
  async moves(
    { project, options }: { project: Project; options: MoveOptions },
    context: JobContext<MovesState>,
  ): Promise<Outcome<MovesState>> {
    return trials(tryMoves(project, await evaluatorFor(project), options), context);
  },

  /** A lens given to test plates, radius by radius; how it stands is reported after each. See `fitPlates`. */
  async plates(
    { project, lens }: { project: Project; lens: string },
    context: JobContext<PlateFit>,
  ): Promise<Outcome<PlateFit>> {
    return trials(fitPlates(project, await evaluatorFor(project), lens), context);
  },

  /** The list of a workshop's test plates, from a CSV text; see `readPlateList`. */
  plateList({ text }: { text: string }): Outcome<readonly TestPlate[]> {
    return readPlateList(text);
  },

  /** Why a run stopped, with what was tried; see `diagnose`. */
  async diagnose({ project }: { project: Project }, context: JobContext<never>): Promise<Outcome<Diagnosis>> {
    const found = await drive(diagnose(project, await evaluatorFor(project)), context, EVERY_STEP);
    return found ?? failure('It was cancelled.');
  },

  /** What follows from links and conditions, without the project itself, and how long that took, ms; within `LONGEST_SETTLE`. */
  async settle({
    project,
  }: {
    project: Project;
  }): Promise<Pick<Settled, 'edits' | 'broken' | 'unfinished'> & { readonly took: number }> {
    const evaluate = await formulaEvaluator();
    const from = performance.now();
    const { edits, broken, unfinished } = settle(project, evaluate, () => performance.now() - from > LONGEST_SETTLE);
    return { edits, broken, took: performance.now() - from, ...(unfinished && { unfinished }) };
  },

  /** The edits that give numbers another state; see `changeState`. */
  async changeState({
    project,
    addresses,
    state,
  }: {
    project: Project;
    addresses: readonly string[];
    state: ParameterState | null;
  }): Promise<Outcome<readonly Edit[]>> {
    const evaluate = await formulaEvaluator();
    const from = performance.now();
    return changeState(project, addresses, state, evaluate, () => performance.now() - from > LONGEST_SETTLE);
  },

  refocus(input: { project: Project; lens: string; criterion: FocusCriterion }): Outcome<Refocus> {
    return refocus(input.project, input.lens, input.criterion);
  },

  apertureAs({
    project,
    lens,
    kind,
  }: {
    project: Project;
    lens: string;
    kind: SystemAperture['kind'];
  }): Outcome<SystemAperture> {
    return apertureAs(project, lens, kind);
  },

  fieldsAs({ project, lens, kind }: { project: Project; lens: string; kind: FieldSet['kind'] }): Outcome<FieldSet> {
    return fieldsAs(project, lens, kind);
  },

  ask({ project, lens, text }: { project: Project; lens: string; text: string }): Promise<Outcome<AskAnswer>> {
    return ask(new Evaluation(project), lens, text);
  },

  /** Measures asked for by another program, as the text of its request. */
  async measures(text: string, context: JobContext<never>): Promise<Outcome<readonly MeasuresAnswer[]>> {
    const request = readMeasuresRequest(text);
    if (!request.ok) return request;
    const { project, caution } = await settled(request.value.project);
    const work = measured(new Evaluation(project), request.value.measures, caution);
    const found = await drive(work, context, EVERY_STEP);
    return found ? success(found) : failure('It was cancelled.');
  },

  /** Points of a scan, from one up to another that is left out; rows are reported some at a time. */
  async scanPart(input: ScanPartInput, context: JobContext<readonly ScanRow[]>): Promise<Outcome<null>> {
    return scanned(input, context, context.report);
  },

  /** A scan asked for by another program, as the text of its request; rows are reported some at a time. */
  async scan(text: string, context: JobContext<ScanPart>): Promise<Outcome<{ readonly points: number }>> {
    const request = readScanRequest(text);
    if (!request.ok) return request;
    const points = scanSize(request.value.axes);
    let done = 0;
    const end = await scanned({ ...request.value, from: 0, to: points }, context, (rows) =>
      context.report({ done: (done += rows.length), of: points, rows }),
    );
    return end.ok ? success({ points }) : end;
  },

  /**
   * Some chunks of a run through a scene, from `from` up to `to`. Each batch of `BATCH` chunks is reported as it is done, so that
   * batches of several workers can be joined in the order of their chunks.
   */
  async traceScene(input: TraceInput, context: JobContext<TracePart>): Promise<Outcome<null>> {
    const scene = sceneEvaluation(input.project).scene(input.scene);
    if (!scene.ok) return scene;
    const { model } = scene.value;
    if (model.sources.length === 0) return failure('The scene has no source with a flux.');
    await drive(chunks(model, input, context.report), context);
    return success(null);
  },

  /** A run through a scene that another program asked for, as the text of its request; how far it has come is reported now and then. */
  async trace(text: string, context: JobContext<TraceProgress>): Promise<Outcome<SceneReport>> {
    const request = readTraceRequest(text);
    if (!request.ok) return request;
    const { project, caution } = await settled(request.value.project);
    const task = traceTask(project, request.value.order);
    if (!task.ok) return task;
    let last: TraceProgress | null = null;
    const report = await drive(traceReport(task.value), context, {
      due: (_, since) => since > PROGRESS,
      onStep: (progress) => void (last = progress),
      flush: () => {
        if (last) context.report(last);
        last = null;
      },
    });
    if (!report) return failure('It was cancelled.');
    const doubts = caution === null ? [] : [{ severity: 'warning', text: caution }];
    return success({ ...report, findings: [...doubts, ...report.findings] });
  },

  /** A check of a project that another program asked for, as the text of its request; see `checkProject`. */
  async check(text: string, context: JobContext<never>): Promise<Outcome<ProjectCheck>> {
    const request = readCheckRequest(text);
    if (!request.ok) return request;
    const { project, caution } = await settled(request.value);
    const found = await drive(checkProject(project, caution), context, EVERY_STEP);
    return found ? success(found) : failure('It was cancelled.');
  },

  /** A material from a file of index data. */
  material({ name, text }: { name: string; text: string }): Outcome<Material> {
    return readMaterialTable(name, text);
  },

  /** A mesh from a file. */
  mesh({ name, bytes }: { name: string; bytes: Uint8Array }): Outcome<MeshRecord> {
    return readMeshFile(name, bytes);
  },

  /** A grid of sags from a list of points. */
  sagGrid(text: string): Outcome<Grid> {
    return readSagGrid(text);
  },

  backup(text: string): ReturnType<typeof readBackup> {
    return readBackup(text);
  },

  read(text: string): ReadResult {
    return readProjectText(text);
  },
} as const;

export type Jobs = typeof JOBS;
