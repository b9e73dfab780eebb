import type { Triple } from '../math/rigid.ts';
import type { Edit } from './edit.ts';
import type { Placed, Scene, Source } from './scene.ts';
import { thingTitle, type SceneGesture, type SceneKind } from './scene-edits.ts';

/** A place in a scene, in its own coordinates, by the thing that is there. */
export interface NamedPlace {
  readonly id: string;
  readonly title: string;
  readonly at: Triple;
}

/** The middle of a box about points, three numbers each; null without any. */
export function middleOf(lists: readonly ArrayLike<number>[]): Triple | null {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const points of lists)
    for (let i = 0; i < points.length; i++) {
      low[i % 3] = Math.min(low[i % 3], points[i]);
      high[i % 3] = Math.max(high[i % 3], points[i]);
    }
  return low[0] <= high[0] ? [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2] : null;
}

/** To nanometres: what was computed from drawn corners has no more digits than that. */
const tidy = (value: number) => Math.round(value * 1e6) / 1e6 + 0;

/**
 * Puts a thing on a face: its origin at a point, its z axis along the normal there, turned by tilts about x and y alone. It is placed in the
 * scene then, no longer in the frame of a part, and a source no longer looks at a place.
 *
 * @param point - in the coordinates of the scene, mm
 * @param normal - of any length above 0
 */
export function standOnFace(
  scene: Scene,
  kind: SceneKind,
  thing: Placed & { readonly id: string; readonly name?: string | undefined; readonly towards?: unknown },
  point: Triple,
  normal: Triple,
): SceneGesture {
  const length = Math.hypot(...normal);
  const [l, m, n] = normal.map((part) => part / length);
  const degrees = (angle: number) => tidy((angle * 180) / Math.PI);
  // Rx(tx)·Ry(ty) turns z to (sin ty, −sin tx cos ty, cos tx cos ty).
  const frame = {
    dx: tidy(point[0]),
    dy: tidy(point[1]),
    dz: tidy(point[2]),
    tx: degrees(Math.hypot(m, n) < 1e-9 ? 0 : Math.atan2(0 - m, n)),
    ty: degrees(Math.asin(Math.max(-1, Math.min(1, l)))),
  };
  const path = `scenes.${scene.id}.${kind}.${thing.id}`;
  const edits: Edit[] = [{ kind: 'set', path: `${path}.frame`, value: frame }];
  for (const key of ['within', 'towards'] as const)
    if (thing[key] !== undefined) edits.push({ kind: 'set', path: `${path}.${key}`, value: undefined });
  return { edits, label: `Stand ${thingTitle(thing)} on a face`, focus: { kind, id: thing.id } };
}

/**
 * Puts a source from here to there: it stands at one place and its axis looks at another. It is placed in the scene then, no
 * longer in the frame of a part. Null where the two are one place, which is no direction.
 *
 * @param from - in the coordinates of the scene
 */
export function sourceFromTo(scene: Scene, source: Source, from: Triple, to: NamedPlace): SceneGesture | null {
  const [dx, dy, dz] = from.map(tidy);
  const [x, y, z] = to.at.map((value, k) => tidy(value - [dx, dy, dz][k]));
  if (x === 0 && y === 0 && z === 0) return null;
  const path = `scenes.${scene.id}.sources.${source.id}`;
  const edits: Edit[] = [
    { kind: 'set', path: `${path}.frame`, value: { dx, dy, dz } },
    { kind: 'set', path: `${path}.towards`, value: { x, y, z } },
  ];
  if (source.within !== undefined) edits.push({ kind: 'set', path: `${path}.within`, value: undefined });
  return {
    edits,
    label: `Point ${source.name ?? source.id} at ${to.title}`,
    focus: { kind: 'sources', id: source.id },
  };
}
