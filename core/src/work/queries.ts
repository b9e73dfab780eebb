import type { Analysed } from '../analyses/analysis.ts';
import { findAnalysis, runAnalysis, type AnalysisRequest } from '../analyses/registry.ts';
import { lensFindings } from '../imaging/evaluation/findings.ts';
import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { surfaceScale, type SurfaceScale } from '../imaging/field/image-scale.ts';
import { inspectRay, type RayInspection } from '../imaging/section/ray-inspection.ts';
import type { SceneEvaluation } from '../imaging/evaluation/scene-evaluation.ts';
import { sectionFill, type SectionFill } from '../imaging/section/section-fill.ts';
import { sceneRays, sceneView, type SceneRays, type SceneView } from '../imaging/section/scene-view.ts';
import { lensSection, type Section, type SectionChoice } from '../imaging/section/section.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { makingChecks, type MakingCheck } from '../improve/making-checks.ts';
import { plateChecks } from '../improve/test-plates.ts';
import { meritStand, type MeritStand } from '../improve/stand.ts';
import { atOnce } from '../math/steps.ts';
import type { Measured } from '../measures/measure.ts';
import { evaluateMeasure, type MeasureRequest } from '../measures/registry.ts';
import { responseByDerivatives } from '../tolerance/by-derivatives.ts';
import type { StudyInput } from '../tolerance/one-by-one.ts';
import type { Response } from '../tolerance/response.ts';
import type { RaySource } from '../project/model.ts';
import type { Finding } from '../sequence/lens-model.ts';
import type { FirstOrder } from '../sequence/paraxial.ts';

/** First-order data at every wavelength. */
export interface FirstOrderTable {
  readonly columns: readonly {
    readonly wavelength: string;
    readonly nm: number;
    readonly data: Outcome<FirstOrder>;
  }[];
  /** Of the image surface in use, primary wavelength. */
  readonly surface: Outcome<SurfaceScale>;
}

/** What the interface may ask about a project, by kind: the question and its answer. */
export interface QueryKinds {
  section: { ask: { readonly lens: string } & SectionChoice; answer: Section };
  /** Sections in states, those left out in which the lens cannot be drawn. */
  section_states: {
    ask: { readonly lens: string; readonly states: readonly string[] } & SectionChoice;
    answer: readonly Section[];
  };
  first_order: { ask: { readonly lens: string }; answer: FirstOrderTable };
  ray: {
    ask: { readonly lens: string; readonly source: RaySource; readonly wavelength: string | null };
    answer: RayInspection;
  };
  findings: { ask: { readonly lens: string }; answer: readonly Finding[] };
  scene_view: { ask: { readonly scene: string }; answer: SceneView };
  /** What is seen of bodies where they are cut open. */
  scene_section: { ask: { readonly scene: string }; answer: readonly SectionFill[] };
  scene_rays: { ask: { readonly scene: string; readonly rays: number }; answer: SceneRays };
  measure: { ask: MeasureRequest; answer: Measured };
  /** A measure as designed and in states, in their order. */
  measure_states: {
    ask: MeasureRequest & { readonly states: readonly string[] };
    answer: readonly Outcome<Measured>[];
  };
  analysis: { ask: AnalysisRequest; answer: Analysed };
  /** What a workshop would refuse or regret of a lens. */
  making_checks: { ask: { readonly lens: string }; answer: readonly MakingCheck[] };
  /** What tolerances do to measures, by derivatives at the design. */
  tolerance_response: { ask: Omit<StudyInput, 'project'>; answer: Response };
  /** How the goals and making-limits of the project stand. */
  merit: { ask: object; answer: MeritStand };
}

export type QueryKind = keyof QueryKinds;
export type Query<K extends QueryKind = QueryKind> = {
  [Kind in K]: { readonly kind: Kind } & QueryKinds[Kind]['ask'] & OfState;
}[K];
/** In which state the project is looked at; as designed when left out. */
interface OfState {
  readonly state?: string;
}
export type Answer<K extends QueryKind = QueryKind> = Outcome<QueryKinds[K]['answer']>;

