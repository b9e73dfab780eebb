import { curvatureOf, type Extent } from '../math/parameter.ts';
import { compileConic } from './conic.ts';
import { RADIUS, defineShape } from './shape.ts';

export interface SphereRecord {
  readonly kind: 'sphere';
  readonly radius: Extent;
}

export const sphere = defineShape<SphereRecord>({
  kind: 'sphere',
  title: 'Sphere',
  meaning: 'Part of a sphere: z = c r²/(1 + √(1 − c² r²)), c = 1/radius; flat for an infinite radius.',
  parameters: [RADIUS],
  compile: (record) => compileConic(curvatureOf(record.radius), 0),
});
