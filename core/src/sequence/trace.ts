import type { CompiledArea } from '../apertures/area.ts';
import { KERNEL_BLOCK, traceKernel, type TraceKernel } from '../compute/kernel.ts';
import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import type { CompiledPhase } from '../phases/phase.ts';
import { turnIdeally } from './ideal-turn.ts';
import { inverse, movePoint, type Rigid } from '../math/rigid.ts';
import { crossGradient, gapMotion, gradientIndex } from './gradient-step.ts';
import type { LensModel, TraceSurface } from './lens-model.ts';

export interface TraceOptions {
  /** Whether set apertures stop rays. */
  readonly clip: boolean;
  /** First surface that is left out; all by default. */
  readonly until?: number;
  /**
   * Called after each surface with rays in the frame of that surface: positions on it, directions after it, and its
   * unit normals. Rays that ended earlier hold the coordinates of where they ended. Big bundles come in parts: entry i of
   * `part`, below `size`, is ray `from + i`. It must not trace other rays.
   */
  readonly visit?: (surface: number, part: RayBlock, from: number, size: number) => void;
  /** Called after each surface with its normals, with rays where the next surface wants them: a gap on, but behind the last. */
  readonly passed?: (surface: number) => void;
  /** Sees the places that a ray goes through inside a gradient behind a surface, in the frame of that surface. */
  readonly along?: (surface: number, ray: number, x: number, y: number, z: number) => void;
  /** The compiled kernel; null leaves everything to the shapes themselves, as its tests want it. */
  readonly kernel?: TraceKernel | null;
}

/**
 * Traces a block through the lens, surface by surface, in place.
 *
 * On entry the rays are in the frame of the first vertex with status 0; on return they are in the frame of the last
 * surface traced (the image surface by default), directions after it, `path` grown by Σ n·s. A ray that ends gets its
 * reason in `status` and the surface in `at`. Never throws.
 *
 * Shapes that the compiled kernel knows are traced there, 256 rays at a time; the others work on the same rays. Rays in the
 * kernel's own block are traced in place.
 *
 * @param wave - index of the wavelength in the model
 */
export function traceBlock(model: LensModel, rays: RayBlock, count: number, wave: number, options: TraceOptions): void {
  const kernel = options.kernel === undefined ? traceKernel() : options.kernel;
  if (!kernel || rays === kernel.block) {
    tracePart(model, rays, 0, count, wave, options, kernel);
    return;
  }
  for (let from = 0; from < count; from += KERNEL_BLOCK) {
    const size = Math.min(KERNEL_BLOCK, count - from);
    copy(GIVEN, rays, from, kernel.block, 0, size);
    tracePart(model, kernel.block, from, size, wave, options, kernel);
    copy(LEFT, kernel.block, 0, rays, from, size);
  }
}

/** Columns that a trace needs, and those that it leaves. */
const GIVEN = ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const;
const LEFT = [...GIVEN, 'nx', 'ny', 'nz'] as const;

function copy(
  columns: readonly (typeof LEFT)[number][],
  source: RayBlock,
  at: number,
  target: RayBlock,
  to: number,
  size: number,
): void {
  for (const column of columns) copyColumn(source[column], at, target[column], to, size);
  copyColumn(source.status, at, target.status, to, size);
  copyColumn(source.at, at, target.at, to, size);
}

type Column = Float64Array | Uint8Array | Int16Array;

function copyColumn(source: Column, at: number, target: Column, to: number, size: number): void {
  if (size > 8) target.set(source.subarray(at, at + size), to);
  else for (let i = 0; i < size; i++) target[to + i] = source[at + i];
}

/** Traces the first `size` rays of a block, which are the rays of the bundle from `from` on. */
function tracePart(
  model: LensModel,
  rays: RayBlock,
  from: number,
  size: number,
  wave: number,
  { clip, visit, passed, along, until = model.surfaces.length }: TraceOptions,
  kernel: TraceKernel | null,
): void {
  const indices = model.indices[wave];
  const mm = model.wavelengths[wave].nm * 1e-6;
  let stepped = false; // whether the rays are in the frame of surface j already
  for (let j = 0; j < until; j++) {
    const surface = model.surfaces[j];
    const gradient = j > 0 ? model.surfaces[j - 1].gradient : null;
    if (gradient) {
      const { entry, shape } = surface;
      const look = along && ((i: number, x: number, y: number, z: number) => along(j - 1, from + i, x, y, z));
      const onward = entry ?? gapMotion(model.surfaces[j - 1].gap);
      crossGradient(rays, size, gradient, indices[j] * indices[j], onward, shape, j, look);
    } else if (!stepped) enter(model, rays, size, j, kernel);
    const clear = clip ? surface.clear : Infinity;
    const mask = clip ? surface.mask : null;
    const last = j + 1 === until;
    // The kernel may step to the next vertex by itself where nobody looks at the rays in between.
    const inGradient = gradient !== null || surface.gradient !== null;
    const form = surface.phase || inGradient ? undefined : surface.shape.form;
    stepped = Boolean(kernel && form && !visit && !last && !mask && !model.surfaces[j + 1].entry);
    if (kernel && form) {
      const [before, behind] = [indices[j], indices[j + 1]];
      const gap = stepped ? surface.gap : 0;
      if (mask) {
        kernel.meet(form, size, before, clear, j);
        stopOutside(rays, size, mask, j);
        kernel.turn(size, before, behind, surface.reflects, gap, j);
      } else {
        const close = j > 0 && !surface.entry && Math.abs(model.surfaces[j - 1].gap) < CLOSE;
        kernel.trace(
          form,
          size,
          before,
          behind,
          surface.reflects,
          clear,
          gap,
          j,
          close,
          last || visit !== undefined || passed !== undefined,
        );
      }
    } else if (inGradient) traceInGradient(model, rays, size, indices, clip, j, mm);
    else traceByShape(surface, rays, size, indices, clip, j, mm);
    visit?.(j, rays, from, size);
    passed?.(j);
  }
}

