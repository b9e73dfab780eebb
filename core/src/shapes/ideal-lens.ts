import { curvatureOf, type Extent } from '../math/parameter.ts';
import { compileConic } from './conic.ts';
import { defineShape } from './shape.ts';

export interface IdealLensRecord {
  readonly kind: 'ideal_lens';
  readonly focal_length: Extent;
  readonly object?: Extent;
}

/** A plane that images every point of one plane onto a point of another: see `sequence/ideal-turn.ts`. */
export const idealLens = defineShape<IdealLensRecord>({
  kind: 'ideal_lens',
  title: 'Ideal thin lens',
  meaning:
    'A flat lens without aberrations: n′ tan U′ = n tan U − y/f. Every object plane is imaged without ' +
    'distortion; paths are equal, too, for points of the plane at the object distance.',
  parameters: [
    {
      id: 'focal_length',
      title: 'Focal length',
      meaning: 'Focal length f in air, the reciprocal of the power; positive where it collects light.',
      unit: 'mm',
      kind: 'length',
      allowInfinity: true,
      transform: 'reciprocal',
    },
    {
      id: 'object',
      title: 'Object distance',
      meaning: 'From the object plane, in front, for which optical paths are equal: it matters for wavefronts only.',
      unit: 'mm',
      kind: 'length',
      allowInfinity: true,
      fallback: Infinity,
      transform: 'reciprocal',
    },
  ],
  compile({ focal_length, object = 'infinity' }) {
    const flat = compileConic(0, 0);
    const none = (_x: number, _y: number, out: Float64Array) => void out.fill(0);
    return {
      ...flat,
      form: undefined,
      derivatives: { jet: flat.derivatives.jet, by: { focal_length: none, object: none } },
      ideal: { power: curvatureOf(focal_length), nearness: curvatureOf(object) },
    };
  },
});
