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

/** What placing takes of motions; plain ones, or such that carry their derivative along. */
export interface Motions<R> {
  readonly rest: R;
  /** A shift and tilt that a surface holds. */
  frame(surface: Surface, part: 'frame' | 'behind'): R;
  /** The step along z by the thickness after a surface. */
  step(surface: Surface): R;
  /** `inner` first, then `outer`. */
  compose(outer: R, inner: R): R;
  inverse(motion: R): R;
  /** The axis after a mirror that stands in a frame, seen from the axis that comes to it. */
  fold(frame: R): R;
}

export interface Placed<R> {
  readonly axis: R;
  readonly pose: R;
  readonly entry: R;
}

const PLAIN: Motions<Rigid> = {
  rest: AT_REST,
  frame: (surface, part) => rigidOf(surface[part] ?? {}),
  step: (surface) => shifted(0, 0, surface.after?.thickness ?? 0),
  compose,
  inverse,
  fold: ({ shift, rotation: r }) => ({ shift, rotation: foldedAxes([r[2], r[5], r[8]]) }),
};

/**
 * Places the surfaces of a lens one behind the other.
 *
 * An axis comes to each surface; its frame shifts and tilts the surface from there, p = (dx, dy, dz) + Rx·Ry·Rz·p_local. Behind it
 * the axis goes on as if the surface were not moved (`return`), goes along with it (`carry`), or is reflected by it (`reflect`);
 * `behind` may take it back to where it would be had nothing been moved since an earlier surface, and shift and tilt it further.
 */
export function placeSurfaces(surfaces: readonly Surface[]): { placed: Placement[]; wrong: Misplaced[] } {
  const wrong: Misplaced[] = [];
  const placed = placeWith(PLAIN, surfaces, wrong).map((place, j) => {
    const step = surfaces[j - 1]?.after?.thickness ?? 0;
    return { ...place, plain: alongZ(place.entry) && place.entry.shift[2] === -step + 0 };
  });
  return { placed, wrong };
}

/** `placeSurfaces` with motions of any kind; what frames cannot be is added to `wrong`. */
export function placeWith<R>(motions: Motions<R>, surfaces: readonly Surface[], wrong: Misplaced[] = []): Placed<R>[] {
  const { compose, inverse, rest } = motions;
  const axes: R[] = []; // the axis that comes to each surface
  let axis = rest;
  let fromBefore = rest; // from the coordinates of the surface before to that axis
  return surfaces.map((surface, j) => {
    axes.push(axis);
    const frame = motions.frame(surface, 'frame');
    const place = { axis, pose: compose(axis, frame), entry: compose(inverse(frame), fromBefore) };
    const turned = behindFrame(motions, surface, frame, wrong);
    const back = returning(motions, surfaces, axes, j, wrong) ?? turned;
    const onward = compose(compose(back, motions.frame(surface, 'behind')), motions.step(surface));
    fromBefore = compose(inverse(onward), frame);
    axis = compose(axis, onward);
    return place;
  });
}

/** The axis after a surface by its frame alone, seen from the axis that comes to it. */
function behindFrame<R>(motions: Motions<R>, { id, frame: given, reflects }: Surface, frame: R, wrong: Misplaced[]): R {
  switch (given?.axis ?? 'return') {
    case 'return':
      return motions.rest;
    case 'carry':
      return frame;
    case 'reflect':
      if (reflects) return motions.fold(frame);
      wrong.push({ id, text: 'Only a mirror can reflect the axis; it goes on unturned here.' });
      return motions.rest;
  }
}

/** The axis as it would be behind surface `j` had nothing been moved since the one it returns to; null when it does not return. */
function returning<R>(
  { compose, inverse, step }: Motions<R>,
  surfaces: readonly Surface[],
  axes: readonly R[],
  j: number,
  wrong: Misplaced[],
): R | null {
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
  const back = surfaces.slice(first, j).reduce((motion, surface) => compose(motion, step(surface)), axes[first]);
  return compose(inverse(axes[j]), back);
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