/** Below this distance between vertices, mm, a quadratic loses no digits worth keeping to where rays start. */
const CLOSE = 200;

/** One surface in TypeScript, for any shape. */
function traceByShape(
  surface: TraceSurface,
  rays: RayBlock,
  count: number,
  indices: Float64Array,
  clip: boolean,
  j: number,
  mm: number,
): void {
  surface.shape.intersect(rays, count);
  advance(rays, count, indices[j], j);
  turnByShape(surface, rays, count, indices[j], indices[j + 1], clip, j, mm);
}

/** Clips and turns rays that are on a surface, in TypeScript. */
function turnByShape(
  surface: TraceSurface,
  rays: RayBlock,
  count: number,
  before: number,
  behind: number,
  clip: boolean,
  j: number,
  mm: number,
): void {
  const area = surface.mask ?? (surface.clear === Infinity ? null : disk(surface.clear));
  if (clip && area) stopOutside(rays, count, area, j);
  surface.shape.normals(rays, count);
  const { reflects, phase } = surface;
  const { ideal } = surface.shape;
  if (ideal) {
    if (before > 0 && behind > 0) turnIdeally(rays, count, { ...ideal, before, behind, reflects });
    else end(rays, count, RAY_STATUS.noIndex, j);
  } else if (phase) diffract(rays, count, phase, mm, before, behind, reflects, j);
  else if (reflects) reflect(rays, count);
  else if (behind !== before) refract(rays, count, before, behind, j);
}

const ONE = rayBlock(1);

/** One surface with a gradient on a side of it: each ray has indices of its own there. */
function traceInGradient(
  model: LensModel,
  rays: RayBlock,
  count: number,
  indices: Float64Array,
  clip: boolean,
  j: number,
  mm: number,
): void {
  const surface = model.surfaces[j];
  const before = j > 0 ? model.surfaces[j - 1].gradient : null;
  if (!before) {
    surface.shape.intersect(rays, count);
    advance(rays, count, indices[j], j);
  }
  const toFront = inverse(surface.entry ?? gapMotion(j > 0 ? model.surfaces[j - 1].gap : 0));
  for (let i = 0; i < count; i++) {
    if (rays.status[i] !== RAY_STATUS.alive) continue;
    copy(LEFT, rays, i, ONE, 0, 1);
    const place = [rays.x[i], rays.y[i], rays.z[i]] as const;
    const index = before ? gradientIndex(before, indices[j] * indices[j], movePoint(toFront, place)) : indices[j];
    const next = surface.gradient
      ? gradientIndex(surface.gradient, indices[j + 1] * indices[j + 1], place)
      : indices[j + 1];
    turnByShape(surface, ONE, 1, index, surface.reflects ? index : next, clip, j, mm);
    copy(LEFT, ONE, 0, rays, i, 1);
  }
}

/** A ray that would have to go further, mm, misses: it runs along the surface, and what it would meet is rounding. */
export const FARTHEST = 1e13;

/** Moves living rays by `t`; those that found no surface end here. */
function advance(rays: RayBlock, count: number, index: number, surface: number): void {
  const { x, y, z, l, m, n, path, t, status, at } = rays;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const distance = t[i];
    if (!(Math.abs(distance) < FARTHEST)) {
      status[i] = RAY_STATUS.missed;
      at[i] = surface;
      continue;
    }
    x[i] += distance * l[i];
    y[i] += distance * m[i];
    z[i] += distance * n[i];
    path[i] += distance * index;
  }
}

function stopOutside(rays: RayBlock, count: number, area: Pick<CompiledArea, 'contains'>, surface: number): void {
  const { x, y, status, at } = rays;
  for (let i = 0; i < count; i++) {
    if (status[i] === RAY_STATUS.alive && !area.contains(x[i], y[i])) {
      status[i] = RAY_STATUS.clipped;
      at[i] = surface;
    }
  }
}

