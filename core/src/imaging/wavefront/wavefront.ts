import { RAY_STATUS, type RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { PupilPoints } from '../../sequence/pupil-sampling.ts';
import type { LensEvaluation, RayChoice } from '../evaluation/lens-evaluation.ts';
import { referenceSphere, wayToSphere, type SphereChoice } from './reference-sphere.ts';

/** A wavefront at points of the pupil. */
export interface Wavefront {
  readonly field: FieldPoint;
  /** Index of the wavelength in the model. */
  readonly wave: number;
  readonly points: PupilPoints;
  /** W in waves, positive where the wavefront leads; NaN where a ray does not arrive. */
  readonly w: Float64Array;
  readonly arrived: number;
}

/** Which rays, compared with which sphere. */
export type WavefrontChoice = RayChoice & SphereChoice;

/**
 * The wavefront of a field and colour over a sampling of the pupil, W = (OPL_chief − OPL_ray)/λ at the reference sphere (W. T. Welford,
 * Aberrations of Optical Systems, ch. 7); of the chief ray of its own colour, whatever the sphere is centred on.
 */
export function wavefront(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: WavefrontChoice,
): Outcome<Wavefront> {
  const bundle = lens.bundle(field, wave, choice);
  if (!bundle.ok) return bundle;
  return measured(lens, field, wave, choice, bundle.value.points, bundle.value.rays);
}

/** The same at single points of the pupil. */
export function wavefrontAt(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  px: Float64Array,
  py: Float64Array,
  choice: Omit<WavefrontChoice, 'sampling'>,
): Outcome<Wavefront> {
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const request = { field, wave, px, py, ...(choice.aim && { aim: choice.aim }) };
  const rays = traceBundle(aimer.value, request, { clip: choice.pupil === 'clipped' });
  const points = { px, py, weight: new Float64Array(px.length).fill(1 / px.length) };
  return measured(lens, field, wave, choice, points, rays);
}

function measured(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: Omit<WavefrontChoice, 'sampling'>,
  points: PupilPoints,
  rays: RayBlock,
): Outcome<Wavefront> {
  const sphere = referenceSphere(lens, field, wave, choice);
  if (!sphere.ok) return sphere;
  const own = lens.chief(field, wave, choice.aim);
  if (!own.ok) return own;
  const { model } = lens;
  const index = model.indices[wave][model.surfaces.length - 1];
  const mm = model.wavelengths[wave].nm * 1e-6;
  const pathTo = (block: RayBlock, i: number) => block.path[i] + index * wayToSphere(sphere.value, block, i);
  const start = pathTo(own.value, 0);
  let arrived = 0;
  const w = Float64Array.from(points.px, (_, i) => {
    if (rays.status[i] !== RAY_STATUS.alive) return NaN;
    arrived++;
    return (start - pathTo(rays, i)) / mm;
  });
  if (arrived === 0) return failure(`No ray of field ${field.id} reaches the image.`, field.id);
  return success({ field, wave, points, w, arrived });
}

/** Numbers of a wavefront, in waves. */
export interface WavefrontNumbers {
  readonly mean: number;
  /** About the mean. */
  readonly rms: number;
  /** With the best tilt, and with the best tilt and focus, taken off. */
  readonly rmsWithoutTilt: number;
  readonly rmsWithoutFocus: number;
  /** Largest minus least value. */
  readonly peakToValley: number;
  /** |⟨exp 2πiW⟩|². */
  readonly strehl: number;
}

/** Numbers of a wavefront over the rays that arrived, each by its share of the pupil. */
export function wavefrontNumbers({ points, w }: Wavefront): WavefrontNumbers {
  const { px, py, weight } = points;
  let [total, mean, re, im, low, high] = [0, 0, 0, 0, Infinity, -Infinity];
  for (let i = 0; i < w.length; i++) {
    if (Number.isNaN(w[i])) continue;
    total += weight[i];
    mean += weight[i] * w[i];
    re += weight[i] * Math.cos(2 * Math.PI * w[i]);
    im += weight[i] * Math.sin(2 * Math.PI * w[i]);
    low = Math.min(low, w[i]);
    high = Math.max(high, w[i]);
  }
  mean /= total;
  const left = (terms: readonly ((x: number, y: number) => number)[]) => residualRms(w, px, py, weight, terms);
  const tilt = [() => 1, (x: number) => x, (_x: number, y: number) => y];
  return {
    mean,
    rms: left([() => 1]),
    rmsWithoutTilt: left(tilt),
    rmsWithoutFocus: left([...tilt, (x, y) => x * x + y * y]),
    peakToValley: high - low,
    strehl: (re * re + im * im) / (total * total),
  };
}

/** Weighted RMS of what functions of the pupil, orthogonalised one after another (Gram and Schmidt), leave of W. */
function residualRms(
  w: Float64Array,
  px: Float64Array,
  py: Float64Array,
  weight: Float64Array,
  terms: readonly ((x: number, y: number) => number)[],
): number {
  const alive = [...w.keys()].filter((i) => !Number.isNaN(w[i]));
  const total = alive.reduce((sum, i) => sum + weight[i], 0);
  const dot = (a: Float64Array, b: Float64Array) => alive.reduce((sum, i) => sum + weight[i] * a[i] * b[i], 0) / total;
  const rest = w.slice();
  const basis: Float64Array[] = [];
  for (const term of terms) {
    const next = Float64Array.from(w, (_, i) => term(px[i], py[i]));
    // Twice: rounding leaves nothing of the earlier ones.
    for (let pass = 0; pass < 2; pass++)
      for (const known of basis) {
        const share = dot(next, known);
        for (const i of alive) next[i] -= share * known[i];
      }
    const length = Math.sqrt(dot(next, next));
    if (!(length > 1e-12)) continue;
    for (const i of alive) next[i] /= length;
    basis.push(next);
    const share = dot(rest, next);
    for (const i of alive) rest[i] -= share * next[i];
  }
  return Math.sqrt(dot(rest, rest));
}
