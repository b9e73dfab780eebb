import { conic } from './conic.ts';
import { evenAsphere } from './even-asphere.ts';
import { plane } from './plane.ts';
import type { CompiledShape, ShapeDefinition } from './shape.ts';
import { sphere } from './sphere.ts';

/** Every kind of shape, in menu order. A new one is a file beside these and a word in this list. */
export const SHAPES = [plane, sphere, conic, evenAsphere] as const;

type RecordOf<D> = D extends ShapeDefinition<infer R> ? R : never;

/** A shape as the document holds it. */
export type Shape = RecordOf<(typeof SHAPES)[number]>;
export type ShapeKind = Shape['kind'];

const byKind = new Map<string, ShapeDefinition<Shape>>();
for (const definition of SHAPES) {
  if (byKind.has(definition.kind)) throw new Error(`Two shapes are called ${definition.kind}`);
  byKind.set(definition.kind, definition as unknown as ShapeDefinition<Shape>);
}

/** The definition of a kind, or undefined for a word that is none. */
export function shapeDefinition(kind: string): ShapeDefinition<Shape> | undefined {
  return byKind.get(kind);
}

/** Makes a shape ready for tracing. Throws for a kind that is not registered: documents are validated before. */
export function compileShape(shape: Shape): CompiledShape {
  const definition = byKind.get(shape.kind);
  if (!definition) throw new Error(`No shape is called ${String(shape.kind)}`);
  return definition.compile(shape);
}
