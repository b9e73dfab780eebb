// A door of its own, for the room of Improve, the terminal and trials: what evaluates lenses comes when it is first needed.
export { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
export * from './free-numbers.ts';
export * from './image-goal.ts';
export * from './making-checks.ts';
export * from './making-limits.ts';
export * from './moves.ts';
export * from './nearest-glasses.ts';
export * from './polish.ts';
export * from './diagnosis.ts';
export * from './problem.ts';
export * from './search.ts';
export * from './shortlist.ts';
export * from './stand.ts';
export * from './test-plates.ts';
