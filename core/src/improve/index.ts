// A door of its own, for the room of Improve, the terminal and trials: what evaluates lenses comes when it is first needed.
export { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
export { makingRows, rimRays } from './making-limits.ts';
export { type PolishEnd, polish } from './polish.ts';
export { type Candidate, allGlasses, isSameLens, search } from './search.ts';
export { glassShortlist } from './shortlist.ts';
