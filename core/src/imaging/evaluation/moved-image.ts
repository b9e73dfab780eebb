import { RAY_STATUS, rayBlock, type RayBlock } from '../../compute/ray-block.ts';
import type { LensModel } from '../../sequence/lens-model.ts';

/**
 * How far the image plane of a lens lies after that of another one, mm, where that distance is all that differs; null where anything else does, or
 * where rays cannot simply go on: to a curved, tilted or bounded image surface, or in a gradient.
 */
export function imageStep(model: LensModel, other: LensModel): number | null {
  const { surfaces } = model;
  const last = surfaces.length - 1;
  const image = surfaces[last];
  const { form } = image.shape;
  const plane = form?.c === 0 && form.k === 0 && form.terms.length === 0;
  if (!plane || model.lens.surfaces[last].frame || image.phase || image.reflects || image.open !== null || image.mask)
    return null;
  if (last < 1 || surfaces.length !== other.surfaces.length || surfaces[last - 1].gradient) return null;
  const [mine, theirs] = [model.lens, other.lens];
  const launched = mine.object === theirs.object && mine.pupil === theirs.pupil && mine.stop === theirs.stop;
  if (!launched || JSON.stringify(mine.fields) !== JSON.stringify(theirs.fields)) return null;
  if (!alikeIndices(model.indices, other.indices)) return null;
  for (let j = 0; j <= last; j++) {
    const [a, b] = [mine.surfaces[j], theirs.surfaces[j]];
    if (a === b) continue;
    if (j !== last - 1) return null;
    // The edit of a thickness makes new records of the surface and of what is after it, and keeps all others.
    const keys = Object.keys({ ...a, ...b }) as (keyof typeof a)[];
    if (keys.some((key) => key !== 'after' && a[key] !== b[key])) return null;
    const parts = Object.keys({ ...a.after, ...b.after }) as (keyof NonNullable<typeof a.after>)[];
    if (parts.some((key) => key !== 'thickness' && a.after?.[key] !== b.after?.[key])) return null;
  }
  return surfaces[last - 1].gap - other.surfaces[last - 1].gap;
}

function alikeIndices(a: LensModel['indices'], b: LensModel['indices']): boolean {
  return a.length === b.length && a.every((row, w) => row.every((index, j) => index === b[w][j]));
}

/**
 * Rays on an image plane, carried on to one that lies `step` mm after it. Rays that ended before keep where they did.
 *
 * @param index - refractive index before the image
 */
export function onMovedPlane(rays: RayBlock, step: number, index: number): RayBlock {
  const moved = rayBlock(rays.capacity);
  for (const column of ['l', 'm', 'n', 'nx', 'ny', 'nz', 'x', 'y', 'z', 'path'] as const)
    moved[column].set(rays[column]);
  moved.status.set(rays.status);
  moved.at.set(rays.at);
  const { x, y, l, m, n, path, status } = moved;
  for (let i = 0; i < rays.capacity; i++) {
    if (status[i] !== RAY_STATUS.alive) continue;
    const way = step / n[i];
    x[i] += way * l[i];
    y[i] += way * m[i];
    path[i] += way * index;
  }
  return moved;
}
