import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import type { Aimer } from './aiming.ts';
import { launchRays } from './launch.ts';
import { mirrorHalf, type PupilPoints } from './pupil-sampling.ts';
import { traceBlock, type TraceOptions } from './trace.ts';

/**
 * Traces the bundle of a field through all points of a sampling, half of it where the rest is its mirror image: a lens that is its
 * own mirror image in x = 0, with a field in that plane. The two ways give the same rays.
 */
export function traceSampling(
  aimer: Aimer,
  request: Omit<BundleRequest, 'px' | 'py'>,
  points: PupilPoints,
  clip: boolean,
): RayBlock {
  const split = aimer.model.mirrorX && request.field.x === 0 ? mirrorHalf(points) : null;
  const { px, py } = split?.half ?? points;
  const traced = traceBundle(aimer, { ...request, px, py }, { clip });
  if (!split) return traced;
  const { source, mirrored } = split;
  const whole = rayBlock(source.length);
  for (const column of COORDINATES) spread(traced[column], whole[column], source);
  for (let i = 0; i < source.length; i++) {
    whole.status[i] = traced.status[source[i]];
    whole.at[i] = traced.at[source[i]];
    if (!mirrored[i]) continue;
    whole.x[i] = -whole.x[i];
    whole.l[i] = -whole.l[i];
    whole.nx[i] = -whole.nx[i];
  }
  return whole;
}

const COORDINATES = ['x', 'y', 'z', 'l', 'm', 'n', 'path', 'nx', 'ny', 'nz'] as const;

/** A function of its own, so that it only ever sees arrays of one type: the engine makes it several times as fast. */
function spread(from: Float64Array, to: Float64Array, source: ArrayLike<number>): void {
  for (let i = 0; i < to.length; i++) to[i] = from[source[i]];
}

/** One field and colour through given points of the pupil. */
export interface BundleRequest {
  readonly field: FieldPoint;
  /** Index of the wavelength in the model. */
  readonly wave: number;
  readonly px: ArrayLike<number>;
  readonly py: ArrayLike<number>;
  /** Which way rays are aimed; the lens's own choice by default. */
  readonly aim?: 'paraxial' | 'stop';
}

export interface BundleOptions {
  /** Whether set apertures stop rays. */
  readonly clip: boolean;
  /** Sees the block before the trace, in the frame of the first vertex. */
  readonly onLaunch?: (rays: RayBlock) => void;
  /** Called after each surface, as in `traceBlock`. */
  readonly visit?: NonNullable<TraceOptions['visit']>;
  readonly along?: NonNullable<TraceOptions['along']>;
}

/**
 * Launches and traces a bundle to the image surface and returns its block, in the frame of the image surface.
 *
 * Rays that cannot be aimed have status `notAimed` at the stop.
 */
export function traceBundle(aimer: Aimer, request: BundleRequest, options: BundleOptions): RayBlock {
  const { model, pupil } = aimer;
  const { field, wave, px, py } = request;
  const count = px.length;
  const rays = rayBlock(count);
  const { ex, ey } = aimer.aim(request.aim ?? model.lens.pupil.aim, field, wave, px, py);
  launchRays(model, pupil, field, ex, ey, rays, count);
  for (let i = 0; i < count; i++) {
    if (Number.isNaN(ex[i])) {
      rays.status[i] = RAY_STATUS.notAimed;
      rays.at[i] = model.stop;
    }
  }
  options.onLaunch?.(rays);
  traceBlock(model, rays, count, wave, {
    clip: options.clip,
    ...(options.visit && { visit: options.visit }),
    ...(options.along && { along: options.along }),
  });
  return rays;
}
