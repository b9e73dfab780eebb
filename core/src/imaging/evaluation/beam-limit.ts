import { RAY_STATUS } from '../../compute/ray-block.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { LensEvaluation } from './lens-evaluation.ts';
import { clearStretches } from './vignetting.ts';

/** A set aperture that limits the beam on the axis in place of the stop. */
export interface BeamLimit {
  /** Index of the surface at which most of the rim is cut. */
  readonly surface: number;
  /** Share of the area of the beam that passes, central obscurations apart, 0 to 1. */
  readonly passing: number;
}

/** Rays on the rim by which it is seen whether anything cuts, and directions in which the cut is measured. */
const RIM = 24;
/** A cut below this share is the rounding of an aperture that was set to just clear the beam. */
const WORTH_TELLING = 2e-3;
const AXIS: FieldPoint = { id: 'beam_axis', x: 0, y: 0, weight: 1 };

/**
 * What limits the beam of the axis, in the primary wavelength, if that is not the stop; null if it is, or if the beam cannot be traced. The rim
 * counts: an obscuration in the middle takes light, but not aperture.
 */
export function beamLimit(lens: LensEvaluation): BeamLimit | null {
  return lens.shared('beam limit', (): BeamLimit | null => {
    const { model } = lens;
    if (model.surfaces.every(({ open }) => open === null)) return null;
    const aimer = lens.aimer();
    if (!aimer.ok) return null;
    const angles = Array.from({ length: RIM }, (_, k) => (2 * Math.PI * (k + 0.5)) / RIM);
    const [px, py] = [Float64Array.from(angles, Math.cos), Float64Array.from(angles, Math.sin)];
    const { status, at } = traceBundle(aimer.value, { field: AXIS, wave: model.primary, px, py }, { clip: true });
    const cuts = new Map<number, number>();
    status.forEach((one, i) => one === RAY_STATUS.clipped && cuts.set(at[i], (cuts.get(at[i]) ?? 0) + 1));
    if (cuts.size === 0) return null;
    const stretches = clearStretches(lens, AXIS, angles);
    if (!stretches.ok) return null;
    const passing = stretches.value.reduce((sum, one) => sum + (one.at(-1)?.[1] ?? 0) ** 2, 0) / RIM;
    if (1 - passing < WORTH_TELLING) return null;
    const [surface] = [...cuts.entries()].sort((a, b) => b[1] - a[1])[0];
    return { surface, passing };
  });
}

/** How many times larger the F-number of the light that passes is than that of the stop: one over the root of the area. */
export function fNumberFactor(lens: LensEvaluation): number {
  const limit = beamLimit(lens);
  return limit && limit.passing > 0 ? 1 / Math.sqrt(limit.passing) : 1;
}
