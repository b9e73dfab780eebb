import { RAY_STATUS, rayBlock, statusReason, type RayBlock } from '../../compute/ray-block.ts';
import { isGas } from '../../materials/material.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { gapMotion, gradientIndex } from '../../sequence/gradient-step.ts';
import { inverse, movePoint, turnDirection } from '../../math/rigid.ts';
import type { KeptRay, RaySource } from '../../project/model.ts';
import { Aimer } from '../../sequence/aiming.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { toGlobal } from '../../sequence/placement.ts';
import { traceBlock, type TraceOptions } from '../../sequence/trace.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { cosineInFront, lensFlux } from '../transmission/surface-flux.ts';

type Triple = readonly [number, number, number];

/** A ray at one surface. Lengths mm, angles degrees. */
export interface RayStep {
  /** Id of the surface. */
  readonly surface: string;
  /** Where it meets the surface: in the surface's own frame, and in that of the first vertex. */
  readonly local: Triple;
  readonly global: Triple;
  /** Direction cosines after the surface, in both frames. */
  readonly direction: Triple;
  readonly globalDirection: Triple;
  /** Between the ray and the normal, before and behind; the second is null where the ray ends here. */
  readonly incidence: number;
  readonly refraction: number | null;
  /** Optical path since the launch, Σ n·s, and the length of the way to here from the surface before; null through a gradient. */
  readonly path: number;
  readonly way: number | null;
  /**
   * Share of the flux that has come so far, behind this surface: by the finishes of surfaces, bare without one, for light that is
   * unpolarised at each; by the internal transmittance of media that have a record of it. Mirrors without a finish reflect all.
   */
  readonly flux: number;
}

/** A ray with everything that happens to it. */
export interface RayInspection {
  readonly nm: number;
  /** Where it starts, and which way, in the frame of the first vertex. */
  readonly start: Triple;
  readonly startDirection: Triple;
  readonly steps: readonly RayStep[];
  /** Labels of media that the ray went through without a record of their transmittance: taken as clear. */
  readonly takenClear: readonly string[];
  /** Where and why it ends before the image; null for one that arrives. */
  readonly end: { readonly surface: string; readonly reason: string } | null;
}

const degrees = 180 / Math.PI;

/**
 * Follows one ray through the lens and tells what happens at every surface; one that is blocked or fails is told up to its end.
 *
 * Fails where no such ray can be launched.
 *
 * @param wavelength - id of a wavelength of the lens; the primary one for null
 */
export function inspectRay(lens: LensEvaluation, source: RaySource, wavelength: string | null): Outcome<RayInspection> {
  const { model } = lens;
  const wave = wavelength === null ? model.primary : model.wavelengths.findIndex(({ id }) => id === wavelength);
  if (wave < 0)
    return failure(
      wavelength === null ? 'No primary wavelength is chosen.' : `There is no wavelength “${wavelength}”.`,
    );
  const seen: Snapshot[] = [];
  let start: Snapshot | null = null;
  const visit: NonNullable<TraceOptions['visit']> = (_j, part) => void seen.push(snapshot(part));
  const onLaunch = (rays: RayBlock) => (start = snapshot(rays));
  const traced = follow(lens, source, wave, onLaunch, visit);
  if (!traced.ok) return traced;
  const { status, at } = traced.value;
  if (status[0] === RAY_STATUS.notAimed) return failure(`The ray ${statusReason(status[0])}.`);
  const began = start!;
  const steps: RayStep[] = [];
  const takenClear = new Set<string>();
  const fluxes = lensFlux(lens);
  let flux = 1;
  let before: Snapshot = began;
  for (let j = 0; j < seen.length; j++) {
    const here = seen[j];
    const ended = status[0] !== RAY_STATUS.alive && at[0] === j;
    if (ended && status[0] === RAY_STATUS.missed) break;
    const surface = model.surfaces[j];
    const incoming = surface.entry ? turnDirection(surface.entry, before.direction) : before.direction;
    const behind = ended ? null : Math.abs(dot(here.direction, here.normal));
    const gradient = j > 0 ? model.surfaces[j - 1].gradient : null;
    const [n, next] = localIndices(lens, wave, j, here.position);
    const cosine = gradient && behind !== null ? cosineInFront(n, next, behind) : Math.abs(dot(incoming, here.normal));
    const way = gradient ? null : (here.path - before.path) / n;
    const medium = model.media[j];
    if (medium && !isGas(medium)) {
      const share = way === null ? null : fluxes.medium(j, wave, way);
      if (share === null) takenClear.add(medium.label);
      else flux *= share;
    }
    flux *= ended ? 0 : fluxes.surface(j, wave, n, next, Math.min(1, cosine));
    steps.push({
      surface: surface.id,
      local: here.position,
      global: toGlobal(surface, ...here.position),
      direction: ended ? incoming : here.direction,
      globalDirection: turnDirection(surface.pose, ended ? incoming : here.direction),
      incidence: Math.acos(Math.min(1, cosine)) * degrees,
      refraction: behind === null ? null : Math.acos(Math.min(1, behind)) * degrees,
      path: here.path,
      way,
      flux,
    });
    if (ended) break;
    before = here;
  }
  return success({
    nm: model.wavelengths[wave].nm,
    start: began.position,
    startDirection: began.direction,
    steps,
    takenClear: [...takenClear],
    end: status[0] === RAY_STATUS.alive ? null : { surface: model.surfaces[at[0]].id, reason: statusReason(status[0]) },
  });
}

