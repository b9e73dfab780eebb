import { biconic } from './biconic.ts';
import { conic } from './conic.ts';
import { evenAsphere } from './even-asphere.ts';
import { fresnel } from './fresnel.ts';
import { qbfs, qcon } from './forbes.ts';
import { xyPolynomial, zernikeFringe, zernikeNoll } from './freeform.ts';
import { idealLens } from './ideal-lens.ts';
import { oddAsphere } from './odd-asphere.ts';
import { plane } from './plane.ts';
import { sampledSag } from './sampled-sag.ts';
import type { CompiledShape, ShapeDefinition } from './shape.ts';
import { sphere } from './sphere.ts';
import { cylinder, toroid } from './toroid.ts';
import { Kinds } from '../math/kinds.ts';
import { extentToNumber, type Extent } from '../math/parameter.ts';

/** Every kind of shape, in menu order. A new one is a file beside these and a word in this list. */
export const SHAPES = [
  plane,
  sphere,
  conic,
  evenAsphere,
  oddAsphere,
  qbfs,
  qcon,
  cylinder,
  toroid,
  biconic,
  xyPolynomial,
  zernikeNoll,
  zernikeFringe,
  sampledSag,
  fresnel,
  idealLens,
] as const;

type RecordOf<D> = D extends ShapeDefinition<infer R> ? R : never;

/** A shape as the document holds it. */
export type Shape = RecordOf<(typeof SHAPES)[number]>;
export type ShapeKind = Shape['kind'];

/** Shapes by kind. */
export const SHAPE_KINDS = new Kinds<ShapeDefinition<Shape>>('shape', SHAPES);

/** The definition of a kind, or undefined for a word that is none. */
export const shapeDefinition = (kind: string) => SHAPE_KINDS.find(kind);

/** Documents do not change what they hold: a shape that stayed the same between two versions of a lens is made ready once. */
const READY = new WeakMap<Shape, CompiledShape>();

/** Makes a shape ready for tracing. Throws for a kind that is not registered: documents are validated before. */
export function compileShape(shape: Shape): CompiledShape {
  const ready = READY.get(shape);
  if (ready) return ready;
  const compiled = SHAPE_KINDS.of(shape.kind).compile(shape);
  READY.set(shape, compiled);
  return compiled;
}

/** Radius in mm (Infinity for a flat) and conic constant (0 where there is none) of any shape. */
export function shapeNumbers(shape: Shape): { radius: number; conic: number } {
  const { radius = 'infinity', conic: k = 0 } = shape as { radius?: Extent; conic?: number };
  return { radius: extentToNumber(radius), conic: k };
}

/** Whether a shape is a conic of revolution and nothing more: a plane, a sphere or a conic. */
export function isPlainConic({ kind }: Shape): boolean {
  return kind === 'plane' || kind === 'sphere' || kind === 'conic';
}
