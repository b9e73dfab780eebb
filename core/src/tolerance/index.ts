// A door of its own, for the terminal and what studies tolerances: what it evaluates comes when it is first needed.
export { type ToleranceFinding, toleranceFindings } from './findings.ts';
export { type Influence, influencesOf, type Sampled, together, type Together } from './influence.ts';
export { keeps, type LotSummary, type LotTrial, summaryOf } from './lot-summary.ts';
export { joint, firstTrials, nextTrials, worstError, type FitQuality, type Joint, type JointTrial } from './joint.ts';
export { responseByDerivatives } from './by-derivatives.ts';
export { lotByResponse, sumUp, type ResponseLotSummary } from './response-lot.ts';
export { curvesOf, isKnown, type Response } from './response.ts';
export { type MadeState, stateOfMade } from './made-state.ts';
export { LotDraws, makeTrials } from './monte-carlo.ts';
export { type DesignStand, type OneByOne, oneByOne, type StudyInput } from './one-by-one.ts';
export { type Effects, effectsOfCurves, effectsOfResponse } from './effects.ts';
export { suggestLimits, type Suggestion } from './suggest.ts';
export { inUnits, type WatchedRequirement, watchedRequirements } from './watched.ts';
export { perturbed } from '../tolerances/perturb.ts';
export { compensatorTitle, compensatorUnit, toleranceTitle, toleranceUnit } from '../tolerances/titles.ts';
export {
  addAdjustment,
  addTolerance,
  type AdjustmentChange,
  applyGrade,
  changeAdjustment,
  readGroup,
  changeTolerances,
  readLimits,
  removeTolerances,
  setRefocus,
  toleranceFigures,
  toleranceGroup,
  toleranceHomogeneity,
  tolerancePlaces,
  changeWatch,
  type ToleranceChange,
} from '../tolerances/edits.ts';
export { GRADES, gradeTolerances } from '../tolerances/grades.ts';
export { capability, yieldInterval } from '../math/capability.ts';
