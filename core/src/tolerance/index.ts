// A door of its own, for the terminal and what studies tolerances: what it evaluates comes when it is first needed.
export { toleranceFindings } from './findings.ts';
export { type LotSummary, type LotTrial, keeps, makeTrials, summaryOf } from './monte-carlo.ts';
export { type OneByOne, oneByOne } from './one-by-one.ts';
export { type WatchedRequirement, watchedRequirements } from './watched.ts';
export { toleranceTitle, toleranceUnit } from '../tolerances/perturb.ts';