/** Work that yields now and then, where it may be put off or given up. */
type Steps<T> = Generator<void, T, void>;

/** The functions that answer, one per kind of query: at once, or step by step where that may take long. */
const ANSWERS: {
  [K in QueryKind]: (evaluation: Evaluation, query: Query<K>) => Answer<K> | Steps<Answer<K>>;
} = {
  section: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => success(lensSection(lens, query))),
  section_states: (evaluation, query) =>
    success(
      query.states.flatMap((id) => {
        const seen = evaluation.inState(id);
        const lens = seen.ok ? seen.value.lens(query.lens) : seen;
        return lens.ok ? [lensSection(lens.value, query)] : [];
      }),
    ),
  analysis: runAnalysis,
  first_order: (evaluation, query) =>
    ofLens(evaluation, query.lens, (lens) =>
      success({
        columns: lens.model.wavelengths.map(({ id, nm }, wave) => ({
          wavelength: id,
          nm,
          data: lens.firstOrder(wave),
        })),
        surface: surfaceScale(lens),
      }),
    ),
  ray: (evaluation, query) =>
    ofLens(evaluation, query.lens, (lens) => inspectRay(lens, query.source, query.wavelength)),
  findings: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => success(lensFindings(lens))),
  scene_view: (evaluation, query) => ofScene(evaluation, query.scene, (scene) => success(sceneView(scene))),
  scene_section: (evaluation, query) => ofScene(evaluation, query.scene, (scene) => success(sectionFill(scene.model))),
  scene_rays: (evaluation, query) => ofScene(evaluation, query.scene, (scene) => success(sceneRays(scene, query.rays))),
  measure: (evaluation, query) => evaluateMeasure(evaluation, query),
  making_checks: (evaluation, query) =>
    ofLens(evaluation, query.lens, (lens) =>
      success([...makingChecks(evaluation.project, lens), ...plateChecks(evaluation.project, lens)]),
    ),
  merit: (evaluation) => success(meritStand(evaluation)),
  tolerance_response: (evaluation, query) => responseByDerivatives({ ...query, project: evaluation.project }),
  measure_states: (evaluation, query) =>
    success(query.states.map((state) => evaluateMeasure(evaluation, { ...query, state }))),
};

function ofLens<T>(evaluation: Evaluation, id: string, answer: (lens: LensEvaluation) => Outcome<T>): Outcome<T> {
  const lens = evaluation.lens(id);
  return lens.ok ? answer(lens.value) : lens;
}

function ofScene<T>(evaluation: Evaluation, id: string, answer: (scene: SceneEvaluation) => Outcome<T>): Outcome<T> {
  const scene = evaluation.scene(id);
  return scene.ok ? answer(scene.value) : scene;
}

/**
 * Whether a question has a quick answer near to the right one, for while a number is turned: it carries `detail`, and is asked once more in
 * `full` when the model rests.
 */
export function isRefined(query: Query): query is Query<'analysis'> {
  return query.kind === 'analysis' && !findAnalysis(query.analysis)?.exact;
}

/**
 * Answers one query, step by step. A mistake inside an analysis becomes a failure of this query alone: the others still get theirs.
 */
export function* answerSteps<K extends QueryKind>(evaluation: Evaluation, query: Query<K>): Steps<Answer<K>> {
  try {
    const seen = query.kind === 'measure' ? success(evaluation) : evaluation.inState(query.state);
    if (!seen.ok) return seen;
    const answer = ANSWERS[query.kind](seen.value, query as never) as Answer<K> | Steps<Answer<K>>;
    return 'ok' in answer ? answer : yield* answer;
  } catch (error) {
    return failure(`An error inside Ulvex: ${(error as Error).message}`);
  }
}

/** Answers one query in one go. */
export function answerQuery<K extends QueryKind>(evaluation: Evaluation, query: Query<K>): Answer<K> {
  return atOnce(answerSteps(evaluation, query));
}
