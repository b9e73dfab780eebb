import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { Detail } from '../imaging/wavefront/diffraction-pupil.ts';
import { failure, type Outcome } from '../math/outcome.ts';
import {
  analyse,
  analysisSettings,
  looksAtScene,
  type Analysed,
  type Analysis,
  type SceneAnalysis,
} from './analysis.ts';
import { footprint, incidence, pupilAberration, vignettingOverField } from './bundles.ts';
import { rayFanCharts, wavefrontFans } from './fans.ts';
import { fieldCurveCharts } from './field-curves.ts';
import { firstOrderTable } from './first-order.ts';
import { spots, spotsOverField, spotsThroughFocus } from './spots.ts';
import { crossSections, detectorMap } from './light/maps.ts';
import { intensity } from './light/intensity.ts';
import { energyBook, fluxByFace, fluxBySource } from './light/shares.ts';
import { evenness, fluxWithin } from './light/within.ts';
import { seidelTable } from './third-order.ts';
import { focalShift, lateralColour, longitudinal } from './colour.ts';
import { madeSpotCharts } from './made-spots.ts';
import { mtfMap, mtfOverField, mtfOverFrequency, mtfThroughFocus } from './mtf-curves.ts';
import { pictureSimulation } from './picture.ts';
import { energyCurves, lineSpread, pointSections, pointSpreadMap } from './point-image.ts';
import { qualityMap, qualityOverColour, qualityOverField, qualityThroughFocus } from './quality.ts';
import { prescriptionTable } from './prescription.ts';
import { distortionGrid, sagMap } from './surfaces.ts';
import { ellipticalBeam, gaussianBeam, heights, powers, powerSeries } from './theory.ts';
import { lightLosses, transmissionOverColour, transmissionOverField } from './transmission.ts';
import { wavefrontMap, zernikeTerms } from './wavefront-map.ts';

/** Every analysis, in the order of the shelf. A new one is a definition in a file beside these and a line here. */
export const ANALYSES: readonly (Analysis | SceneAnalysis)[] = [
  firstOrderTable,
  prescriptionTable,
  lightLosses,
  spots,
  rayFanCharts,
  spotsThroughFocus,
  spotsOverField,
  footprint,
  longitudinal,
  pupilAberration,
  vignettingOverField,
  incidence,
  fieldCurveCharts,
  distortionGrid,
  lateralColour,
  focalShift,
  qualityOverField,
  qualityThroughFocus,
  qualityOverColour,
  qualityMap,
  transmissionOverColour,
  transmissionOverField,
  wavefrontFans,
  wavefrontMap,
  zernikeTerms,
  sagMap,
  pointSpreadMap,
  pointSections,
  energyCurves,
  lineSpread,
  mtfOverFrequency,
  mtfThroughFocus,
  mtfOverField,
  mtfMap,
  pictureSimulation,
  madeSpotCharts,
  seidelTable,
  powers,
  heights,
  powerSeries,
  gaussianBeam,
  ellipticalBeam,
  detectorMap,
  crossSections,
  intensity,
  fluxWithin,
  evenness,
  energyBook,
  fluxByFace,
  fluxBySource,
];

const byId = new Map(ANALYSES.map((analysis) => [analysis.id, analysis]));

/** The analysis with an id, or undefined. */
export function findAnalysis(id: string): Analysis | SceneAnalysis | undefined {
  return byId.get(id);
}

/** Which analysis of which lens is asked for, with its settings. */
export interface AnalysisRequest {
  readonly analysis: string;
  readonly lens: string;
  /** Id of the scene, for analyses that look at one. */
  readonly scene?: string | undefined;
  readonly settings: unknown;
  readonly detail: Detail;
}

/** Begins an analysis. Fails, with a reason, for an unknown one, an unknown lens or wrong settings. */
export function* runAnalysis(
  evaluation: Evaluation,
  request: AnalysisRequest,
): Generator<void, Outcome<Analysed>, void> {
  const analysis = byId.get(request.analysis);
  if (!analysis) return failure(`There is no analysis “${request.analysis}”.`);
  if (looksAtScene(analysis)) {
    const settings = analysisSettings(analysis, request.settings);
    if (!settings.ok) return settings;
    const scene = evaluation.scene(request.scene ?? evaluation.project.scenes?.[0]?.id ?? '');
    return scene.ok ? yield* analysis.evaluate(scene.value, settings.value, request.detail) : scene;
  }
  const lens = evaluation.lens(request.lens);
  if (!lens.ok) return lens;
  return yield* analyse(lens.value, analysis, request.settings, request.detail);
}
