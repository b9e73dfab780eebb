import type { LensModel, TraceSurface } from './lens-model.ts';
import { curvatureChange, indexChange, type SolverVariable } from './solver-variable.ts';

/**
 * Paraxial power of a surface, 1/mm: n′u′ = nu − yΦ with indices negative after an odd number of mirrors. By its curvature, the phase
 * it adds, and the power of an ideal lens.
 *
 * @param mm - the wavelength in mm, as phases need it
 */
export function surfacePower({ shape, phase }: TraceSurface, before: number, behind: number, mm: number): number {
  return shape.curvature * (behind - before) + (shape.ideal?.power ?? 0) - (phase ? mm * phase.bend : 0);
}

/** How the powers of all surfaces change with a variable; see `surfacePower`. */
export function powerChanges(model: LensModel, variable: SolverVariable, wave: number): Float64Array {
  const { surfaces } = model;
  const mm = model.wavelengths[wave].nm * 1e-6;
  const indices = model.indices[wave];
  const dIndices = indexChange(model, variable);
  const dCurvatures = curvatureChange(model, variable);
  const changes = new Float64Array(surfaces.length);
  let sign = 1;
  for (let j = 0; j < surfaces.length; j++) {
    const { shape, phase, reflects } = surfaces[j];
    const after = reflects ? -sign : sign;
    changes[j] =
      dCurvatures[j] * (after * indices[j + 1] - sign * indices[j]) +
      shape.curvature * (after * dIndices[j + 1] - sign * dIndices[j]);
    sign = after;
    if (variable.surface !== j) continue;
    if (variable.kind === 'shape' && variable.id === 'focal_length' && shape.ideal) changes[j] += 1;
    if (variable.kind === 'phase' && phase) changes[j] -= mm * bendAt(phase.by[variable.id]);
  }
  return changes;
}

/** ∂²/∂y∂p of a slope at the vertex, from one small height to another. */
function bendAt(by: ((x: number, y: number, out: Float64Array) => void) | undefined): number {
  if (!by) return 0;
  const h = 1e-9;
  const out = new Float64Array(3);
  by(0, 2 * h, out);
  const far = out[2];
  by(0, h, out);
  return (far - out[2]) / h;
}
