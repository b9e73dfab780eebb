import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import type { Aimer } from './aiming.ts';
import { launchRays } from './launch.ts';
import { traceBlock, type TraceOptions } from './trace.ts';

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
  });
  return rays;
}
