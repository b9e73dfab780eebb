import { RAY_STATUS, statusReason, type SectionRay } from '@ulvex/core';
import type { ChartFrame } from './chart-frame.ts';

/** How near a click must come to a ray, pixels. */
const NEAR = 7;

/** Number of the drawn ray that passes nearest to a point in pixels; null where none is near. */
export function nearestRay(
  rays: readonly SectionRay[],
  frame: Pick<ChartFrame, 'x' | 'y'>,
  x: number,
  y: number,
): number | null {
  let best: number | null = null;
  let least = NEAR * NEAR;
  rays.forEach(({ points }, index) => {
    for (let i = 0; i + 3 < points.length; i += 2) {
      const [ax, ay] = [frame.x(points[i]), frame.y(points[i + 1])];
      const [dx, dy] = [frame.x(points[i + 2]) - ax, frame.y(points[i + 3]) - ay];
      const along = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
      const distance = (x - ax - along * dx) ** 2 + (y - ay - along * dy) ** 2;
      if (distance < least) {
        least = distance;
        best = index;
      }
    }
  });
  return best;
}

/** One stretch of a ray's way: where it ends and how it climbs. */
export interface StoryStep {
  readonly where: string;
  /** mm, in the frame of the first vertex. */
  readonly z: number;
  readonly y: number;
  /** Angle to the axis on the way there, degrees, positive where it climbs toward +y. */
  readonly angle: number;
}

/** Where a ray goes, surface by surface, and how it ends. */
export interface RayStory {
  readonly steps: readonly StoryStep[];
  readonly end: string;
}

/**
 * Tells a drawn ray: the way to every surface it reaches, with the height there in the drawing plane.
 *
 * @param titles - of the surfaces, in the order in which light meets them
 */
export function rayStory(ray: SectionRay, titles: readonly string[], endsAt: string | null): RayStory {
  const { points } = ray;
  const steps: StoryStep[] = [];
  for (let i = 2; i + 1 < points.length; i += 2) {
    const [dz, dy] = [points[i] - points[i - 2], points[i + 1] - points[i - 1]];
    const last = i + 3 >= points.length;
    steps.push({
      where: last && ray.strays ? 'past it' : (titles[i / 2 - 1] ?? ''),
      z: points[i],
      y: points[i + 1],
      angle: (Math.atan2(dy, Math.abs(dz)) * 180) / Math.PI,
    });
  }
  const end =
    ray.status === RAY_STATUS.alive ? 'It arrives.' : `It ${statusReason(ray.status)} at ${endsAt ?? 'a surface'}.`;
  return { steps, end };
}
