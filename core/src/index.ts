export { type Outcome, failure, success } from './math/outcome.ts';
export { type Extent, type ParameterSpec, objection } from './math/parameter.ts';
export { capability, linearSpread } from './math/capability.ts';
export { distributionOf } from './math/distribution.ts';
export { responseMoments, responseOf } from './math/quadratic-response.ts';
export { type QuantityKind, type QuantityOptions, parseQuantity } from './math/quantity.ts';
export { RAY_STATUS, type RayBlock, rayBlock, statusReason } from './compute/ray-block.ts';
export { KERNEL_BLOCK, traceKernel } from './compute/kernel.ts';
export { wavelengthHue } from './light/hue.ts';
export { SPECTRAL_LINES, lineSymbol, wavelengthLabel, wavelengthName } from './light/spectral-lines.ts';
export { DISPERSION_TITLES, refractiveIndex } from './materials/dispersion.ts';
export { GRADIENT_SPECS, type Gradient } from './materials/gradient.ts';
export {
  AIR,
  type FamilyProperty,
  type Material,
  abbeNumber,
  inRange,
  internalTransmittance,
  indexIn,
  isGas,
  partialDispersion,
} from './materials/material.ts';
export { CATALOGUE, catalogueMaterial, nearestMaterials, searchMaterials } from './materials/catalogue.ts';
export { SHAPES, type ShapeKind, isPlainConic, shapeDefinition, shapeNumbers } from './shapes/registry.ts';
export { PHASES, type Phase, phaseDefinition } from './phases/registry.ts';
export {
  type Board,
  type BoardTile,
  type FieldPoint,
  type FieldSet,
  type KeptRay,
  type Lens,
  type Obscuration,
  type Override,
  type ParameterState,
  type ParameterStates,
  type Project,
  type RaySource,
  type Requirement,
  type Surface,
  type SurfaceAperture,
  type SystemAperture,
} from './project/model.ts';
export type { Adjustment, Compensator, GroupShare, Tolerance, ToleranceTarget } from './project/tolerances.ts';
export { type Edit, applyEdits, valueAt } from './project/edit.ts';
export { type Difference, compareProjects } from './project/compare.ts';
export { freshId } from './project/fresh-id.ts';
export { toggleExcluded } from './project/excluded.ts';
export {
  type GlassRules,
  type Goal,
  type GoalGroup,
  type ImageGoal,
  type LimitName,
  type MeasureGoal,
  USUAL_LIMITS,
  MADE_BY,
  isExceeded,
  limitsOf,
} from './project/improve.ts';
export { mergeLens } from './project/merge-lens.ts';
export {
  inState,
  overridablePath,
  prunedStates,
  redirected,
  splitStateAddress,
  stateAddress,
} from './project/states.ts';
export { addState, differIn, removeState, sameIn, setInState } from './project/state-edits.ts';
export {
  EMPTY_HISTORY,
  type History,
  type HistoryEntry,
  type Tracked,
  commit,
  nameState,
  redo,
  returnTo,
  undo,
  undoDepth,
} from './project/history.ts';
export { type Parameter, findParameter, listParameters, setParameter } from './project/parameters.ts';
export type { TableSpec } from './math/kinds.ts';
export { readTableText, tableText } from './math/table-text.ts';
export { LAW_KINDS, LAWS, type Law } from './emission/laws/registry.ts';
export type { StartOrder } from './emission/order.ts';
export { compileRegion, REGION_KINDS, REGIONS, type Region } from './emission/regions/registry.ts';
export { FRAME_SPECS } from './project/frame-specs.ts';
export { BEHIND_SPECS } from './project/lens-specs.ts';
export { DETECTOR_PLACES, PLACE_KINDS, type DetectorPlace } from './detectors/registry.ts';
export { MESH_SPECS, ORDER_SPECS, PATTERN_SPECS, VOLUME_SPECS } from './project/scene-parameters.ts';
export {
  MAX_PROJECT_BYTES,
  type ReadResult,
  projectText,
  readProject,
  readProjectText,
  tooLarge,
  unkeepable,
} from './project/read.ts';
export { historyForward } from './project/migrate.ts';
export { type Finding, type LensModel, type TraceSurface, compileLens } from './sequence/lens-model.ts';
export { type FirstOrder, firstOrder } from './sequence/paraxial.ts';
export { type PupilSampling, pupilPoints } from './sequence/pupil-sampling.ts';
export { launchPupil, launchRays } from './sequence/launch.ts';
export { Aimer } from './sequence/aiming.ts';
export { traceBlock } from './sequence/trace.ts';
export { imageSine } from './sequence/resolve.ts';
export { Evaluation } from './imaging/evaluation/evaluation.ts';
export { LensEvaluation, type RayChoice } from './imaging/evaluation/lens-evaluation.ts';
export {
  type FieldSpot,
  fieldSpot,
  largestRadius,
  rmsOverFields,
  rmsRadius,
  weightedSpots,
} from './imaging/point/spot.ts';
export { type FocusCriterion, NO_FOCUS, bestFocusShift } from './imaging/point/refocus.ts';
export { type ImageLaw, chiefAtImage, paraxialImagePoint } from './imaging/field/image-point.ts';
export { type ImageScale, distortion } from './imaging/field/image-scale.ts';
export { type Section, type SectionRay, type SectionSurface, lensSection } from './imaging/section/section.ts';
export { type SpotPicture } from './imaging/point/spot-diagram.ts';
export { lensFindings } from './imaging/evaluation/findings.ts';
export { clearShare, pupilLimit } from './imaging/evaluation/vignetting.ts';
export { type RayStep } from './imaging/section/ray-inspection.ts';
export {
  looksAtScene,
  type SceneAnalysis,
  type Analysed,
  type AnalysisTopic,
  analysisSettings,
} from './analyses/analysis.ts';
export {
  type Axis,
  type BarPanel,
  type Curve,
  type CurvePanel,
  type DotPanel,
  type Figure,
  type MapPanel,
  type Stroke,
  type Panel,
  type PicturePanel,
  type TablePanel,
  type Tint,
  panelRows,
} from './analyses/panels.ts';
export { ANALYSES, findAnalysis } from './analyses/registry.ts';
export { type Measured, type SettingSpec, settingOptions } from './measures/measure.ts';
export {
  MEASURES,
  type MeasureRequest,
  evaluateMeasure,
  findMeasure,
  isOfScene,
  subjectOf,
} from './measures/registry.ts';
export { requirementStates, standing, worstAnswer } from './measures/requirement.ts';
export {
  type FromWorker,
  type JobContext,
  type JobInput,
  type JobPart,
  type JobResult,
  type ToWorker,
  serveJobs,
} from './compute/protocol.ts';
export { JobCancelled, JobFailed, JobOverrun, type RunningJob, type WorkerHandle, WorkerPool } from './compute/pool.ts';
export {
  type Answer,
  type FirstOrderTable,
  type Query,
  type QueryKind,
  answerQuery,
  isRefined,
} from './work/queries.ts';
export { type EvaluatePart, JOBS, KEPT_INPUTS, type Jobs, type ScanPart, type SearchPart } from './work/jobs.ts';
export {
  type Gesture,
  insertElement,
  insertSurface,
  isSolid,
  removeElement,
  removeSurface,
  setSemiAperture,
  setStop,
  surfaceTitle,
  titleWithin,
} from './project/lens-edits.ts';
export { fillMedium, setMedium, setThickness, suggestMaterials } from './project/medium-edits.ts';
export { takeInMaterial } from './project/embed-material.ts';
export { convertFields } from './sequence/convert.ts';
export { bendThrough, moveVertex } from './project/lens-drags.ts';
export { lensTable, looksLikeTable, pasteTable } from './project/lens-table.ts';
export { setByText } from './project/set-text.ts';
export { type ScanAxis, type ScanRow, scanSize } from './measures/scan.ts';
export { readMeasuresRequest, readScanRequest } from './work/requests.ts';
export { type ProjectCheck, checkProject } from './work/check.ts';
export { type TraceOrder, type TraceTask, traceReport, traceTask } from './work/trace-report.ts';
export { atOnce } from './math/steps.ts';
export { MAX_TABLE_TEXT } from './formats/limits.ts';
export { formulaEvaluator } from './math/formula.ts';
export {
  type LeastSquares,
  type PolishResult,
  type StopReason,
  dampedLeastSquares,
} from './math/damped-least-squares.ts';
export { type AskAnswer, ask } from './ask/ask.ts';
export type { Operated, Operation, OwnChoice } from './operations/operation.ts';
export { OPERATION_TITLES } from './operations/titles.ts';
export { type BrokenRelation, type Settled, brokenWords, hasRelations } from './relations/broken.ts';
export type { DailyCondition } from './relations/change-state.ts';
export { type TableColumn, cellText, fillDown, setCell, setCells } from './project/lens-cells.ts';
export { duplicateSurfaces, elementSurfaces, moveElement, moveSurfaces, removeSurfaces } from './project/lens-rows.ts';
export { type BackedUp, type UnreadableProject, backupText, isHistory, readBackup } from './work/backup.ts';
export type { Contribution, Polished, PolishEnd, PolishMethod, Warning } from './improve/polish.ts';
export type { Candidate, SearchOptions, SearchWay } from './improve/search.ts';
export type { MoveKind, MoveOptions, MovesState, TriedMove } from './improve/moves.ts';
export type { FittedPlate, PlateFit } from './improve/test-plates.ts';
export type { MakingCheck } from './improve/making-checks.ts';
export type { Diagnosis, Suggestion } from './improve/diagnosis.ts';
export type { ImagePart } from './improve/image-rows.ts';
export type { GoalStand, LimitStand, MeritStand } from './improve/stand.ts';
export {
  type Follow,
  addObscuration,
  cornersText,
  followOf,
  readCorners,
  removeObscuration,
  setApertureKind,
  setFollow,
  setPhaseKind,
  setSagGrid,
  setShapeKind,
} from './project/surface-edits.ts';
export { type FieldSpread, spreadFields } from './project/spread-fields.ts';
export { AREA_PLACE } from './apertures/area.ts';
export { APERTURE_AREAS, areaDefinition, OBSCURATION_AREAS } from './apertures/registry.ts';
export { type SolverVariable } from './sequence/solver-variable.ts';
export { BundleGradients, seedOf } from './sequence/bundle-gradients.ts';
export {
  type Detector,
  MOST_AIMS,
  type Part,
  type Pattern,
  type Placed,
  SAMPLING,
  type Sampling,
  type Scene,
  type Source,
} from './project/scene.ts';
export type { Combination } from './bodies/trimmed-face.ts';
export { BODIES, type OwnBody, bodyDefinition } from './bodies/registry.ts';
export { concentratorSizes } from './bodies/concentrator.ts';
export { type Finish } from './finishes/finish.ts';
export { compileScatter, type Scatter } from './finishes/laws/registry.ts';
export { henyeyGreenstein, henyeyGreensteinBeyond, henyeyGreensteinCosine } from './finishes/phase-function.ts';
export { bareShares, metalShares, totalReflectionPhase, type FaceShares } from './finishes/fresnel.ts';
export { filmShares, type Film } from './finishes/thin-film.ts';
export { RadialLobe } from './finishes/radial-lobe.ts';
export { type SceneModel, compileScene } from './scene/scene-model.ts';
export { meshRecord, readyMesh } from './bodies/mesh-record.ts';
export { MeshTree } from './bodies/mesh-tree.ts';
export { MAX_MESH_BYTES, readMeshFile } from './formats/mesh-file.ts';
export { BASIC_FINISHES } from './finishes/basic.ts';
export { BATCH, chunksOf, traceAll } from './scene/run.ts';
export { energyLines, energyOf, type Tally, joinTallies } from './scene/tally.ts';
export { type DetectorNumbers, type Estimate, cellError, detectorNumbers } from './scene/statistics.ts';
export { type DetectorReport, type MapReport, type SceneReport, sceneReport } from './scene/report.ts';
export { type Channel, type Counted, type Look, countedOf } from './scene/channels.ts';
export { type DetectorUnits, detectorUnits } from './scene/charts.ts';
export { SceneTracer, type Stretch, type TracerOptions } from './scene/tracer.ts';
export { type Wavefront, wavefront, wavefrontAt, wavefrontNumbers } from './imaging/wavefront/wavefront.ts';
export { zernikeFit } from './imaging/wavefront/zernike-fit.ts';
export { type SeidelSums, seidel } from './imaging/field/seidel.ts';
export { narrowFoci } from './imaging/field/astigmatism.ts';
export { type MtfMethod, fieldMtf, modulation } from './imaging/point/mtf.ts';
export { type PupilFunction, autocorrelation } from './imaging/wavefront/otf.ts';
export { DARK_RINGS, airyEncircled, airyIrradiance } from './imaging/wavefront/airy.ts';
export { perfectModulation } from './imaging/wavefront/perfect-modulation.ts';
export { PICTURE_MOST, toTone, writePicture } from './imaging/point/picture-targets.ts';
export { beamAt, beamOfWaist, beamThrough, throughHole } from './imaging/field/gaussian-beam.ts';
export { fourierSquare } from './compute/fourier.ts';
export { projectedSolidAngle, relativeIllumination } from './imaging/field/relative-illumination.ts';
export { type SceneModelPart, type SceneRays, type SceneView, type ViewFace } from './imaging/section/scene-view.ts';
export { sectionLines } from './imaging/section/outlines.ts';
export {
  type SceneGesture,
  type SceneKind,
  addBody,
  addCopy,
  addDetector,
  addGroup,
  addLens,
  addMesh,
  addScene,
  addSource,
  aimTargets,
  combine,
  removeThing,
  setExcluded,
  setFinish,
  setOf,
  thingTitle,
} from './project/scene-edits.ts';
export { SHELF_FINISHES } from './finishes/shelf.ts';
export { groupParts, removeParts, setParts, setPartsFinish, takesMaterial } from './project/many-parts.ts';
export { middleOf, type NamedPlace, sourceFromTo, standOnFace } from './project/scene-places.ts';
export {
  addFinish,
  addLayer,
  findFinish,
  glassAirSurfaces,
  moveLayer,
  removeFinish,
  removeLayer,
  setLayerMaterial,
  setOfFinish,
  setSurfaceFinish,
  takeInFinish,
  usesOfFinish,
  type Change,
} from './project/finish-edits.ts';
export { STANDARD } from './materials/air.ts';
export { filmMedia } from './project/film-media.ts';
export {
  addSpectralRow,
  oneNumber,
  overWavelength,
  pasteSpectral,
  removeSpectralRow,
  spectralTableAt,
} from './project/spectral-edits.ts';
export { sortedRows, type SpectralTable } from './light/spectral.ts';
export { finishProblems } from './finishes/finish-problems.ts';
export { sharesOverAngle, sharesOverWavelength, type FaceCurve, type FaceMedia } from './finishes/finish-curves.ts';
export { filmOf, layerSpecs, type Layer } from './finishes/optics/coating.ts';
export { compileOptics, FACE_OPTICS, OPTICS_KINDS, type FaceOptics } from './finishes/optics/registry.ts';
export { SCATTER_KINDS, SCATTER_LAWS } from './finishes/laws/registry.ts';
export { LIGHT_FORMS, type LightForm, lightFormProject, sceneOnly } from './project/light-forms.ts';
