import { RAY_STATUS, type RayBlock } from '../../compute/ray-block.ts';
import { isGas } from '../../materials/material.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { turnDirection, type Triple } from '../../math/rigid.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { pupilPoints, type PupilSampling } from '../../sequence/pupil-sampling.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { cosineInFront, lensFlux, type LensFlux } from './surface-flux.ts';

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

/** Points of the pupil over which a share that changes slowly is averaged. */
export const TRANSMISSION_SAMPLING = { kind: 'polar', rings: 6, arms: 12 } as const;

/** Flux of the rays of a bundle on their way, and where it was lost. */
class FluxOnTheWay {
  readonly left: Float64Array;
  readonly atSurfaces: readonly Float64Array[];
  readonly inMedia: readonly Float64Array[];
  readonly takenClear = new Set<string>();
  readonly #lens: LensEvaluation;
  readonly #wave: number;
  readonly #flux: LensFlux;
  /** Directions after the last surface, and optical paths to it. */
  readonly #l: Float64Array;
  readonly #m: Float64Array;
  readonly #n: Float64Array;
  readonly #path: Float64Array;

  constructor(lens: LensEvaluation, wave: number, rays: number) {
    const column = () => new Float64Array(rays);
    this.#lens = lens;
    this.#wave = wave;
    this.#flux = lensFlux(lens);
    this.left = column().fill(1);
    this.atSurfaces = lens.model.surfaces.map(column);
    this.inMedia = lens.model.surfaces.map(column);
    [this.#l, this.#m, this.#n, this.#path] = [column(), column(), column(), column()];
  }

  launched(block: RayBlock): void {
    const rays = this.left.length;
    this.#l.set(block.l.subarray(0, rays));
    this.#m.set(block.m.subarray(0, rays));
    this.#n.set(block.n.subarray(0, rays));
    this.#path.set(block.path.subarray(0, rays));
  }

  /** Counts what a surface, and the medium before it, take of some rays. */
  met(j: number, block: RayBlock, from: number, size: number): void {
    const { model } = this.#lens;
    const { entry, reflects } = model.surfaces[j];
    const index = model.indices[this.#wave][j];
    const behind = reflects ? index : model.indices[this.#wave][j + 1];
    const graded = j > 0 && model.surfaces[j - 1].gradient !== null;
    const { left } = this;
    for (let k = 0; k < size; k++) {
      const i = from + k;
      this.#cross(j, i, graded, (block.path[k] - this.#path[i]) / index);
      const coming: Triple = [this.#l[i], this.#m[i], this.#n[i]];
      const [x, y, z] = entry ? turnDirection(entry, coming) : coming;
      const [nx, ny, nz] = [block.nx[k], block.ny[k], block.nz[k]];
      const cosine = graded
        ? cosineInFront(index, behind, block.l[k] * nx + block.m[k] * ny + block.n[k] * nz)
        : Math.abs(x * nx + y * ny + z * nz);
      const on = this.#flux.surface(j, this.#wave, index, behind, Math.min(1, cosine));
      this.atSurfaces[j][i] = left[i] * (1 - on);
      left[i] *= on;
      this.#l[i] = block.l[k];
      this.#m[i] = block.m[k];
      this.#n[i] = block.n[k];
      this.#path[i] = block.path[k];
    }
  }

  /** Counts what the medium before a surface takes of a ray. */
  #cross(j: number, i: number, graded: boolean, way: number): void {
    const medium = this.#lens.model.media[j];
    if (!medium || isGas(medium)) return;
    const share = graded ? null : this.#flux.medium(j, this.#wave, way);
    if (share === null) this.takenClear.add(medium.label);
    else {
      this.inMedia[j][i] = this.left[i] * (1 - share);
      this.left[i] *= share;
    }
  }
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
  const { px, py, weight } = pupilPoints(sampling, lens.model.lens.pupil.obscuration);
  const flux = new FluxOnTheWay(lens, wave, px.length);
  const { status } = traceBundle(
    aimer.value,
    { field, wave, px, py },
    {
      clip: true,
      onLaunch: (block) => flux.launched(block),
      visit: (j, block, from, size) => flux.met(j, block, from, size),
    },
  );
  const arrive = [...px.keys()].filter((i) => status[i] === RAY_STATUS.alive);
  const whole = arrive.reduce((sum, i) => sum + weight[i], 0);
  if (whole === 0) return failure('No ray of this field arrives at the image.', field.id);
  const mean = (of: Float64Array) => arrive.reduce((sum, i) => sum + weight[i] * of[i], 0) / whole;
  return success({
    share: mean(flux.left),
    atSurfaces: Float64Array.from(flux.atSurfaces, mean),
    inMedia: Float64Array.from(flux.inMedia, mean),
    takenClear: [...flux.takenClear],
  });
}
