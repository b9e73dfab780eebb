import { failure, success, type Outcome } from '../math/outcome.ts';
import { isPlainConic, shapeNumbers } from '../shapes/registry.ts';
import type { Edit } from './edit.ts';
import { setRadius, surfaceTitle, type Gesture } from './lens-edits.ts';
import type { Lens } from './model.ts';

/**
 * Moves one vertex along the axis by `dz` mm; all others stay where they are, so the medium in front grows by what the one
 * behind loses.
 *
 * @throws Error when the lens has no such surface
 */
export function moveVertex(lens: Lens, id: string, dz: number): Gesture {
  const index = lens.surfaces.findIndex((surface) => surface.id === id);
  if (index < 0) throw new Error(`the lens ${lens.id} has no surface ${id}`);
  const edits: Edit[] = [];
  const grow = (at: number, by: number) => {
    const surface = lens.surfaces[at];
    if (!surface?.after) return;
    const path = `lenses.${lens.id}.surfaces.${surface.id}.after.thickness`;
    edits.push({ kind: 'set', path, value: surface.after.thickness + by });
  };
  grow(index - 1, dz);
  grow(index, -dz);
  return { edits, label: `Move ${surfaceTitle(lens, index)}`, focus: id };
}

/**
 * Bends a surface so that it passes through the sag `sag` mm at the height `height` mm above its axis, keeping its conic
 * constant: from c(h² + (1+k)s²) = 2s.
 *
 * Fails where no such surface exists, and for aspheres, whose sag has more to it than a radius.
 */
export function bendThrough(lens: Lens, id: string, height: number, sag: number): Outcome<Gesture> {
  const surface = lens.surfaces.find((entry) => entry.id === id);
  if (!surface) throw new Error(`the lens ${lens.id} has no surface ${id}`);
  if (!isPlainConic(surface.shape))
    return failure('Only spheres and conics are bent by hand: type the radius of an asphere or freeform.');
  const k = shapeNumbers(surface.shape).conic;
  const size = height * height + (1 + k) * sag * sag;
  if (!(size > 0)) return failure('No such conic passes there.');
  const curvature = (2 * sag) / size;
  // Beyond the equator the same sag belongs to the far side: nothing to be made.
  if ((1 + k) * curvature * sag >= 1) return failure('The surface would end before this height.');
  return success(setRadius(lens, id, curvature === 0 ? Infinity : 1 / curvature));
}
