import { elementSurfaces, type Lens, type Project, type Section, type Tolerance } from '@ulvex/core';

/** How a surface or a body is drawn where a tolerance has taken it, z and y in mm, and what it is of. */
export interface MovedOutline {
  /** Corners z, y, z, y …, as sections have them. */
  readonly points: Float64Array;
  readonly closed: boolean;
  /** Whether the departure goes out of the plane of the drawing: it is marked, and not drawn elsewhere. */
  readonly across: boolean;
}

/** Ids of the surfaces that move together. */
function movedSurfaces(
  project: Project,
  lens: Lens,
  { surface, to }: Extract<Tolerance, { kind: 'element' }>,
): readonly string[] {
  if (to === undefined) return elementSurfaces(project, lens, surface);
  const ids = lens.surfaces.map(({ id }) => id);
  return ids.slice(ids.indexOf(surface), ids.indexOf(to) + 1);
}

/** Degrees that a tilt is drawn as, shares of the height that a shift and a change of thickness are, and how much more a face bows. */
const DRAWN = { tilt: 8, shift: 0.1, bow: 1.25 };

/**
 * What a tolerance moves, enlarged so that it can be seen: its faces and bodies, displaced as a departure to the upper limit would.
 *
 * @param section - the section of the lens as designed
 */
export function movedOutlines(project: Project, lens: Lens, section: Section, tolerance: Tolerance): MovedOutline[] {
  const face = (id: string) => section.surfaces.find((one) => one.id === id);
  const height = section.bounds.y[1] - section.bounds.y[0];
  const mapped = (points: Float64Array, map: (z: number, y: number) => readonly [number, number], closed = false) => {
    const moved = new Float64Array(points.length);
    for (let i = 0; i < points.length; i += 2) moved.set(map(points[i], points[i + 1]), i);
    return { points: moved, closed, across: false };
  };
  const asItIs = (points: Float64Array, closed = false) => ({ points, closed, across: true });
  const turned = ([cz, cy]: readonly [number, number], degrees: number) => {
    const [cosine, sine] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    return (z: number, y: number) =>
      [cz + cosine * (z - cz) + sine * (y - cy), cy - sine * (z - cz) + cosine * (y - cy)] as const;
  };
  switch (tolerance.kind) {
    case 'element': {
      const ids = new Set(movedSurfaces(project, lens, tolerance));
      const bodies = section.elements.filter(({ front }) => ids.has(front));
      const first = face([...ids][0]);
      if (!first) return [];
      const { motion } = tolerance;
      return bodies.map(({ outline }) => {
        if (motion === 'shift_x' || motion === 'tilt_y') return asItIs(outline, true);
        const [z, y] = first.vertex;
        if (motion === 'tilt_x') return mapped(outline, turned([z + (tolerance.pivot ?? 0), y], DRAWN.tilt), true);
        const [dz, dy] = motion === 'shift_y' ? [0, DRAWN.shift * height] : [DRAWN.shift * height, 0];
        return mapped(outline, (oz, oy) => [oz + dz, oy + dy], true);
      });
    }
    case 'wedge': {
      const found = face(tolerance.surface);
      if (!found) return [];
      return [tolerance.across === 'x' ? asItIs(found.line) : mapped(found.line, turned(found.vertex, DRAWN.tilt))];
    }
    case 'figure': {
      const found = face(tolerance.surface);
      return found ? [asItIs(found.line)] : [];
    }
    case 'homogeneity':
      return section.elements
        .filter(({ front }) => front === tolerance.surface)
        .map(({ outline }) => asItIs(outline, true));
    case 'melt': {
      const of = (front: string) => lens.surfaces.find(({ id }) => id === front)?.after?.material;
      return section.elements
        .filter(({ front }) => of(front) === tolerance.material)
        .map(({ outline }) => asItIs(outline, true));
    }
    default: {
      const [list, id, , surface, word] = tolerance.address.split('.');
      const found = list === 'lenses' && id === lens.id ? face(surface) : undefined;
      if (!found) return [];
      const [cz] = found.vertex;
      if (word === 'thickness') {
        const next = section.surfaces[section.surfaces.indexOf(found) + 1];
        return next ? [mapped(next.line, (z, y) => [z + DRAWN.shift * height, y])] : [];
      }
      if (word === 'tx') return [mapped(found.line, turned(found.vertex, DRAWN.tilt))];
      if (word === 'dy') return [mapped(found.line, (z, y) => [z, y + DRAWN.shift * height])];
      if (word === 'dz') return [mapped(found.line, (z, y) => [z + DRAWN.shift * height, y])];
      if (word === 'ty' || word === 'dx' || word === 'tz') return [asItIs(found.line)];
      return [mapped(found.line, (z, y) => [cz + DRAWN.bow * (z - cz), y])];
    }
  }
}
