import {
  bendThrough,
  moveVertex,
  setSemiAperture,
  type Gesture,
  type Lens,
  type Outcome,
  success,
} from '@ulvex/core';

/** What is taken hold of in the drawing: the vertex, the rim (its aperture) or the bending handle of a surface. */
export type Handle = 'vertex' | 'rim' | 'bend';

/** Where a drag began: the surface with its vertex and semi-aperture then, and the point that was taken, in mm. */
export interface DragStart {
  readonly handle: Handle;
  readonly surface: string;
  readonly vertexZ: number;
  readonly semi: number;
  readonly z: number;
  readonly y: number;
}

/** The gesture of a drag from where it began to (z, y), on the lens as it was then. Fails where it cannot be made. */
export function dragGesture(lens: Lens, start: DragStart, z: number, y: number): Outcome<Gesture> {
  switch (start.handle) {
    case 'vertex':
      return success(moveVertex(lens, start.surface, tidy(z - start.z)));
    case 'rim': {
      const semi = tidy(Math.abs(start.semi + (y - start.y)));
      return success(setSemiAperture(lens, start.surface, Math.max(semi, 0.001)));
    }
    case 'bend':
      return bendThrough(lens, start.surface, start.semi, tidy(z - start.vertexZ));
  }
}

/** Hands are not exact: whole micrometres keep the numbers readable. */
function tidy(value: number): number {
  return Math.round(value * 1000) / 1000;
}
