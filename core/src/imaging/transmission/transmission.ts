import { RAY_STATUS } from '../../compute/ray-block.ts';
import { isGas } from '../../materials/material.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { turnDirection, type Triple } from '../../math/rigid.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { pupilPoints, type PupilSampling } from '../../sequence/pupil-sampling.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { cosineInFront, lensFlux } from './surface-flux.ts';

/** What a lens lets through of the light of a field, of one wavelength, that arrives at its image. */
export interface Transmission {
  /** Mean share over the pupil, of the rays that arrive. */
  readonly share: number;
  /** Mean loss at each surface, share of what was launched. */
  readonly atSurfaces: Float64Array;
  /** The same in the medium in front of each surface. */
  readonly inMedia: Float64Array;
  /** Labels of media without a record of their transmittance here: taken as clear. */
  readonly takenClear: readonly string[];
}

/**
 * Follows the rays of a field through the lens, unpolarised at every surface, with the internal transmittance of its media. Rays that set
 * apertures stop do not count: that is vignetting. Losses and what is left add up to 1. A gradient counts with its index at the vertex, and as clear.
 *
 * @param wave - index of the wavelength
 */
export function transmission(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  sampling: PupilSampling,
): Outcome<Transmission> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const { model } = lens;
  const { px, py, weight } = pupilPoints(sampling, model.lens.pupil.obscuration);
  const rays = px.length;
  const flux = lensFlux(lens);
  const left = new Float64Array(rays).fill(1);
  const [l, m, n, path] = [0, 1, 2, 3].map(() => new Float64Array(rays)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const atSurface = model.surfaces.map(() => new Float64Array(rays));
  const inMedium = model.surfaces.map(() => new Float64Array(rays));
  const takenClear = new Set<string>();
  const { status } = traceBundle(
    aimer.value,
    { field, wave, px, py },
    {
      clip: true,
      onLaunch(block) {
        l.set(block.l.subarray(0, rays));
        m.set(block.m.subarray(0, rays));
        n.set(block.n.subarray(0, rays));
        path.set(block.path.subarray(0, rays));
      },
      visit(j, block, from, size) {
        const { entry, reflects } = model.surfaces[j];
        const index = model.indices[wave][j];
        const behind = reflects ? index : model.indices[wave][j + 1];
        const medium = model.media[j];
        const clear = !medium || isGas(medium);
        const graded = j > 0 && model.surfaces[j - 1].gradient !== null;
        for (let k = 0; k < size; k++) {
          const i = from + k;
          let coming: Triple = [l[i], m[i], n[i]];
          if (entry) coming = turnDirection(entry, coming);
          const [nx, ny, nz] = [block.nx[k], block.ny[k], block.nz[k]];
          const cosine = graded
            ? cosineInFront(index, behind, block.l[k] * nx + block.m[k] * ny + block.n[k] * nz)
            : Math.abs(coming[0] * nx + coming[1] * ny + coming[2] * nz);
          if (!clear) {
            const share = graded ? null : flux.medium(j, wave, (block.path[k] - path[i]) / index);
            if (share === null) takenClear.add(medium.label);
            else {
              inMedium[j][i] = left[i] * (1 - share);
              left[i] *= share;
            }
          }
          const on = flux.surface(j, wave, index, behind, Math.min(1, cosine));
          atSurface[j][i] = left[i] * (1 - on);
          left[i] *= on;
          l[i] = block.l[k];
          m[i] = block.m[k];
          n[i] = block.n[k];
          path[i] = block.path[k];
        }
      },
    },
  );
  let whole = 0;
  for (let i = 0; i < rays; i++) if (status[i] === RAY_STATUS.alive) whole += weight[i];
  if (whole === 0) return failure('No ray of this field arrives at the image.', field.id);
  const mean = (of: Float64Array) => {
    let sum = 0;
    for (let i = 0; i < rays; i++) if (status[i] === RAY_STATUS.alive) sum += weight[i] * of[i];
    return sum / whole;
  };
  return success({
    share: mean(left),
    atSurfaces: Float64Array.from(atSurface, mean),
    inMedia: Float64Array.from(inMedium, mean),
    takenClear: [...takenClear],
  });
}