/** A circle about the axis, as `stopOutside` wants it. */
function disk(semi: number): Pick<CompiledArea, 'contains'> {
  const limit = semi * semi;
  return { contains: (x, y) => x * x + y * y <= limit };
}

/** d′ = d − 2(d·N)N. */
function reflect(rays: RayBlock, count: number): void {
  const { l, m, n, nx, ny, nz, status } = rays;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const twice = 2 * (l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i]);
    l[i] -= twice * nx[i];
    m[i] -= twice * ny[i];
    n[i] -= twice * nz[i];
  }
}

/** Snell's law in vectors: d′ = μd + (cos I′ − μ cos I)N, μ = n/n′, N on the side the ray goes to. */
function refract(rays: RayBlock, count: number, before: number, behind: number, surface: number): void {
  const { l, m, n, nx, ny, nz, status, at } = rays;
  const ratio = before / behind;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const cosine = l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i];
    const squared = 1 - ratio * ratio * (1 - cosine * cosine);
    if (!(squared >= 0)) {
      status[i] = Number.isNaN(ratio) ? RAY_STATUS.noIndex : RAY_STATUS.totalReflection;
      at[i] = surface;
      continue;
    }
    const root = cosine < 0 ? -Math.sqrt(squared) : Math.sqrt(squared);
    const along = root - ratio * cosine;
    l[i] = ratio * l[i] + along * nx[i];
    m[i] = ratio * m[i] + along * ny[i];
    n[i] = ratio * n[i] + along * nz[i];
  }
}

/** All living rays end. */
function end({ status, at }: RayBlock, count: number, reason: number, surface: number): void {
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    status[i] = reason;
    at[i] = surface;
  }
}

const JET = new Float64Array(6);

/**
 * The grating equation in vectors: with q = (n d + λm∇φ)/n′, its part along the surface stays, and the part across it makes the
 * direction one long. The path grows by λmφ.
 */
function diffract(
  rays: RayBlock,
  count: number,
  phase: CompiledPhase,
  mm: number,
  before: number,
  behind: number,
  reflects: boolean,
  surface: number,
): void {
  const { x, y, l, m, n, nx, ny, nz, path, status, at } = rays;
  const ratio = before / behind;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    phase.jet(x[i], y[i], JET);
    const [qx, qy, qz] = [ratio * l[i] + (mm / behind) * JET[1], ratio * m[i] + (mm / behind) * JET[2], ratio * n[i]];
    const across = qx * nx[i] + qy * ny[i] + qz * nz[i];
    const squared = 1 - (qx * qx + qy * qy + qz * qz - across * across);
    if (!(squared >= 0)) {
      status[i] = Number.isNaN(ratio) ? RAY_STATUS.noIndex : RAY_STATUS.noOrder;
      at[i] = surface;
      continue;
    }
    const back = l[i] * nx[i] + m[i] * ny[i] + n[i] * nz[i] < 0 !== reflects;
    const along = (back ? -Math.sqrt(squared) : Math.sqrt(squared)) - across;
    l[i] = qx + along * nx[i];
    m[i] = qy + along * ny[i];
    n[i] = qz + along * nz[i];
    path[i] += mm * JET[0];
  }
}

/**
 * Brings living rays to the frame of surface `j`.
 *
 * @param kernel - given if the rays are in its block
 */
function enter(model: LensModel, rays: RayBlock, count: number, j: number, kernel: TraceKernel | null): void {
  const { entry } = model.surfaces[j];
  if (entry && kernel) kernel.move(count, entry);
  else if (entry) move(rays, count, entry);
  else if (j > 0) step(rays, count, model.surfaces[j - 1].gap);
}

function step({ z, status }: RayBlock, count: number, gap: number): void {
  for (let i = 0; i < count; i++) if (status[i] === RAY_STATUS.alive) z[i] -= gap;
}

/** p ↦ shift + R·p, d ↦ R·d, for living rays. */
function move(rays: RayBlock, count: number, { shift, rotation }: Rigid): void {
  const { x, y, z, l, m, n, status } = rays;
  const [sx, sy, sz] = shift;
  const [xx, xy, xz, yx, yy, yz, zx, zy, zz] = rotation;
  for (let i = 0; i < count; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const px = x[i];
    const py = y[i];
    const pz = z[i];
    x[i] = sx + xx * px + xy * py + xz * pz;
    y[i] = sy + yx * px + yy * py + yz * pz;
    z[i] = sz + zx * px + zy * py + zz * pz;
    const dl = l[i];
    const dm = m[i];
    const dn = n[i];
    l[i] = xx * dl + xy * dm + xz * dn;
    m[i] = yx * dl + yy * dm + yz * dn;
    n[i] = zx * dl + zy * dm + zz * dn;
  }
}
