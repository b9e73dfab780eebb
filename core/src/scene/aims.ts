import type { CompiledScatter } from '../finishes/scatter.ts';
import { aboutDirection } from '../finishes/scatter.ts';
import type { UniformSource } from '../math/random.ts';
import type { Box } from '../bodies/face-form.ts';
import type { Triple } from '../math/rigid.ts';
import type { Finding } from '../sequence/lens-model.ts';

/** A ball that light is aimed at: the smallest about the box of a part or of a free detector. */
export interface Aim {
  readonly id: string;
  readonly centre: Triple;
  /** mm. */
  readonly radius: number;
}

/** Bounds of what carries one id: a part by its faces, a detector by where it stands. */
interface Bounded {
  readonly part: string;
  readonly name: string;
  readonly through: boolean;
  readonly box: Box;
}

/** The balls about parts and detectors that are named; a finding for each name without anything to aim at. */
export function compileAims(
  ids: readonly string[],
  faces: readonly Bounded[],
  where: string,
  findings: Finding[],
): Aim[] {
  return ids.flatMap((id) => {
    const boxes = faces.filter(({ part, name, through }) => (through ? name : part) === id);
    if (boxes.length === 0) {
      findings.push({
        severity: 'warning',
        where,
        text: `Light cannot be aimed at “${id}”: no part or free detector of that name has a place. Choose another in its panel.`,
      });
      return [];
    }
    const low = [0, 1, 2].map((axis) => Math.min(...boxes.map(({ box }) => box.min[axis])));
    const high = [0, 1, 2].map((axis) => Math.max(...boxes.map(({ box }) => box.max[axis])));
    const centre = low.map((value, axis) => (value + high[axis]) / 2) as unknown as Triple;
    return [{ id, centre, radius: Math.hypot(...low.map((value, axis) => (high[axis] - value) / 2)) }];
  });
}

/**
 * Draws a direction evenly from the cone that a ball fills, as seen from a point.
 *
 * @returns its solid angle, sr: 2π(1 − √(1 − r²/d²)); 0 where the point lies in the ball, and nothing is drawn
 */
export function towardsAim(
  { centre, radius }: Aim,
  x: number,
  y: number,
  z: number,
  u: number,
  v: number,
  out: Float64Array,
): number {
  const [dx, dy, dz] = [centre[0] - x, centre[1] - y, centre[2] - z];
  const square = dx * dx + dy * dy + dz * dz;
  const sines = (radius * radius) / square;
  if (!(sines < 1)) return 0;
  // 1 − cos without cancellation for a small ball far away.
  const depth = sines / (1 + Math.sqrt(1 - sines));
  const rise = u * depth;
  const sine = Math.sqrt(rise * (2 - rise));
  const about = 2 * Math.PI * v;
  const scale = 1 / Math.sqrt(square);
  aboutDirection(dx * scale, dy * scale, dz * scale, 1 - rise, sine * Math.cos(about), sine * Math.sin(about), out);
  return 2 * Math.PI * depth;
}

/** Solid angle of the cone that a ball fills as seen from a point, where a unit direction lies in that cone; 0 elsewhere. */
export function coneAround(
  { centre, radius }: Aim,
  x: number,
  y: number,
  z: number,
  l: number,
  m: number,
  n: number,
): number {
  const [dx, dy, dz] = [centre[0] - x, centre[1] - y, centre[2] - z];
  const square = dx * dx + dy * dy + dz * dz;
  const sines = (radius * radius) / square;
  const along = dx * l + dy * m + dz * n;
  if (!(sines < 1) || !(along > 0) || !(along * along > square * (1 - sines))) return 0;
  return (2 * Math.PI * sines) / (1 + Math.sqrt(1 - sines));
}

/**
 * Importance sampling of scatter: beside the ray drawn by the scatter model, one goes into the cone of every ball that light is aimed at.
 * A direction that several of them could have drawn counts by the balance of their probabilities (E. Veach, L. Guibas, Optimally
 * Combining Sampling Techniques for Monte Carlo Rendering, 1995): p/(p + Σ 1/Ω) of the scattered flux, with the model's probability p
 * per steradian and the cones Ω that hold the direction. So light counts once on the average, and no ray carries more than came.
 */
export class ScatterAims {
  readonly aims: readonly Aim[];
  readonly #frame = new Float64Array(6);

  constructor(aims: readonly Aim[]) {
    this.aims = aims;
  }

  /**
   * Draws the direction of light that goes to aim j into `out`.
   *
   * @param place - where it is scattered, then the normal there on the side light goes to, then the direction it would take if the face were smooth
   * @returns its flux over all that is scattered; 0 for none
   */
  draw(j: number, scatter: CompiledScatter, place: Float64Array, random: UniformSource, out: Float64Array): number {
    const u = random.uniform();
    const v = random.uniform();
    const [x, y, z, zx, zy, zz] = place;
    if (towardsAim(this.aims[j], x, y, z, u, v, out) === 0) return 0;
    const [l, m, n] = out;
    if (!(l * zx + m * zy + n * zz > 0)) return 0;
    const share = this.share(scatter, place, l, m, n);
    return share < 1 ? share : 0; // on the very rim of its cone rounding may put it outside
  }

  /** What a ray in a direction carries of the scattered flux, whoever drew it: 1 outside of all cones. */
  share(scatter: CompiledScatter, place: Float64Array, l: number, m: number, n: number): number {
    const [x, y, z, zx, zy, zz, sl, sm, sn] = place;
    let aimed = 0;
    for (const aim of this.aims) {
      const cone = coneAround(aim, x, y, z, l, m, n);
      if (cone > 0) aimed += 1 / cone;
    }
    if (aimed === 0) return 1;
    const frame = this.#frame;
    const [a, b] = [frame.subarray(0, 3), frame.subarray(3, 6)];
    aboutDirection(zx, zy, zz, 0, 1, 0, a);
    aboutDirection(zx, zy, zz, 0, 0, 1, b);
    const along = (axis: Float64Array, p: number, q: number, r: number) => p * axis[0] + q * axis[1] + r * axis[2];
    const density = scatter.density(along(a, sl, sm, sn), along(b, sl, sm, sn), along(a, l, m, n), along(b, l, m, n));
    return density / (density + aimed);
  }
}
