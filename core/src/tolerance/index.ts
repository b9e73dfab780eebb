// A door of its own, for the terminal and what studies tolerances: what it evaluates comes when it is first needed.
export { type ToleranceFinding, toleranceFindings } from './findings.ts';
export { type Influence, influencesOf, type Sampled } from './influence.ts';
export { keeps, type LotSummary, type LotTrial, summaryOf } from './lot-summary.ts';
export { joint, firstTrials, nextTrials, worstError, type FitQuality, type Joint, type JointTrial } from './joint.ts';
export { responseByDerivatives } from './by-derivatives.ts';
export { lotByResponse, sumUp, type ResponseLotSummary } from './response-lot.ts';
export { curvesOf, isKnown, type Response } from './response.ts';
export { LotDraws, makeTrials } from './monte-carlo.ts';
export { type DesignStand, type OneByOne, oneByOne, type StudyInput } from './one-by-one.ts';
export { suggestLimits, type Suggestion } from './suggest.ts';
export { inUnits, type WatchedRequirement, watchedRequirements } from './watched.ts';
export { perturbed } from '../tolerances/perturb.ts';
export { toleranceTitle, toleranceUnit } from '../tolerances/titles.ts';
export {
  addTolerance,
  applyGrade,
  changeTolerances,
  readLimits,
  removeTolerances,
  setRefocus,
  toleranceFigures,
  toleranceGroup,
  tolerancePlaces,
  changeWatch,
  type ToleranceChange,
} from '../tolerances/edits.ts';
export { GRADES, gradeTolerances } from '../tolerances/grades.ts';
export { capability, yieldInterval } from '../math/capability.ts';
