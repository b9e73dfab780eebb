import { success, type Outcome } from '../../math/outcome.ts';
import { axisIndices } from '../../sequence/gap-transfer.ts';
import { surfacePower } from '../../sequence/surface-power.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** What each surface before the image does to first order, at the primary wavelength. */
export interface SurfacePowers {
  /** 1/mm. */
  readonly powers: readonly number[];
  /** Parts of the Petzval curvature, −φ/(n n′), 1/mm: W. T. Welford, Aberrations of Optical Systems (1986), ch. 7. */
  readonly petzval: readonly number[];
  readonly petzvalSum: number;
}

/** Powers of the surfaces and their parts of the Petzval curvature. */
export function surfacePowers(lens: LensEvaluation): Outcome<SurfacePowers> {
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { model } = lens;
  const { arrive, leave } = axisIndices(model, model.primary);
  const mm = model.wavelengths[model.primary].nm * 1e-6;
  const powers = model.surfaces.slice(0, -1).map((surface, j) => surfacePower(surface, arrive[j], leave[j + 1], mm));
  const petzval = powers.map((power, j) => -power / (arrive[j] * leave[j + 1]));
  return success({ powers, petzval, petzvalSum: petzval.reduce((total, part) => total + part, 0) });
}
