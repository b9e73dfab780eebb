import {
  alongZ,
  AT_REST,
  compose,
  foldedAxes,
  inverse,
  movePoint,
  rigidOf,
  shifted,
  type Rigid,
} from '../math/rigid.ts';
import type { Surface } from '../project/model.ts';

/** Where a surface stands. */
export interface Placement {
  /** The axis that comes to it, from axis coordinates to those of the first vertex. */
  readonly axis: Rigid;
  /** From its own coordinates to those of the first vertex. */
  readonly pose: Rigid;
  /** From the coordinates of the surface before (of the first vertex for the first surface) to its own. */
  readonly entry: Rigid;
  /** Whether `entry` is no more than the step along z by the thickness before. */
  readonly plain: boolean;
}

/** A surface whose frame asks for something that does not fit it. */
export interface Misplaced {
  readonly id: string;
  readonly text: string;
}

/**
 * Places the surfaces of a lens one behind the other.
 *
 * An axis comes to each surface; its frame shifts and tilts the surface from there, p = (dx, dy, dz) + Rx·Ry·Rz·p_local. Behind it
 * the axis goes on as if the surface were not moved (`return`), goes along with it (`carry`), or is reflected by it (`reflect`);
 * `behind` may take it back to where it would be had nothing been moved since an earlier surface, and shift and tilt it further.
 */
export function placeSurfaces(surfaces: readonly Surface[]): { placed: Placement[]; wrong: Misplaced[] } {
  const placed: Placement[] = [];
  const wrong: Misplaced[] = [];
  const axes: Rigid[] = []; // the axis that comes to each surface
  let axis = AT_REST;
  let fromBefore = AT_REST; // from the coordinates of the surface before to that axis
  surfaces.forEach((surface, j) => {
    axes.push(axis);
    const frame = rigidOf(surface.frame ?? {});
    const entry = compose(inverse(frame), fromBefore);
    const step = surfaces[j - 1]?.after?.thickness ?? 0;
    placed.push({
      axis,
      pose: compose(axis, frame),
      entry,
      plain: alongZ(entry) && entry.shift[2] === -step + 0,
    });
    const turned = behindFrame(surface, frame, wrong);
    const back = returning(surfaces, axes, axis, j, wrong) ?? turned;
    const onward = compose(
      compose(back, rigidOf(surface.behind ?? {})),
      shifted(0, 0, surface.after?.thickness ?? 0),
    );
    fromBefore = compose(inverse(onward), frame);
    axis = compose(axis, onward);
  });
  return { placed, wrong };
}

/** The axis behind a surface by its frame alone, seen from the axis that comes to it. */
function behindFrame({ id, frame: given, reflects }: Surface, frame: Rigid, wrong: Misplaced[]): Rigid {
  switch (given?.axis ?? 'return') {
    case 'return':
      return AT_REST;
    case 'carry':
      return frame;
    case 'reflect': {
      if (!reflects) {
        wrong.push({ id, text: 'Only a mirror can reflect the axis; it goes on unturned here.' });
        return AT_REST;
      }
      const { rotation: r, shift } = frame;
      return { shift, rotation: foldedAxes([r[2], r[5], r[8]]) };
    }
  }
}

/** The axis as it would be behind surface `j` had nothing been moved since the one it returns to; null when it does not return. */
function returning(
  surfaces: readonly Surface[],
  axes: readonly Rigid[],
  axis: Rigid,
  j: number,
  wrong: Misplaced[],
): Rigid | null {
  const target = surfaces[j].behind?.returnTo;
  if (target === undefined) return null;
  const first = surfaces.findIndex(({ id }) => id === target);
  if (first < 0 || first > j) {
    wrong.push({
      id: surfaces[j].id,
      text: `The axis cannot return to ${target}: it is no surface before this one.`,
    });
    return null;
  }
  let length = 0;
  for (let k = first; k < j; k++) length += surfaces[k].after?.thickness ?? 0;
  return compose(inverse(axis), compose(axes[first], shifted(0, 0, length)));
}

/** A point given in the surface's own coordinates, in those of the first vertex; mm. */
export function toGlobal(
  { pose }: { readonly pose: Rigid },
  x: number,
  y: number,
  z: number,
): [number, number, number] {
  return movePoint(pose, [x, y, z]);
}
