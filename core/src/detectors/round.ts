import { coneFace } from '../bodies/quadric-face.ts';
import { sphereFace } from '../bodies/round.ts';
import { millimetres } from '../math/length-specs.ts';
import { ballMap, wallMap } from './cells.ts';
import { definePlace, ring, type Piece } from './place.ts';

/** The wall of a cylinder about z, and about the origin. */
export interface CylinderPlace {
  readonly kind: 'cylinder';
  readonly radius: number;
  readonly length: number;
}

export const cylinder = definePlace<CylinderPlace>({
  kind: 'cylinder',
  title: 'wall of a cylinder',
  meaning: 'The wall of a cylinder about z that light passes unhindered.',
  first: { kind: 'cylinder', radius: 20, length: 40 },
  parameters: [
    millimetres('radius', 'Radius', 'Of the cylinder about z.'),
    millimetres('length', 'Length', 'Along z, about the origin.'),
  ],
  map: ({ radius, length }, columns, rows) => wallMap(radius, -length / 2, length / 2, columns, rows),
  face: ({ radius, length }) => coneFace(radius, -length / 2, radius, length / 2, 1),
  outline({ radius, length }) {
    const [from, to] = [-length / 2, length / 2];
    const line = (a: number, b: number): Piece => [a * radius, b * radius, from, a * radius, b * radius, to];
    return [
      ...[from, to].flatMap((z) => ring(radius, (a, b) => [a, b, z])),
      line(1, 0),
      line(0, 1),
      line(-1, 0),
      line(0, -1),
    ];
  },
});

/** A ball about the origin. */
export interface SpherePlace {
  readonly kind: 'sphere';
  readonly radius: number;
}

export const sphere = definePlace<SpherePlace>({
  kind: 'sphere',
  title: 'ball',
  meaning: 'A ball about the origin that light passes unhindered.',
  first: { kind: 'sphere', radius: 50 },
  parameters: [millimetres('radius', 'Radius', 'Of the ball about the origin.')],
  map: ({ radius }, columns, rows) => ballMap({ kind: 'sphere', radius }, 180, 90, columns, rows),
  face: ({ radius }) => sphereFace(radius),
  outline: ({ radius }) => [
    ...ring(radius, (a, b) => [a, b, 0]),
    ...ring(radius, (a, b) => [0, a, b]),
    ...ring(radius, (a, b) => [b, 0, a]),
  ],
});
