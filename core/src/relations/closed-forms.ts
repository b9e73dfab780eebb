import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { surfacePower } from '../sequence/surface-power.ts';

/** The number that is looked for: the radius of a surface, or the thickness after it. */
export interface SoughtNumber {
  readonly surface: number;
  readonly kind: 'radius' | 'thickness';
}

/** The condition that it is chosen by. */
export interface SoughtCondition {
  readonly measure: string;
  readonly settings: Readonly<Record<string, unknown>>;
  /** In the unit of the measure. */
  readonly target: number;
}

/**
 * The value that makes a condition hold, where a closed form is known; null where none is, or where the number does not act on it so.
 * A thickness brings a paraxial ray to a height on the next surface, t = (h − y)/u; a radius gives it a slope after its surface,
 * n′u′ = n u − y Φ; a focal length or an F-number of a lens with its object at infinity is the slope −y₁/f of the marginal ray after the
 * last surface with power; a thickness makes the total length. W. J. Smith, Modern Optical Engineering, chapters 2 and 3.
 *
 * What it says counts only once it was tried: a pupil may move with the number, and so may what is linked to it.
 */
export function closedForm(lens: LensEvaluation, sought: SoughtNumber, condition: SoughtCondition): number | null {
  const primary = lens.primary();
  if (!primary.ok) return null;
  const { model } = lens;
  const data = primary.value;
  const { surface: j, kind } = sought;
  const { measure, settings, target } = condition;
  if (kind === 'thickness') {
    if (measure === 'total_length') {
      const zs = model.surfaces.map(({ pose }) => pose.shift[2]);
      const [first, last] = [zs[0], zs[zs.length - 1]];
      const length = Math.max(...zs) - Math.min(...zs);
      return last - first === length ? model.surfaces[j].gap + target - length : null;
    }
    if (measure !== 'paraxial_ray' || (settings.quantity ?? 'height') !== 'height') return null;
    const asked = (settings.surface as string) || model.surfaces.at(-1)!.id;
    if (model.surfaces[j + 1]?.id !== asked) return null;
    const ray = settings.ray === 'chief' ? data.chief : data.marginal;
    const zone = (settings.zone as number | undefined) ?? 1;
    return zone > 0 ? (target / zone - ray.y[j]) / ray.u[j + 1] : null;
  }
  const slope = wantedSlope(lens, j, condition);
  if (!slope) return null;
  const { ray, behind } = slope;
  const wave = model.primary;
  const sign = model.surfaces.slice(0, j).filter(({ reflects }) => reflects).length % 2 === 0 ? 1 : -1;
  const before = sign * model.indices[wave][j];
  const after = (model.surfaces[j].reflects ? -sign : sign) * model.indices[wave][j + 1];
  const wanted = (before * ray.u[j] - after * behind) / ray.y[j];
  const shape = model.surfaces[j];
  const now = surfacePower(shape, before, after, model.wavelengths[wave].nm * 1e-6);
  // The power that the radius does not make (of rings, of powers of r²) stays.
  const radius = lens.model.lens.surfaces[j].shape as { readonly radius?: number | 'infinity' };
  if (radius.radius === undefined) return null;
  const curvature = radius.radius === 'infinity' ? 0 : 1 / radius.radius;
  const next = curvature + (wanted - now) / (after - before);
  return next === 0 ? Infinity : 1 / next;
}

/** The slope that a paraxial ray is to have behind a surface. */
function wantedSlope(lens: LensEvaluation, j: number, { measure, settings, target }: SoughtCondition) {
  const { model } = lens;
  const primary = lens.primary();
  if (!primary.ok) return null;
  const { marginal, chief } = primary.value;
  if (measure === 'paraxial_ray') {
    const asked = (settings.surface as string) || model.surfaces.at(-1)!.id;
    const zone = (settings.zone as number | undefined) ?? 1;
    if (settings.quantity !== 'slope behind' || model.surfaces[j].id !== asked || !(zone > 0)) return null;
    return { ray: settings.ray === 'chief' ? chief : marginal, behind: target / zone };
  }
  // Behind it nothing bends the ray any more.
  const { aperture, object } = model.lens;
  const last = model.surfaces.length - 2;
  if (j !== last || object.distance !== 'infinity' || aperture.kind !== 'entrance_pupil_diameter') return null;
  const y = marginal.y[0];
  const wanted =
    measure === 'effective_focal_length' ? target : measure === 'image_f_number' ? target * aperture.value : null;
  if (wanted === null || wanted === 0) return null;
  const index = model.indices[model.primary][last + 1];
  const mirrors = model.surfaces.filter(({ reflects }) => reflects).length;
  return { ray: marginal, behind: -y / wanted / (mirrors % 2 === 0 ? index : -index) };
}
