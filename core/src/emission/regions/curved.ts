import { coneFace } from '../../bodies/quadric-face.ts';
import { sphereFace } from '../../bodies/round.ts';
import { millimetres } from '../../math/length-specs.ts';
import { defineRegion, onFace } from './region.ts';

/** A glowing wire along z. */
export interface FilamentRegion {
  readonly kind: 'filament';
  readonly radius: number;
  readonly length: number;
}

/** A ball that shines outward. */
export interface BallRegion {
  readonly kind: 'sphere';
  readonly radius: number;
}

export const filament = defineRegion<FilamentRegion>({
  kind: 'filament',
  title: 'Filament',
  meaning: 'The side of a wire along z, from which light starts outward.',
  parameters: [
    millimetres('radius', 'Wire radius', 'Of the wire along z.'),
    millimetres('length', 'Wire length', 'Along z, about the origin.'),
  ],
  first: { kind: 'filament', radius: 0.1, length: 4 },
  compile: ({ radius, length }) => ({ start: onFace(coneFace(radius, -length / 2, radius, length / 2, 1)) }),
});

export const ball = defineRegion<BallRegion>({
  kind: 'sphere',
  title: 'Ball',
  meaning: 'The surface of a ball, from which light starts outward.',
  parameters: [millimetres('radius', 'Radius', 'Of the ball that shines outward.')],
  first: { kind: 'sphere', radius: 1 },
  compile: ({ radius }) => ({ start: onFace(sphereFace(radius)) }),
});
