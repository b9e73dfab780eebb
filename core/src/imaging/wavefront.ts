import { RAY_STATUS, statusReason, type RayBlock } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { inverse, movePoint } from '../math/rigid.ts';
import type { FieldPoint } from '../project/model.ts';
import { traceBundle } from '../sequence/bundle.ts';
import type { PupilPoints } from '../sequence/pupil-sampling.ts';
import type { LensEvaluation, RayChoice } from './evaluation.ts';
import { isAfocal } from './image-space.ts';

/** Where a wavefront is measured from: the image point of its own chief ray, or of that of the primary wavelength. */
export type WavefrontReference = 'own' | 'primary';

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

/** The sphere that a wavefront is compared with, in the frame of the image surface: about a point, through the exit pupil. */
export interface ReferenceSphere {
  readonly centre: readonly [number, number, number];
  /** mm; Infinity for an exit pupil at infinity, where it is a plane across the chief ray. */
  readonly radius: number;
  /** 1 where light reaches the sphere behind the centre, −1 before it. */
  readonly side: 1 | -1;
  readonly chief: readonly [number, number, number];
}

/** What goes on about the choice of rays. */
export type WavefrontChoice = RayChoice & {
  readonly reference?: WavefrontReference;
  /** How far the image surface is moved along its axis, mm; the chief ray is followed there. */
  readonly shift?: number;
};

/**
 * The reference sphere of a field and colour: centred on the chief ray's image point, through the axial point of the paraxial exit
 * pupil (primary wavelength). Fails where the chief ray does not arrive.
 */
export function referenceSphere(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: Pick<WavefrontChoice, 'aim' | 'reference' | 'shift'> = {},
): Outcome<ReferenceSphere> {
  const { model } = lens;
  if (isAfocal(model.lens))
    return failure('The image lies at infinity: there is no point that its wavefront could close in on.');
  const fresnel = model.surfaces.find(({ shape }) => shape.facets);
  if (fresnel) return failure('Steps of a Fresnel surface are not traced: it has no wavefront.', fresnel.id);
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const chief = lens.chief(field, choice.reference === 'primary' ? model.primary : wave, choice.aim);
  if (!chief.ok) return chief;
  const { x, y, z, l, m, n, status, at } = chief.value;
  if (status[0] !== RAY_STATUS.alive) {
    const surface = model.surfaces[at[0]].id;
    return failure(`The chief ray of field ${field.id} ${statusReason(status[0])} at ${surface}.`, surface);
  }
  const onward = (choice.shift ?? 0) / n[0];
  const centre = [x[0] + onward * l[0], y[0] + onward * m[0], z[0] + onward * n[0]] as const;
  const direction = [l[0], m[0], n[0]] as const;
  const { exitPupil } = primary.value;
  if (!Number.isFinite(exitPupil))
    return success({ centre, radius: Infinity, side: -1, chief: direction });
  const [last, image] = model.surfaces.slice(-2);
  const pupil = movePoint(inverse(image.pose), movePoint(last.pose, [0, 0, exitPupil]));
  const away = pupil.map((value, axis) => value - centre[axis]);
  const side = away[0] * l[0] + away[1] * m[0] + away[2] * n[0] >= 0 ? 1 : -1;
  return success({ centre, radius: Math.hypot(...away), side, chief: direction });
} // prettier-ignore

/** Way in mm from a ray's place at the image along its direction to a reference sphere. */
export function wayToSphere({ centre, radius, side, chief }: ReferenceSphere, rays: RayBlock, i: number): number {
  const [dx, dy, dz] = [rays.x[i] - centre[0], rays.y[i] - centre[1], rays.z[i] - centre[2]];
  const [l, m, n] = [rays.l[i], rays.m[i], rays.n[i]];
  if (radius === Infinity)
    return -(dx * chief[0] + dy * chief[1] + dz * chief[2]) / (l * chief[0] + m * chief[1] + n * chief[2]);
  const b = dx * l + dy * m + dz * n;
  const c = dx * dx + dy * dy + dz * dz - radius * radius;
  return -b + side * Math.sqrt(b * b - c);
} // prettier-ignore

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
  const left = (terms: readonly ((x: number, y: number) => number)[]) =>
    residualRms(w, px, py, weight, terms);
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
  const dot = (a: Float64Array, b: Float64Array) =>
    alive.reduce((sum, i) => sum + weight[i] * a[i] * b[i], 0) / total;
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
