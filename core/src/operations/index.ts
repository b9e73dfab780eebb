// A door of its own, for pages: operations come when the first one is tried.
export { findOperation, OPERATIONS } from './registry.ts';
export { operate } from './operation.ts';
export { scaledWishes } from './scale.ts';