/** The kept ray with an id, followed; the first one kept for an empty id. */
export function inspectKept(lens: LensEvaluation, id: string): Outcome<RayInspection & { readonly kept: KeptRay }> {
  const kept = lens.model.lens.rays ?? [];
  const ray = id === '' ? kept[0] : kept.find((entry) => entry.id === id);
  if (!ray) return failure(id === '' ? 'No ray is kept: keep one in the ray inspector.' : `No ray is kept as “${id}”.`);
  const found = inspectRay(lens, ray.source, ray.wavelength);
  return found.ok ? success({ ...found.value, kept: ray }) : found;
}

/** Indices in front of and behind a surface at a place on it: with a gradient they belong to the place. */
function localIndices({ model }: LensEvaluation, wave: number, j: number, place: Triple): [number, number] {
  const [n, next] = [model.indices[wave][j], model.indices[wave][j + 1]];
  const front = j > 0 ? model.surfaces[j - 1] : null;
  const toFront = inverse(model.surfaces[j].entry ?? gapMotion(front?.gap ?? 0));
  const before = front?.gradient ? gradientIndex(front.gradient, n * n, movePoint(toFront, place)) : n;
  const { gradient, reflects } = model.surfaces[j];
  if (reflects) return [before, before];
  return [before, gradient ? gradientIndex(gradient, next * next, place) : next];
}

interface Snapshot {
  readonly position: Triple;
  readonly direction: Triple;
  readonly normal: Triple;
  readonly path: number;
}

function snapshot({ x, y, z, l, m, n, nx, ny, nz, path }: RayBlock): Snapshot {
  return {
    position: [x[0], y[0], z[0]],
    direction: [l[0], m[0], n[0]],
    normal: [nx[0], ny[0], nz[0]],
    path: path[0],
  };
}

function dot(a: Triple, b: Triple): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

function follow(
  lens: LensEvaluation,
  source: RaySource,
  wave: number,
  onLaunch: (rays: RayBlock) => void,
  visit: NonNullable<TraceOptions['visit']>,
): Outcome<RayBlock> {
  const { model } = lens;
  const options = { clip: true, onLaunch, visit };
  if (source.kind === 'launched') {
    const { x, y, z, tx, ty } = source;
    const [slopeX, slopeY] = [Math.tan(tx / degrees), Math.tan(ty / degrees)];
    const scale = 1 / Math.sqrt(slopeX * slopeX + slopeY * slopeY + 1);
    const rays = rayBlock(1);
    [rays.x[0], rays.y[0], rays.z[0]] = [x, y, z];
    [rays.l[0], rays.m[0], rays.n[0]] = [slopeX * scale, slopeY * scale, scale];
    onLaunch(rays);
    traceBlock(model, rays, 1, wave, { clip: true, visit });
    return success(rays);
  }
  const field = lens.field(source.field);
  if (!field.ok) return field;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  if (source.kind === 'pupil')
    return success(traceBundle(aimer.value, { field: field.value, wave, px: [source.px], py: [source.py] }, options));
  // Through a point of any surface: that surface stands for the stop, its points counted in mm.
  const target = model.surfaces.findIndex(({ id }) => id === source.surface);
  if (target < 0) return failure(`There is no surface “${source.surface}”.`);
  const through = new Aimer({ ...model, stop: target }, { ...aimer.value.pupil, stopSemi: 1 });
  const request = { field: field.value, wave, px: [source.x], py: [source.y], aim: 'stop' as const };
  return success(traceBundle(through, request, options));
}
