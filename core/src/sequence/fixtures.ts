import { rayBlock } from '../compute/ray-block.ts';
import type { LensModel } from './lens-model.ts';
import { traceBlock } from './trace.ts';

type Triple = readonly [number, number, number];

/** For tests: one ray through a lens, unclipped, from a place in the frame of the first vertex in a direction of any length. */
export function traceOne(model: LensModel, place: Triple, direction: Triple) {
  const rays = rayBlock(1);
  [rays.x[0], rays.y[0], rays.z[0]] = place;
  const length = Math.hypot(...direction);
  [rays.l[0], rays.m[0], rays.n[0]] = direction.map((part) => part / length);
  traceBlock(model, rays, 1, 0, { clip: false });
  return {
    status: rays.status[0],
    place: [rays.x[0], rays.y[0], rays.z[0]] as const,
    direction: [rays.l[0], rays.m[0], rays.n[0]] as const,
    path: rays.path[0],
  };
}
