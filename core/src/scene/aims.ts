import type { CompiledScatter } from '../finishes/laws/law.ts';
import type { UniformSource } from '../math/random.ts';
import type { Box } from '../bodies/face-form.ts';
import type { Triple } from '../math/rigid.ts';
import { across, acrossU, acrossV, coneAbout, drawToward, toL, toM, toN } from '../physics/directions.ts';
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
 * Importance sampling of scatter: beside the ray drawn by the scatter model, one goes into the cone of every ball that light is aimed at.
 * A direction that several of them could have drawn counts by the balance of their probabilities (E. Veach, L. Guibas, Optimally
 * Combining Sampling Techniques for Monte Carlo Rendering, 1995): p/(p + Σ 1/Ω) of the scattered flux, with the model's probability p
 * per steradian and the cones Ω that hold the direction. So light counts once on the average, and no ray carries more than came.
 */
export class ScatterAims {
  readonly aims: readonly Aim[];

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
    const { centre, radius } = this.aims[j];
    const u = random.uniform();
    const v = random.uniform();
    const [x, y, z, zx, zy, zz] = place;
    if (drawToward(centre[0] - x, centre[1] - y, centre[2] - z, radius, u, v) === 0) return 0;
    out[0] = toL;
    out[1] = toM;
    out[2] = toN;
    if (!(toL * zx + toM * zy + toN * zz > 0)) return 0;
    const share = this.share(scatter, place, toL, toM, toN);
    return share < 1 ? share : 0; // on the very rim of its cone rounding may put it outside
  }

  /** What a ray in a direction carries of the scattered flux, whoever drew it: 1 outside of all cones. */
  share(scatter: CompiledScatter, place: Float64Array, l: number, m: number, n: number): number {
    const [x, y, z, zx, zy, zz, sl, sm, sn] = place;
    let aimed = 0;
    for (const { centre, radius } of this.aims) {
      const cone = coneAbout(centre[0] - x, centre[1] - y, centre[2] - z, radius, l, m, n);
      if (cone > 0) aimed += 1 / cone;
    }
    if (aimed === 0) return 1;
    across(zx, zy, zz, sl, sm, sn);
    const [su, sv] = [acrossU, acrossV];
    across(zx, zy, zz, l, m, n);
    const density = scatter.density(su, sv, acrossU, acrossV);
    return density / (density + aimed);
  }
}
