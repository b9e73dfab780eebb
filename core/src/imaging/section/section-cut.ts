import { stretches } from '../../apertures/registry.ts';
import { turnDirection } from '../../math/rigid.ts';
import { toGlobal } from '../../sequence/placement.ts';
import type { TraceSurface } from '../../sequence/lens-model.ts';

/** Points of a line in the drawing plane: z, y, z, y … in mm, in the frame of the first vertex. */
export type PlanePath = Float64Array;

const STEPS = 48;
const ROUNDS = 30;
/** Of the surface's own x–y plane against the drawing plane: below, it is drawn as seen from the side rather than cut. */
const LEAST_ANGLE = 0.1;

/**
 * The line in which the drawing plane, x = 0 of the first vertex, cuts a surface. Points of it are named by a number in mm, which is
 * the height y on a surface that is not moved out of that plane, and its like on others.
 */
export class SurfaceCut {
  readonly #surface: TraceSurface;
  /** In the surface's own x–y plane: along the cut, and square to it. */
  readonly #along: readonly [number, number];
  readonly #across: readonly [number, number];
  /** How steeply the plane is crossed going across; 0 where the surface lies too flat in it to be cut. */
  readonly #steepness: number;
  /** Lines that were asked for: a surface is drawn as itself and as the face of the bodies at both sides of it. */
  readonly #lines = new Map<string, PlanePath>();

  constructor(surface: TraceSurface) {
    const { rotation: r } = surface.pose;
    const steepness = Math.hypot(r[0], r[1]);
    const cut = steepness > LEAST_ANGLE;
    this.#surface = surface;
    // Signed, so that going along the cut is going up on a surface that looks back.
    this.#steepness = cut ? (r[0] < 0 ? -steepness : steepness) : 0;
    this.#across = cut ? [r[0] / this.#steepness, r[1] / this.#steepness] : [1, 0];
    this.#along = [-this.#across[1], this.#across[0]];
  }

  /** Own x and y of a point of the cut; null where the surface does not reach the plane. */
  #local(at: number): [number, number] | null {
    const [ax, ay] = [at * this.#along[0], at * this.#along[1]];
    if (this.#steepness === 0) return [ax, ay];
    const { shape, pose } = this.#surface;
    const [cx, cy] = this.#across;
    let off = 0;
    for (let round = 0; round < ROUNDS; round++) {
      const sag = shape.sag(ax + off * cx, ay + off * cy);
      const next = -(pose.rotation[2] * sag + pose.shift[0]) / this.#steepness;
      if (Number.isNaN(next)) return null;
      if (Math.abs(next - off) < 1e-9) break;
      off = next;
    }
    return [ax + off * cx, ay + off * cy];
  }

  /** A point of the cut as [z, y]; `sagAt` takes the depth from elsewhere on it, as ground edges do. Null where there is none. */
  point(at: number, sagAt = at): [z: number, y: number] | null {
    const local = this.#local(at);
    const deep = sagAt === at ? local : this.#local(sagAt);
    if (!local || !deep) return null;
    const sag = this.#surface.shape.sag(...deep);
    if (Number.isNaN(sag)) return null;
    const [, y, z] = toGlobal(this.#surface, ...local, sag);
    return [z, y];
  }

  /** The cut from one of its points to another; the same array when asked again. */
  line(from: number, to: number): PlanePath {
    const key = `${from} ${to}`;
    const known = this.#lines.get(key);
    if (known) return known;
    const line = this.#trace(from, to);
    this.#lines.set(key, line);
    return line;
  }

  #trace(from: number, to: number): PlanePath {
    const { shape } = this.#surface;
    const flat = shape.sag(0, to) === 0 && shape.sag(0, from) === 0 && shape.sag(to / 2, to / 3) === 0;
    const steps = flat ? 1 : STEPS;
    const points = new Float64Array(2 * steps + 2);
    let count = 0;
    for (let i = 0; i <= steps; i++) {
      const point = this.point(from + ((to - from) * i) / steps);
      if (!point) continue;
      [points[count], points[count + 1]] = point;
      count += 2;
    }
    return points.slice(0, count);
  }

  /** What of the cut within ±`semi` a mask lets through; the whole where there is none. */
  pieces(semi: number): PlanePath[] {
    const { mask } = this.#surface;
    if (!mask) return [this.line(-semi, semi)];
    const inside = (at: number) => {
      const local = this.#local(at);
      return local !== null && mask.contains(...local);
    };
    return stretches(inside, semi).map(([from, to]) => this.line(from, to));
  }
}

/** A direction of a surface's own or axis coordinates in the drawing plane, as [z, y]. */
export function inPlane(pose: TraceSurface['pose'], direction: readonly [number, number, number]): [number, number] {
  const [, y, z] = turnDirection(pose, direction);
  return [z, y];
}
