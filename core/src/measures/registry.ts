import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { failure, type Outcome } from '../math/outcome.ts';
import type { Project } from '../project/model.ts';
import { asBuiltSpot } from './as-built.ts';
import { asMadeSpot } from './as-made.ts';
import { bestFocusMeasure } from './best-focus.ts';
import {
  angularMagnification,
  chiefRayAngle,
  distortion,
  imageHeight,
  imageScaleMeasure,
  magnification,
} from './chief-ray.ts';
import {
  backFocalDistance,
  effectiveFocalLength,
  entrancePupilDiameter,
  imageFNumber,
  paraxialImageDistance,
  passingFNumber,
  workingFNumber,
} from './first-order.ts';
import { IMAGE_MEASURES } from './image.ts';
import { paraxialRay, realRay } from './ray-datum.ts';
import { rayAngle, rayFlux, rayPosition } from './kept-ray.ts';
import {
  findingsMeasure,
  edgeThicknessMeasure,
  leastClearanceMeasure,
  steepestSlopeMeasure,
  surfaceMarginMeasure,
} from './making.ts';
import { readSettings, type Measure, type Measured, type SceneMeasure, type SettingSpecs } from './measure.ts';
import { SCENE_MEASURES } from './scene.ts';
import { rmsSpotAngle, rmsSpotRadius } from './rms-spot-radius.ts';
import { WAVEFRONT_MEASURES } from './wavefront.ts';
import { totalLength } from './total-length.ts';
import { transmissionMeasure } from './transmission.ts';
import { clearPupil, vignettingLimit } from './vignetting.ts';

/** A measure with the types of its settings forgotten: `evaluateMeasure` checks them. */
export type AnyMeasure = Measure<SettingSpecs> | SceneMeasure<SettingSpecs>;

/** Forgets the types of settings. An `id` is enough to ask for: whatever else a measure has was checked where it was defined. */
function anyMeasures(measures: readonly { readonly id: string }[]): readonly AnyMeasure[] {
  return measures as readonly AnyMeasure[];
}

/** Every measure, in menu order. A new one is a file beside these and a line here. */
export const MEASURES: readonly AnyMeasure[] = anyMeasures([
  effectiveFocalLength,
  backFocalDistance,
  imageFNumber,
  workingFNumber,
  passingFNumber,
  entrancePupilDiameter,
  paraxialImageDistance,
  magnification,
  imageScaleMeasure,
  angularMagnification,
  totalLength,
  rmsSpotRadius,
  rmsSpotAngle,
  asBuiltSpot,
  asMadeSpot,
  bestFocusMeasure,
  ...WAVEFRONT_MEASURES,
  ...IMAGE_MEASURES,
  distortion,
  chiefRayAngle,
  imageHeight,
  clearPupil,
  vignettingLimit,
  transmissionMeasure,
  edgeThicknessMeasure,
  leastClearanceMeasure,
  steepestSlopeMeasure,
  surfaceMarginMeasure,
  findingsMeasure,
  paraxialRay,
  realRay,
  rayPosition,
  rayAngle,
  rayFlux,
  ...SCENE_MEASURES,
]);

const byId = new Map<string, AnyMeasure>();
for (const measure of MEASURES) {
  if (byId.has(measure.id)) throw new Error(`Two measures are called ${measure.id}`);
  byId.set(measure.id, measure);
}

/** The measure with an id, or undefined. */
export function findMeasure(id: string): AnyMeasure | undefined {
  return byId.get(id);
}

/** Whether a measure looks at a scene, not at a lens. */
export function isOfScene(measure: AnyMeasure): measure is SceneMeasure<SettingSpecs> {
  return 'of' in measure;
}

/** What a measure looks at where nothing else is said: the lens that is given, or the first scene; null where there is none. */
export function subjectOf(project: Project, measure: AnyMeasure, lens: string | null = null): string | null {
  if (isOfScene(measure)) return project.scenes?.[0]?.id ?? null;
  return lens ?? project.lenses[0]?.id ?? null;
}

function onSubject<T>(subject: Outcome<T>, evaluate: (subject: T) => Outcome<Measured>): Outcome<Measured> {
  return subject.ok ? evaluate(subject.value) : subject;
}

/** Which number is asked for: a measure, the lens or scene it looks at, and its settings. */
export interface MeasureRequest {
  readonly measure: string;
  readonly lens: string;
  readonly settings: unknown;
  /** Id of the state that it is measured in; as designed when left out. */
  readonly state?: string;
}

/**
 * Evaluates a measure. Fails, with a reason, for an unknown measure or lens, for wrong settings, and where the lens has
 * no such value; a value that comes out not finite is a failure too, so none is ever shown.
 */
export function evaluateMeasure(evaluation: Evaluation, request: MeasureRequest): Outcome<Measured> {
  const measure = byId.get(request.measure);
  if (!measure) return failure(`There is no measure “${request.measure}”.`);
  const settings = readSettings(measure, request.settings);
  if (!settings.ok) return settings;
  const seen = evaluation.inState(request.state);
  if (!seen.ok) return seen;
  const measured = isOfScene(measure)
    ? onSubject(seen.value.scene(request.lens), (scene) => measure.evaluate(scene, settings.value))
    : onSubject(seen.value.lens(request.lens), (lens) => measure.evaluate(lens, settings.value));
  if (measured.ok && !Number.isFinite(measured.value.value))
    return failure(`${measure.title} has no finite value here.`);
  return measured;
}
