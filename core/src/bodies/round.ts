import { defineBody, length, upright, type BuiltFace } from './body.ts';
import { TorusFace } from './torus-face.ts';
import { coneFace, discFace, QuadricFace } from './quadric-face.ts';
import type { Corner } from './plane-face.ts';
import { polygonArea } from './plane-face.ts';

const LENGTH = length('length', 'Length', 'Along z, from z = 0 on.');

/** A round rod. */
export interface Cylinder {
  readonly kind: 'cylinder';
  readonly radius: number;
  readonly length: number;
}

export const cylinder = defineBody<Cylinder>({
  kind: 'cylinder',
  title: 'Cylinder',
  meaning: 'A round rod or disc about z, its front at z = 0. Faces: front, back, side.',
  first: { kind: 'cylinder', radius: 10, length: 10 },
  sketch: 'M4 3h11c2 0 2 8 0 8h-11c-2 0 -2 -8 0 -8z',
  solid: true,
  parameters: [length('radius', 'Radius', 'Of its round wall.'), LENGTH],
  build: ({ radius, length: z }) => [
    upright('front', discFace(0, 0, radius, -1)),
    upright('back', discFace(z, 0, radius, 1)),
    upright('side', coneFace(radius, 0, radius, z, 1)),
  ],
});

/** A cone or a frustum of one. */
export interface Cone {
  readonly kind: 'cone';
  readonly front: number;
  readonly back: number;
  readonly length: number;
}

export const cone = defineBody<Cone>({
  kind: 'cone',
  title: 'Cone',
  meaning:
    'A cone about z from its front radius at z = 0 to its back radius; one of them may be 0. Faces: front, back, side.',
  first: { kind: 'cone', front: 5, back: 10, length: 15 },
  sketch: 'M4 5v4l12 3v-10z',
  solid: true,
  parameters: [
    length('front', 'Front radius', 'At z = 0.', { above: undefined, min: 0 } as never),
    length('back', 'Back radius', 'At the far end.', { above: undefined, min: 0 } as never),
    LENGTH,
  ],
  objection: ({ front, back }) => (front > 0 || back > 0 ? null : 'a cone needs a radius at one end'),
  build: ({ front, back, length: z }) => [
    ...(front > 0 ? [upright('front', discFace(0, 0, front, -1))] : []),
    ...(back > 0 ? [upright('back', discFace(z, 0, back, 1))] : []),
    upright('side', coneFace(front, 0, back, z, 1)),
  ],
});

/** A pipe. */
export interface Tube {
  readonly kind: 'tube';
  readonly radius: number;
  readonly inner: number;
  readonly length: number;
}

export const tube = defineBody<Tube>({
  kind: 'tube',
  title: 'Tube',
  meaning: 'A pipe about z, open at both ends. Faces: front, back, side, bore.',
  first: { kind: 'tube', radius: 12, inner: 10, length: 30 },
  sketch: 'M2 2h16v3h-16z M2 9h16v3h-16z',
  solid: true,
  parameters: [
    length('radius', 'Outer radius', 'Of its outer wall.'),
    length('inner', 'Inner radius', 'Of its bore.'),
    LENGTH,
  ],
  objection: ({ radius, inner }) => (inner < radius ? null : 'the inner radius must be below the outer one'),
  build: ({ radius, inner, length: z }) => [
    upright('front', discFace(0, inner, radius, -1)),
    upright('back', discFace(z, inner, radius, 1)),
    upright('side', coneFace(radius, 0, radius, z, 1)),
    upright('bore', coneFace(inner, 0, inner, z, -1)),
  ],
});

/** A ball. */
export interface Ball {
  readonly kind: 'sphere';
  readonly radius: number;
}

export const sphere = defineBody<Ball>({
  kind: 'sphere',
  title: 'Sphere',
  meaning: 'A ball about the origin. Face: surface.',
  first: { kind: 'sphere', radius: 10 },
  sketch: 'M10 2a5 5 0 1 0 .01 0z',
  solid: true,
  parameters: [length('radius', 'Radius', 'Of the ball.')],
  build: ({ radius }) => [upright('surface', sphereFace(radius))],
});

/** A whole sphere about the origin with the outside outside. */
export function sphereFace(radius: number): QuadricFace {
  return new QuadricFace(
    { a: 1 / radius, b: 1 / radius, g: 0, d: -radius },
    { kind: 'wall', from: -radius, to: radius },
    1,
    { kind: 'sphere', radius },
  );
}

/** A ring of round section. */
export interface Torus {
  readonly kind: 'torus';
  readonly ring: number;
  readonly tube: number;
}

export const torus = defineBody<Torus>({
  kind: 'torus',
  title: 'Torus',
  meaning: 'A ring of round section about z. Face: surface.',
  first: { kind: 'torus', ring: 15, tube: 4 },
  sketch: 'M10 1.5a5.5 5.5 0 1 0 .01 0z M10 5a2 2 0 1 0 .01 0z',
  solid: true,
  parameters: [
    length('ring', 'Ring radius', 'From the axis to the centre of the section.'),
    length('tube', 'Section radius', 'Of the round section; below the ring radius.'),
  ],
  objection: ({ ring, tube }) => (tube < ring ? null : 'the section must be smaller than the ring'),
  build: ({ ring, tube }) => [upright('surface', new TorusFace(ring, tube))],
});

/** A profile turned about z. */
export interface Revolved {
  readonly kind: 'revolved';
  /** Corners [r, z], r from 0 on; the last is joined to the first. */
  readonly points: readonly Corner[];
}

export const revolved = defineBody<Revolved>({
  kind: 'revolved',
  title: 'Revolved profile',
  meaning:
    'A closed profile of straight pieces, turned about z. Faces: face_1 … in the order of its pieces; pieces on the axis make none.',
  first: {
    kind: 'revolved',
    points: [
      [0, 0],
      [10, 0],
      [15, 10],
      [0, 10],
    ],
  },
  sketch: 'M3 7c0 -4 5 -5 14 -6v12c-9 -1 -14 -2 -14 -6z',
  points: { points: ['r', 'z'] },
  solid: true,
  parameters: [],
  objection: ({ points }) =>
    points.length < 3
      ? 'a profile needs three corners'
      : points.some(([r]) => r < 0)
        ? 'a profile stays on one side of the axis: no radius below 0'
        : Math.abs(polygonArea(points)) > 0
          ? null
          : 'the profile encloses nothing',
  build({ points }) {
    // In the plane of (r, z) with corners running from r toward z the outside lies to the right of each piece.
    const corners = polygonArea(points) > 0 ? points : [...points].reverse();
    return corners.flatMap(([r0, z0], i): BuiltFace[] => {
      const [r1, z1] = corners[(i + 1) % corners.length];
      if (r0 === 0 && r1 === 0) return [];
      const number = polygonArea(points) > 0 ? i + 1 : points.length - ((i + 1) % points.length);
      const name = `face_${number}`;
      if (z0 === z1) return [upright(name, discFace(z0, Math.min(r0, r1), Math.max(r0, r1), r1 > r0 ? -1 : 1))];
      return [upright(name, coneFace(r0, z0, r1, z1, z1 > z0 ? 1 : -1))];
    });
  },
});
