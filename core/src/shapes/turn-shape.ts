import { compileShape, shapeDefinition, type Shape } from './registry.ts';

/** Numbers that say how a shape is measured or stretched, not which way it bends. */
const KEPT: ReadonlySet<string> = new Set(['conic', 'conic_x', 'norm_radius']);
/** A place off every axis and diagonal. */
const [X, Y] = [0.37, 0.23];

/**
 * The shape of a surface seen from behind: of an element that was turned end for end about the y axis, z′ = −z(−x, y). Null for shapes
 * that have a side, such as an ideal lens for an object at a finite distance.
 */
export function turnShape(shape: Shape): Shape | null {
  if (shape.kind === 'ideal_lens') return (shape.object ?? 'infinity') === 'infinity' ? shape : null;
  const record = shape as unknown as Readonly<Record<string, unknown>>;
  const turned: Record<string, unknown> = { ...record };
  for (const { id } of shapeDefinition(shape.kind)?.parameters ?? []) {
    const value = record[id];
    if (typeof value !== 'number' || KEPT.has(id)) continue;
    turned[id] = -value * (id.startsWith('radius') || id === 'scale' ? 1 : mirrorSign(shape, id)) || 0;
  }
  if (shape.kind === 'sampled_sag' && shape.grid) {
    const { x, dx, columns, z } = shape.grid;
    const rows = z.length / columns;
    turned.grid = {
      ...shape.grid,
      x: -(x + (columns - 1) * dx),
      z: Array.from({ length: rows }, (_, row) => z.slice(row * columns, (row + 1) * columns).reverse()).flat(),
    };
  }
  return turned as unknown as Shape;
}

/** 1 where a coefficient's share of the sag is the same at −x, −1 where it is the opposite. */
function mirrorSign(shape: Shape, id: string): number {
  const alone: Record<string, unknown> = { kind: shape.kind };
  for (const spec of shapeDefinition(shape.kind)!.parameters) {
    if (spec.id === 'radius' || spec.id === 'radius_x') alone[spec.id] = 'infinity';
    else if (spec.id === 'norm_radius') alone[spec.id] = 1;
  }
  alone[id] = 1;
  const { sag } = compileShape(alone as unknown as Shape);
  return Math.sign(sag(X, Y)) * Math.sign(sag(-X, Y)) || 1;
}
