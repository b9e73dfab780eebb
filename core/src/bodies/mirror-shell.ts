import { compileShape, type Shape } from '../shapes/registry.ts';
import { CONIC, RADIUS } from '../shapes/shape.ts';
import { extentToNumber, type Extent } from '../math/parameter.ts';
import { defineBody, length, upright } from './body.ts';
import { QuadricFace } from './quadric-face.ts';
import type { FaceForm } from './face-form.ts';
import { SagFace } from './sag-face.ts';
import type { CompiledArea } from '../apertures/area.ts';

/**
 * The face that a surface shape makes out to a radius: in closed form for quadrics, by search for the others.
 *
 * @param sign - 1 where the outside lies toward +z
 */
export function faceOfShape(
  shape: Shape,
  inner: number,
  outer: number,
  mask: CompiledArea | null,
  sign: 1 | -1,
): FaceForm {
  if (shape.kind === 'plane' || shape.kind === 'sphere' || shape.kind === 'conic') {
    const { radius = 'infinity', conic = 0 } = shape as { radius?: Extent; conic?: number };
    const c = 1 / extentToNumber(radius);
    // c(x² + y² + (1+k)z²) − 2z = 0; its gradient points to −z at the vertex.
    const quadric = { a: c, b: c * (1 + conic), g: -1, d: 0 };
    return new QuadricFace(quadric, { kind: 'cap', inner, outer, mask }, sign === 1 ? -1 : 1);
  }
  return new SagFace(compileShape(shape), inner, outer, mask, sign);
}

/** A curved surface without thickness. */
export interface Shell {
  readonly kind: 'shell';
  readonly radius: Extent;
  readonly conic?: number;
  readonly semi: number;
  readonly hole?: number;
}

export const shell = defineBody<Shell>({
  kind: 'shell',
  title: 'Curved sheet',
  meaning:
    'A conic surface of revolution without thickness, vertex at the origin, such as a mirror. Face: face, seen from both sides.',
  first: { kind: 'shell', radius: -100, semi: 20 },
  finish: 'mirror',
  sketch: 'M7 1c4 4 4 8 0 12c5 -3 5 -9 0 -12z',
  solid: false,
  parameters: [
    RADIUS,
    CONIC,
    length('semi', 'Semi-aperture', 'Out to which radius it goes.'),
    {
      id: 'hole',
      title: 'Hole radius',
      meaning: 'Of a hole in its middle; 0 for none.',
      unit: 'mm',
      kind: 'length',
      min: 0,
      fallback: 0,
      transform: 'value',
    },
  ],
  objection({ radius, conic = 0, semi, hole = 0 }) {
    const { reach } = compileShape({ kind: 'conic', radius, conic });
    if (!(semi <= reach)) return `the surface ends ${reach.toPrecision(5)} mm from its axis`;
    return hole < semi ? null : 'the hole is larger than the sheet';
  },
  build: ({ radius, conic = 0, semi, hole = 0 }) => [
    upright('face', faceOfShape({ kind: 'conic', radius, conic }, hole, semi, null, 1)),
  ],
});
