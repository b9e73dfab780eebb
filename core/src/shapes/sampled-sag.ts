import { curvatureOf, type Extent } from '../math/parameter.ts';
import { splineOver, type Grid } from '../math/spline2d.ts';
import { compileConic } from './conic.ts';
import { sagSurface } from './sag-surface.ts';
import { CONIC, RADIUS, defineShape } from './shape.ts';

export interface SampledSagRecord {
  readonly kind: 'sampled_sag';
  readonly radius: Extent;
  readonly conic?: number;
  readonly scale?: number;
  readonly grid?: Grid;
}

/** A measured or computed surface: what it differs from a conic by, on a grid. It ends where the grid does. */
export const sampledSag = defineShape<SampledSagRecord>({
  kind: 'sampled_sag',
  title: 'Sampled sag',
  meaning:
    'A conic with a grid of sags on top, a twice smooth bicubic spline between them: z = c r²/(1 + √(1 − ' +
    '(1+k) c² r²)) + s·z(x, y). It ends where the grid ends.',
  parameters: [
    RADIUS,
    CONIC,
    {
      id: 'scale',
      title: 'Scale',
      meaning: 'Factor s that the sags of the grid are multiplied by: 1 as given, 0 for the conic alone.',
      unit: '',
      kind: 'number',
      fallback: 1,
      transform: 'value',
    },
  ],
  compile({ radius, conic = 0, scale = 1, grid }) {
    const base = compileConic(curvatureOf(radius), conic);
    const spline = grid && splineOver(grid);
    const jet = new Float64Array(6);
    const vertex = new Float64Array(6);
    spline?.(0, 0, vertex);
    const rows = grid ? grid.z.length / grid.columns : 0;
    const farthest = (from: number, step: number, count: number) =>
      Math.max(Math.abs(from), Math.abs(from + step * (count - 1)));
    const corner = grid
      ? Math.hypot(farthest(grid.x, grid.dx, grid.columns), farthest(grid.y, grid.dy, rows))
      : Infinity;
    return sagSurface({
      curvature: curvatureOf(radius) + (spline ? scale * vertex[5] : 0),
      reach: Math.min(base.reach, corner),
      mirrorX: !spline || scale === 0,
      derivatives: {
        jet(x, y, out) {
          base.derivatives.jet(x, y, out);
          if (!spline) return;
          spline(x, y, jet);
          for (let k = 0; k < 6; k++) out[k] += scale * jet[k];
        },
        by: {
          ...base.derivatives.by,
          scale(x, y, out) {
            out.fill(0);
            if (!spline) return;
            spline(x, y, jet);
            for (let k = 0; k < 3; k++) out[k] = jet[k];
          },
        },
      },
    });
  },
});
