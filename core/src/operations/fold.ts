import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import { freshSurfaceId, isSolid, surfaceTitle } from '../project/lens-edits.ts';
import type { Lens, Surface } from '../project/model.ts';
import { compileShape } from '../shapes/registry.ts';
import { turnShape } from '../shapes/turn-shape.ts';
import { defineOperation } from './operation.ts';
import { OPERATION_TITLES } from './titles.ts';

/** Tilts of the mirror about x and y by half the fold, which send the axis where the words say. */
const WAYS = { up: ['tx', 1], down: ['tx', -1], left: ['ty', 1], right: ['ty', -1] } as const;

const told = (value: number) => Number(value.toPrecision(6));

/** The edits that show a surface after a mirror its other side: its sag and the distance after it change sign. */
function mirroredEdits(lens: Lens, index: number): Outcome<Edit[]> {
  const surface = lens.surfaces[index];
  const title = surfaceTitle(lens, index);
  const side = surface.phase
    ? 'diffracts'
    : surface.frame || surface.behind
      ? 'is shifted or tilted'
      : surface.after?.gradient
        ? 'has a gradient behind it'
        : null;
  if (side) return failure(`${title} ${side}: what stands behind a fold has to be plain.`, surface.id);
  const shape = turnShape(surface.shape);
  if (!shape || !(compileShape(surface.shape).mirrorX ?? true))
    return failure(`${title} has a side: it cannot stand behind a fold.`, surface.id);
  const path = `lenses.${lens.id}.surfaces.${surface.id}`;
  const edits: Edit[] = [{ kind: 'set', path: `${path}.shape`, value: shape }];
  if (surface.after) edits.push({ kind: 'set', path: `${path}.after.thickness`, value: -surface.after.thickness || 0 });
  return success(edits);
}

export const foldByMirror = defineOperation({
  id: 'fold_mirror',
  title: OPERATION_TITLES.fold_mirror,
  meaning:
    'Puts a flat mirror into the gap after the chosen surface and turns the axis by an angle. Everything ' +
    'behind is seen in it: distances and radii change sign there, and rays, spots and focal length stay ' +
    'what they were.',
  on: 'surface',
  settings: {
    distance: { kind: 'number', title: 'Behind the surface by', unit: 'mm', min: 0, max: 1e6, fallback: 5 },
    turn: { kind: 'number', title: 'Turn the axis by', unit: '°', min: 1, max: 179, fallback: 90 },
    way: { kind: 'choice', title: 'Toward', options: Object.keys(WAYS), fallback: 'up' },
  },
  run({ project, lens, first }, { distance, turn, way }) {
    const before = lens.surfaces[first];
    if (isSolid(project, before.after))
      return failure(`Glass lies after ${surfaceTitle(lens, first)}: choose a surface with a gap after it.`);
    const gap = before.after!.thickness;
    const sign = Math.sign(gap) || 1;
    if (distance > Math.abs(gap))
      return failure(
        `The gap after ${surfaceTitle(lens, first)} is ${told(Math.abs(gap))} mm long: the mirror must fit in it.`,
      );
    const list = `lenses.${lens.id}.surfaces`;
    const [axis, direction] = WAYS[way as keyof typeof WAYS];
    // The mirror turns the axis by 180° − 2θ where θ is its tilt.
    const tilt = direction * sign * (90 - turn / 2);
    const id = freshSurfaceId(lens);
    const mirror: Surface = {
      id,
      name: 'Fold',
      shape: { kind: 'plane' },
      reflects: true,
      aperture: { kind: 'automatic' },
      frame: { [axis]: tilt, axis: 'reflect' },
      after: { thickness: -sign * (Math.abs(gap) - distance) || 0, material: before.after!.material },
    };
    const edits: Edit[] = [
      { kind: 'set', path: `${list}.${before.id}.after.thickness`, value: sign * distance },
      { kind: 'insert', list, after: before.id, item: mirror },
    ];
    for (let index = first + 1; index < lens.surfaces.length; index++) {
      const mirrored = mirroredEdits(lens, index);
      if (!mirrored.ok) return mirrored;
      edits.push(...mirrored.value);
    }
    return success({
      edits,
      label: 'Fold by a mirror',
      notes: [`the axis turns by ${told(turn)}° ${way}, ${told(distance)} mm after ${surfaceTitle(lens, first)}`],
    });
  },
});
