import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { traceBundle, type BundleRequest } from './bundle.ts';
import type { Aimer } from './aiming.ts';
import type { LensModel } from './lens-model.ts';
import { mirrorHalf, type PupilPoints } from './pupil-sampling.ts';
import { toGlobal } from './placement.ts';

const RINGS = 4;
const ARMS = 16;

/** Rim, inner rings and centre of the pupil: enough to find how far out rays pass a surface. */
const POINTS: PupilPoints = (() => {
  const px = [0];
  const py = [0];
  for (let ring = 1; ring <= RINGS; ring++) {
    for (let arm = 0; arm < ARMS; arm++) {
      const angle = (2 * Math.PI * arm) / ARMS;
      px.push((ring / RINGS) * Math.cos(angle));
      py.push((ring / RINGS) * Math.sin(angle));
    }
  }
  return {
    px: Float64Array.from(px),
    py: Float64Array.from(py),
    weight: new Float64Array(px.length),
  };
})();

/** How far out a surface is used, and what is drawn of it. */
export interface SurfaceExtent {
  /** Semi-aperture in mm: the set one, or the largest distance from the surface's axis at which a ray of any field passes. */
  readonly semi: number;
  /** Whether `semi` comes from the rays. */
  readonly automatic: boolean;
}

/** Times the lens's own size to which a semi-aperture is drawn. */
const GRAZED = 2;

/** How far the vertices of a lens lie apart, mm. */
function lengthOf({ surfaces }: LensModel): number {
  const [first, ...others] = surfaces.map(({ pose }) => pose.shift);
  return Math.max(0, ...others.map((one) => Math.hypot(...one.map((part, k) => part - first[k]))));
}

/**
 * Semi-apertures of all surfaces. Automatic ones come from the rays of all fields and wavelengths that reach the image through the
 * set apertures; a surface that no ray reaches takes that of its neighbour before it.
 *
 * @param aimer - null when rays cannot be launched: then only set apertures are known and the rest follow the largest
 */
export function surfaceExtents(model: LensModel, aimer: Aimer | null): SurfaceExtent[] {
  const reach = new Float64Array(model.surfaces.length);
  if (aimer) {
    for (const field of model.lens.fields.points) {
      // Mirror images pass equally far from the axis of every surface.
      const { px, py } = (model.mirrorX && field.x === 0 && mirrorHalf(POINTS)?.half) || POINTS;
      for (let wave = 0; wave < model.wavelengths.length; wave++)
        reachOf(aimer, { field, wave, px, py }).forEach((farthest, j) => (reach[j] = Math.max(reach[j], farthest)));
    }
    if (model.stop >= 0) reach[model.stop] = Math.max(reach[model.stop], aimer.pupil.stopSemi);
  }
  const fallback = Math.max(...model.surfaces.map(({ open }) => open ?? 0), 0) || aimer?.pupil.semi || 5;
  // Light that nearly runs along a surface meets it beyond all measure; no drawing shows that.
  const grazed = GRAZED * Math.max(lengthOf(model), ...[...reach].sort((a, b) => a - b).slice(0, -1));
  return model.surfaces.map((surface, j) => {
    if (surface.open !== null) return { semi: surface.open, automatic: false };
    const semi = reach[j] > 0 ? reach[j] : (j > 0 && reach[j - 1]) || fallback;
    reach[j] = semi;
    return { semi: Math.min(semi, surface.shape.reach, grazed), automatic: true };
  });
}

/**
 * How far from the axis of each surface a bundle passes, mm: its rays that arrive at the image, for one that strays on its way says
 * nothing of how large a surface must be; all of them where none arrives.
 */
function reachOf(aimer: Aimer, request: BundleRequest): Float64Array {
  const surfaces = aimer.model.surfaces.length;
  const count = request.px.length;
  const squares = new Float64Array(surfaces * count);
  const { status } = traceBundle(aimer, request, {
    clip: true,
    visit(j, part, from, size) {
      for (let i = 0; i < size; i++)
        if (part.status[i] === RAY_STATUS.alive)
          squares[j * count + from + i] = part.x[i] * part.x[i] + part.y[i] * part.y[i];
    },
  });
  const arrives = status.includes(RAY_STATUS.alive);
  const reach = new Float64Array(surfaces);
  for (let j = 0; j < surfaces; j++) {
    let farthest = 0;
    for (let i = 0; i < count; i++)
      if (!arrives || status[i] === RAY_STATUS.alive) farthest = Math.max(farthest, squares[j * count + i]);
    reach[j] = Math.sqrt(farthest);
  }
  return reach;
}

/** One ray of a drawing: its way through the lens in the frame of the first vertex. */
export interface RayPath {
  /** x, y, z, x, y, z … in mm, from the launch to where the ray ends. */
  readonly points: Float64Array;
  /** Whether the last point lies on no surface: it only shows which way a ray went that missed the next one. */
  readonly strays: boolean;
  /** One of RAY_STATUS; 0 for a ray that reaches the image. */
  readonly status: number;
  /** Id of the surface where it ended, when it did. */
  readonly endsAt: string | null;
}

/** Traces single rays and keeps their points at every surface. */
export function rayPaths(aimer: Aimer, request: BundleRequest, clip: boolean): RayPath[] {
  const { model } = aimer;
  const count = request.px.length;
  const points: number[][] = Array.from({ length: count }, () => []);
  const launch = rayBlock(count);
  const block = traceBundle(aimer, request, {
    clip,
    onLaunch(rays) {
      for (const key of ['x', 'y', 'z', 'l', 'm', 'n'] as const) launch[key].set(rays[key]);
    },
    along(j, i, x, y, z) {
      points[i].push(...toGlobal(model.surfaces[j], x, y, z));
    },
    visit(j, { x, y, z, status, at }, from, size) {
      for (let i = 0; i < size; i++) {
        const endedHere = at[i] === j && status[i] !== RAY_STATUS.missed && status[i] !== RAY_STATUS.notAimed;
        if (status[i] !== RAY_STATUS.alive && !endedHere) continue;
        points[from + i].push(...toGlobal(model.surfaces[j], x[i], y[i], z[i]));
      }
    },
  });
  return points.map((list, i) => {
    const strays = block.status[i] === RAY_STATUS.missed;
    if (strays) list.push(...strayPoint(model, block, i));
    return {
      points: Float64Array.from([launch.x[i], launch.y[i], launch.z[i], ...list]),
      strays,
      status: block.status[i],
      endsAt: block.status[i] === RAY_STATUS.alive ? null : model.surfaces[block.at[i]].id,
    };
  });
}

/** A point on the way of a ray that missed a surface, at the depth of that surface's vertex or a little further on. */
function strayPoint(model: LensModel, { x, y, z, l, m, n, at }: RayBlock, i: number): [number, number, number] {
  const surface = model.surfaces[at[i]];
  const toVertex = n[i] === 0 ? 0 : -z[i] / n[i];
  const length = toVertex > 0 ? toVertex : 0.1 * Math.max(1, Math.abs(surface.gap));
  return toGlobal(surface, x[i] + length * l[i], y[i] + length * m[i], z[i] + length * n[i]);
}
