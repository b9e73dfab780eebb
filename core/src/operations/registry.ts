import { achromatise, bendElement, insertDoublet, insertFieldLens, moveStop, splitElement } from './elements.ts';
import { flip } from './flip.ts';
import { foldByMirror } from './fold.ts';
import type { Operation } from './operation.ts';
import { refocusBy } from './refocus-by.ts';
import { scaleByFactor, scaleToFocalLength } from './scale.ts';
import { turnAround } from './turn-around.ts';

/** Every operation on a lens, in menu order. A new one is a file beside these and a line here. */
export const OPERATIONS: readonly Operation[] = [
  turnAround,
  flip,
  refocusBy,
  scaleToFocalLength,
  scaleByFactor,
  splitElement,
  bendElement,
  achromatise,
  insertDoublet,
  insertFieldLens,
  foldByMirror,
  moveStop,
];

/** The operation with an id, or undefined. */
export function findOperation(id: string): Operation | undefined {
  return OPERATIONS.find((one) => one.id === id);
}
