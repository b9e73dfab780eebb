// A door of its own, for pages: what evaluates lenses comes when the first number follows from others.
export { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
export * from './change-state.ts';
export * from './relation-formula.ts';
export { settle } from './settle.ts';
