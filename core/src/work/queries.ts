import { lensFindings } from '../imaging/findings.ts';
import type { Evaluation, LensEvaluation } from '../imaging/evaluation.ts';
import { fieldCurves, type FieldCurves } from '../imaging/field-curves.ts';
import { mtfChart, type MtfChart, type MtfChartChoice } from '../imaging/mtf-chart.ts';
import { opdFans } from '../imaging/opd-fan.ts';
import { seidel, type Seidel } from '../imaging/seidel.ts';
import { rayFans, type RayFanChoice, type RayFans } from '../imaging/ray-fan.ts';
import { inspectRay, type RayInspection } from '../imaging/ray-inspection.ts';
import type { SceneEvaluation } from '../imaging/scene-evaluation.ts';
import { sceneRays, sceneView, type SceneRays, type SceneView } from '../imaging/scene-view.ts';
import { lensSection, type Section, type SectionChoice } from '../imaging/section.ts';
import { spotDiagram, type SpotDiagram, type SpotDiagramChoice } from '../imaging/spot-diagram.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Measured } from '../measures/measure.ts';
import { evaluateMeasure, type MeasureRequest } from '../measures/registry.ts';
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
}

/** What the interface may ask about a project, by kind: the question and its answer. */
export interface QueryKinds {
  section: { ask: { readonly lens: string } & SectionChoice; answer: Section };
  spots: { ask: { readonly lens: string } & SpotDiagramChoice; answer: SpotDiagram };
  ray_fans: { ask: { readonly lens: string } & RayFanChoice; answer: RayFans };
  opd_fans: { ask: { readonly lens: string } & RayFanChoice; answer: RayFans };
  mtf: { ask: { readonly lens: string } & MtfChartChoice; answer: MtfChart };
  seidel: { ask: { readonly lens: string }; answer: Seidel };
  field_curves: { ask: { readonly lens: string }; answer: FieldCurves };
  first_order: { ask: { readonly lens: string }; answer: FirstOrderTable };
  ray: {
    ask: { readonly lens: string; readonly source: RaySource; readonly wavelength: string | null };
    answer: RayInspection;
  };
  findings: { ask: { readonly lens: string }; answer: readonly Finding[] };
  scene_view: { ask: { readonly scene: string }; answer: SceneView };
  scene_rays: { ask: { readonly scene: string; readonly rays: number }; answer: SceneRays };
  measure: { ask: MeasureRequest; answer: Measured };
}

export type QueryKind = keyof QueryKinds;
export type Query<K extends QueryKind = QueryKind> = {
  [Kind in K]: { readonly kind: Kind } & QueryKinds[Kind]['ask'];
}[K];
export type Answer<K extends QueryKind = QueryKind> = Outcome<QueryKinds[K]['answer']>;

/** The functions that answer, one per kind of query. */
const ANSWERS: { [K in QueryKind]: (evaluation: Evaluation, query: Query<K>) => Answer<K> } = {
  section: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => success(lensSection(lens, query))),
  spots: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => spotDiagram(lens, query)),
  ray_fans: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => rayFans(lens, query)),
  opd_fans: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => opdFans(lens, query)),
  mtf: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => mtfChart(lens, query)),
  seidel: (evaluation, query) => ofLens(evaluation, query.lens, seidel),
  field_curves: (evaluation, query) => ofLens(evaluation, query.lens, fieldCurves),
  first_order: (evaluation, query) =>
    ofLens(evaluation, query.lens, (lens) =>
      success({
        columns: lens.model.wavelengths.map(({ id, nm }, wave) => ({
          wavelength: id,
          nm,
          data: lens.firstOrder(wave),
        })),
      }),
    ),
  ray: (evaluation, query) =>
    ofLens(evaluation, query.lens, (lens) => inspectRay(lens, query.source, query.wavelength)),
  findings: (evaluation, query) => ofLens(evaluation, query.lens, (lens) => success(lensFindings(lens))),
  scene_view: (evaluation, query) => ofScene(evaluation, query.scene, (scene) => success(sceneView(scene))),
  scene_rays: (evaluation, query) =>
    ofScene(evaluation, query.scene, (scene) => success(sceneRays(scene, query.rays))),
  measure: (evaluation, query) => evaluateMeasure(evaluation, query),
};

function ofLens<T>(
  evaluation: Evaluation,
  id: string,
  answer: (lens: LensEvaluation) => Outcome<T>,
): Outcome<T> {
  const lens = evaluation.lens(id);
  return lens.ok ? answer(lens.value) : lens;
}

function ofScene<T>(
  evaluation: Evaluation,
  id: string,
  answer: (scene: SceneEvaluation) => Outcome<T>,
): Outcome<T> {
  const scene = evaluation.scene(id);
  return scene.ok ? answer(scene.value) : scene;
}

/** Answers one query. A mistake inside an analysis becomes a failure of this query alone: the others still get theirs. */
export function answerQuery<K extends QueryKind>(evaluation: Evaluation, query: Query<K>): Answer<K> {
  try {
    return ANSWERS[query.kind](evaluation, query as never) as Answer<K>;
  } catch (error) {
    return failure(`An error inside Ulvex: ${(error as Error).message}`);
  }
}
