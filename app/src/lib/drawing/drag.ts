import {
  bendThrough,
  moveVertex,
  setSemiAperture,
  type Gesture,
  type Lens,
  type Outcome,
  success,
  type SectionSurface,
} from '@ulvex/core';

/** What is taken hold of in the drawing: the vertex, the rim (its aperture) or the bending handle of a surface. */
export type Handle = 'vertex' | 'rim' | 'bend';

/** Where a drag began: the surface as it was drawn then, and the point that was taken, in mm. */
export interface DragStart {
  readonly handle: Handle;
  readonly surface: SectionSurface;
  readonly z: number;
  readonly y: number;
}

/** The gesture of a drag from where it began to (z, y), on the lens as it was then. Fails where it cannot be made. */
export function dragGesture(lens: Lens, start: DragStart, z: number, y: number): Outcome<Gesture> {
  const { id, semi, vertex, axis, ownZ, ownY } = start.surface;
  const along = ([dz, dy]: readonly [number, number], fromZ: number, fromY: number) =>
    tidy((z - fromZ) * dz + (y - fromY) * dy);
  switch (start.handle) {
    case 'vertex':
      return success(moveVertex(lens, id, along(axis, start.z, start.y)));
    case 'rim':
      return success(setSemiAperture(lens, id, Math.max(Math.abs(semi + along(ownY, start.z, start.y)), 0.001)));
    case 'bend': {
      const end = lowerEnd(start.surface);
      const across = (end[0] - vertex[0]) * ownY[0] + (end[1] - vertex[1]) * ownY[1];
      const sag = (end[0] - vertex[0]) * ownZ[0] + (end[1] - vertex[1]) * ownZ[1];
      return bendThrough(lens, id, across, sag + along(ownZ, start.z, start.y));
    }
  }
}

/** The point at which a surface is bent by hand: the lower end of its line, in the drawing's coordinates, mm. */
export function lowerEnd({ line, vertex }: SectionSurface): readonly [z: number, y: number] {
  return line.length >= 2 ? [line[0], line[1]] : vertex;
}

/** The point at which its aperture is set by hand: the upper end of its line. */
export function upperEnd({ line, vertex }: SectionSurface): readonly [z: number, y: number] {
  return line.length >= 2 ? [line[line.length - 2], line[line.length - 1]] : vertex;
}

/** Hands are not exact: whole micrometres keep the numbers readable. */
function tidy(value: number): number {
  return Math.round(value * 1000) / 1000;
}
