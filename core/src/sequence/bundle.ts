import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import { aimAtStop, type AimedRays } from './aiming.ts';
import { launchRays, type LaunchPupil } from './launch.ts';
import type { LensModel } from './lens-model.ts';
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

/** The entrance-pupil coordinates of the rays of a bundle, by the way they are aimed. */
export function aimBundle(model: LensModel, pupil: LaunchPupil, request: BundleRequest): AimedRays {
  const { field, wave, px, py } = request;
  if ((request.aim ?? model.lens.pupil.aim) === 'stop') return aimAtStop(model, pupil, field, wave, px, py);
  return {
    ex: Float64Array.from(px, (value) => value * pupil.semi),
    ey: Float64Array.from(py, (value) => value * pupil.semi),
  };
}

/**
 * Launches and traces a bundle to the image surface and returns its block, in the frame of the image surface.
 *
 * Rays that cannot be aimed have status `notAimed` at the stop.
 *
 * @param onLaunch - sees the block before the trace, in the frame of the first vertex
 */
export function traceBundle(
  model: LensModel,
  pupil: LaunchPupil,
  request: BundleRequest,
  options: Omit<TraceOptions, 'visit'> & { visit?: (surface: number, rays: RayBlock) => void; onLaunch?: (rays: RayBlock) => void },
): RayBlock {
  const count = request.px.length;
  const rays = rayBlock(count);
  const { ex, ey } = aimBundle(model, pupil, request);
  launchRays(model, pupil, request.field, ex, ey, rays, count);
  for (let i = 0; i < count; i++) {
    if (Number.isNaN(ex[i])) {
      rays.status[i] = RAY_STATUS.notAimed;
      rays.at[i] = model.stop;
    }
  }
  options.onLaunch?.(rays);
  const { visit } = options;
  traceBlock(model, rays, count, request.wave, {
    clip: options.clip,
    ...(options.until !== undefined && { until: options.until }),
    ...(visit && { visit: (surface: number) => visit(surface, rays) }),
  });
  return rays;
}
