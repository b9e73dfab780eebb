import { RAY_STATUS, type RayBlock } from '../../compute/ray-block.ts';
import { OrthogonalFit } from '../../math/linear-fit.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { horner, type Polynomial, type PolynomialBasis } from '../../math/polynomial-basis.ts';
import { rootBetween } from '../../math/root.ts';
import { ZernikeBasis } from '../../math/zernike-basis.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { Aimer } from '../../sequence/aiming.ts';
import { traceBundle, type BundleOptions, type BundleRequest } from '../../sequence/bundle.ts';
import type { TraceSurface } from '../../sequence/lens-model.ts';
import { pupilPoints, type PupilSampling } from '../../sequence/pupil-sampling.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import type { PupilFunction, PupilLine } from './otf.ts';
import { referenceSphere, spherePlaces, type WavefrontReference } from './reference-sphere.ts';
import { wavefront } from './wavefront.ts';

/** How closely a pupil is followed: `draft` while a number is turned, `full` once it rests. */
export type Detail = 'draft' | 'full';

/** Which pupil of a field and colour. */
export interface PupilChoice {
  /**
   * `physical`: places on the reference sphere with the true amplitude. `simple`: an even pupil in ray coordinates, faster, and off
   * if the pupil is distorted.
   */
  readonly method: 'physical' | 'simple';
  readonly wave: number;
  readonly reference: WavefrontReference;
  /** `good`: to a thousandth of a wave, `close`: to a fifth of that, between the two. */
  readonly detail: Detail | 'good' | 'close';
  readonly aim?: 'paraxial' | 'stop';
  /** `clipped`: set apertures take their part away; the physical pupil alone knows them. `full` when left out. */
  readonly pupil?: 'full' | 'clipped';
}

/** A pupil from which diffraction is computed, its coordinates scaled to reach from −1 to 1 along both axes. */
export interface DiffractionPupil {
  readonly of: PupilFunction;
  /** Half of its width along x and y in coordinates n′·(centre − place)/R of the reference sphere, and its middle. */
  readonly half: readonly [number, number];
  readonly middle: readonly [number, number];
  /** Wavelength, mm. */
  readonly mm: number;
  /** RMS that fitted polynomials leave of the phase, waves. */
  readonly residual: number;
  /** Largest less least phase, waves. */
  readonly waves: number;
  readonly phase: PhaseFit;
}

/** The phase of a pupil as a sum of polynomials over its coordinates, and the rays that it was fitted to. */
export interface PhaseFit {
  readonly px: Float64Array;
  readonly py: Float64Array;
  readonly basis: PolynomialBasis;
  readonly fit: OrthogonalFit;
  /** Waves, one for each polynomial of the basis. */
  readonly coefficients: Float64Array;
}

/** Polynomials of a degree with the rays that they are fitted to. */
interface Fitting {
  readonly rays: PupilSampling;
  readonly basis: PolynomialBasis;
}

/** Degrees that are tried one after another until what they leave of the phase is small enough, RMS in waves. */
const DEGREES = { draft: [6, 8, 12, 16], close: [8, 12, 16], good: [8, 12, 16], full: [12, 16] } as const;
const ENOUGH = { draft: 0.02, close: 2e-4, good: 1e-3, full: 2e-5 } as const;
const known = new Map<number, Fitting>();

function fitting(degree: number): Fitting {
  let found = known.get(degree);
  if (!found) {
    const rings = Math.ceil(1.25 * degree);
    found = { rays: { kind: 'polar', rings, arms: 2 * rings }, basis: new ZernikeBasis(degree) };
    known.set(degree, found);
  }
  return found;
}

/**
 * The pupil of a field and colour, computed once for all that ask, by polynomials as fine as its wavefront wants. Fails where rays are
 * missing, since a pupil with unknown holes diffracts otherwise, and where the wavefront has so many waves that rays tell the image.
 */
export function diffractionPupil(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: PupilChoice,
): Outcome<DiffractionPupil> {
  const { method, wave, reference, detail, aim = lens.model.lens.pupil.aim, pupil = 'full' } = choice;
  const key = `diffraction ${method} ${field.id} ${wave} ${reference} ${aim} ${pupil} ${detail}`;
  const make = method === 'physical' ? physicalPupil : simplePupil;
  let found: Outcome<DiffractionPupil> | undefined;
  for (const degree of DEGREES[detail]) {
    found = lens.shared(`${key} ${degree}`, () => make(lens, field, choice, fitting(degree)));
    if (!found.ok || found.value.residual <= ENOUGH[detail]) break;
  }
  return found!;
}

/** Waves from the least to the largest phase above which an image is left to rays. */
const MOST_WAVES = 40;

/** Why diffraction is not computed. */
export function tooManyWaves(waves: number): string {
  return `Its wavefront spans ${Math.round(waves)} waves: diffraction no longer shapes the image. Refocus, or look at the geometric one.`;
}

const MISSING = 'Rays are missing: the diffraction pupil is not whole. Look at the geometric one.';

const span = (values: Float64Array) =>
  values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b));

/** Chords of the disk between an obscuration and the rim. */
function discChords(inner: number, at: number): readonly (readonly [number, number])[] {
  const outer = Math.sqrt(Math.max(0, 1 - at * at));
  if (Math.abs(at) >= inner) return [[-outer, outer]];
  const hole = Math.sqrt(inner * inner - at * at);
  return [
    [-outer, -hole],
    [hole, outer],
  ];
}

function simplePupil(
  lens: LensEvaluation,
  field: FieldPoint,
  { wave, aim, reference }: PupilChoice,
  { rays: sampling, basis }: Fitting,
): Outcome<DiffractionPupil> {
  const { model } = lens;
  const found = wavefront(lens, field, wave, { sampling, pupil: 'full', reference, ...(aim && { aim }) });
  if (!found.ok) return found;
  if (found.value.arrived < found.value.w.length) return failure(MISSING, field.id);
  const {
    points: { px, py, weight },
    w,
  } = found.value;
  const waves = span(w);
  if (waves > MOST_WAVES) return failure(tooManyWaves(waves), field.id);
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const sphere = referenceSphere(lens, field, wave, { reference, ...(aim && { aim }) });
  if (!sphere.ok) return sphere;
  const edge = traceBundle(
    aimer.value,
    { field, wave, px: Float64Array.of(0, 0, 1, -1), py: Float64Array.of(1, -1, 0, 0), ...(aim && { aim }) },
    { clip: false },
  );
  const { u, v } = spherePlaces(sphere.value, edge, model.indices[wave][model.surfaces.length - 1]);
  const fitted = OrthogonalFit.over(basis.table(px, py), weight);
  if (!fitted) return failure('The wavefront could not be fitted.', field.id);
  const coefficients = fitted.solve(w);
  const fit = basis.sum(coefficients);
  const inner = model.lens.pupil.obscuration;
  return success({
    of: {
      range: () => [-1, 1],
      line(axis, at) {
        const phase = fit.along(axis, at);
        return {
          open: discChords(inner, at),
          value(along, out) {
            out[0] = 1;
            out[1] = 2 * Math.PI * horner(phase, along);
          },
        };
      },
    },
    half: [Math.abs(u[2] - u[3]) / 2, Math.abs(v[0] - v[1]) / 2],
    middle: [(u[2] + u[3]) / 2, (v[0] + v[1]) / 2],
    mm: model.wavelengths[wave].nm * 1e-6,
    residual: misfit(fit, px, py, w, weight),
    waves,
    phase: { px, py, basis, fit: fitted, coefficients },
  });
}

/** RMS of what a polynomial leaves. */
function misfit(
  fit: Polynomial,
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  values: ArrayLike<number>,
  weight: Float64Array,
): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += weight[i] * (fit.at(x[i], y[i]) - values[i]) ** 2;
  return Math.sqrt(sum);
}

/** Rays with what their amplitudes come from. */
export interface SourcedRays {
  readonly rays: RayBlock;
  /** Coordinates over which the energy that is launched is even: the entrance pupil of a far object, direction cosines of a near one. */
  readonly source: readonly [Float64Array, Float64Array];
}

/** Rays that a physical pupil is fitted to. */
interface Traced extends SourcedRays {
  readonly px: Float64Array;
  readonly py: Float64Array;
  readonly weight: Float64Array;
  /** Places on the surfaces that clip. */
  readonly met: readonly {
    readonly surface: TraceSurface;
    readonly x: Float64Array;
    readonly y: Float64Array;
  }[];
}

/** Points on the rim, so that no ray of the pupil lies outside of those fitted to. */
const RIM = 48;

function traceForFit(
  lens: LensEvaluation,
  field: FieldPoint,
  { wave, aim, pupil }: PupilChoice,
  sampling: PupilSampling,
): Outcome<Traced> {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  // The whole disk, the obscured part too: polynomials know no holes.
  const inside = pupilPoints(sampling, 0);
  const around = (of: (angle: number) => number) => Array.from({ length: RIM }, (_, k) => of((2 * Math.PI * k) / RIM));
  const [px, py] = [
    Float64Array.from([...inside.px, ...around(Math.cos)]),
    Float64Array.from([...inside.py, ...around(Math.sin)]),
  ];
  const weight = Float64Array.from(px, (_, i) => inside.weight[i] ?? 1e-4);
  const column = () => new Float64Array(px.length);
  const clipping =
    pupil === 'clipped'
      ? model.surfaces.flatMap((surface, j) => (surface.mask || surface.clear < Infinity ? [j] : []))
      : [];
  const met = clipping.map((j) => ({ surface: model.surfaces[j], j, x: column(), y: column() }));
  const traced = traceSourced(
    aimer.value,
    { field, wave, px, py, ...(aim && { aim }) },
    {
      clip: false,
      ...(met.length > 0 && {
        visit(j, part, from, size) {
          const place = met.find((one) => one.j === j);
          place?.x.set(part.x.subarray(0, size), from);
          place?.y.set(part.y.subarray(0, size), from);
        },
      }),
    },
  );
  if (traced.rays.status.some((status) => status !== RAY_STATUS.alive)) return failure(MISSING, field.id);
  return success({ px, py, weight, met, ...traced });
}

/** Traces rays and keeps the coordinates over which their energy is even. */
export function traceSourced(aimer: Aimer, request: BundleRequest, options: BundleOptions): SourcedRays {
  const count = request.px.length;
  const source = [new Float64Array(count), new Float64Array(count)] as const;
  const far = aimer.model.lens.object.distance === 'infinity';
  const rays = traceBundle(aimer, request, {
    ...options,
    onLaunch({ x, y, z, l, m, n }) {
      for (let i = 0; i < count; i++) {
        const way = (aimer.pupil.z - z[i]) / n[i];
        source[0][i] = far ? x[i] + way * l[i] : l[i];
        source[1][i] = far ? y[i] + way * m[i] : m[i];
      }
    },
  });
  return { rays, source };
}

/**
 * The pupil on the reference sphere, in its coordinates (u, v) = n′·(centre − place)/R: phase is the optical path there, squared amplitude
 * the energy that comes into du dv, even over the entrance-pupil plane of a far object or over the direction cosines of a near one
 * (H. H. Hopkins, Japan. J. Appl. Phys. 4, suppl. 1, 31, 1965). Places stay in order where ray directions no longer do: if the angular
 * aberration reaches the angle of the cone, as with long throws. Ray coordinates over (u, v) are polynomials fitted to a bundle.
 */
function physicalPupil(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: PupilChoice,
  { rays: sampling, basis }: Fitting,
): Outcome<DiffractionPupil> {
  const { model } = lens;
  const { wave, aim, reference } = choice;
  const sphere = referenceSphere(lens, field, wave, { reference, ...(aim && { aim }) });
  if (!sphere.ok) return sphere;
  const own = lens.chief(field, wave, aim);
  if (!own.ok) return own;
  const traced = traceForFit(lens, field, choice, sampling);
  if (!traced.ok) return traced;
  const { px, py, weight, rays, source, met } = traced.value;
  const index = model.indices[wave][model.surfaces.length - 1];
  const mm = model.wavelengths[wave].nm * 1e-6;
  const places = spherePlaces(sphere.value, rays, index);
  const [start] = spherePlaces(sphere.value, own.value, index).path;
  const phase = places.path.map((path) => (start - path) / mm);
  // A ray beside the sphere has no place on it.
  if (phase.some(Number.isNaN)) return failure(MISSING, field.id);
  const waves = span(phase);
  if (waves > MOST_WAVES) return failure(tooManyWaves(waves), field.id);
  const bounds = (coordinate: Float64Array) => {
    const [low, high] = [coordinate.reduce((a, b) => Math.min(a, b)), coordinate.reduce((a, b) => Math.max(a, b))];
    return { middle: (low + high) / 2, half: ((high - low) / 2) * (1 + 1e-9) };
  };
  const [bu, bv] = [bounds(places.u), bounds(places.v)];
  const u = places.u.map((value) => (value - bu.middle) / bu.half);
  const v = places.v.map((value) => (value - bv.middle) / bv.half);
  const fit = OrthogonalFit.over(basis.table(u, v), weight);
  if (!fit) return failure('The pupil could not be fitted.', field.id);
  const solved = (values: Float64Array) => fit.solve(values, choice.detail === 'draft');
  const polynomial = (values: Float64Array) => basis.sum(solved(values));
  const coefficients = solved(phase);
  const fw = basis.sum(coefficients);
  const [fx, fy, f1, f2, ...masks] = [px, py, ...source, ...met.flatMap(({ x, y }) => [x, y])].map(polynomial);
  // Energy into du dv: how fast the source coordinates change there.
  const [first, second] = [new Float64Array(2), new Float64Array(2)];
  const amplitudes = Float64Array.from(u, (_, i) => {
    f1.slope(u[i], v[i], first);
    f2.slope(u[i], v[i], second);
    return Math.sqrt(Math.abs(first[0] * second[1] - first[1] * second[0]));
  });
  const amplitude = polynomial(amplitudes);
  const clips = met.map(({ surface }, k) => ({ surface, x: masks[2 * k], y: masks[2 * k + 1] }));
  const inner = model.lens.pupil.obscuration;
  const search = choice.detail === 'draft' && inner === 0 ? SEARCH.draft : SEARCH.full;
  const fits: Fits = { fx, fy, fw, amplitude, clips, inner, search };
  return success({
    of: { range: () => [-1, 1], line: (axis, at) => pupilLine(fits, axis, at) },
    half: [bu.half, bv.half],
    middle: [bu.middle, bv.middle],
    mm,
    residual: misfit(fw, u, v, phase, weight),
    waves,
    phase: { px, py, basis, fit, coefficients },
  });
}

interface Fits {
  readonly fx: Polynomial;
  readonly fy: Polynomial;
  readonly fw: Polynomial;
  readonly amplitude: Polynomial;
  readonly clips: readonly {
    readonly surface: TraceSurface;
    readonly x: Polynomial;
    readonly y: Polynomial;
  }[];
  readonly inner: number;
  /** Steps in which a line is searched for the edge of the pupil. */
  readonly search: number;
}

/** Steps for a pupil that may have any form or a hole, and for one that is nearly a disk; halvings that find the edge of a set aperture. */
const SEARCH = { full: 28, draft: 4 } as const;
const HALVINGS = 36;

function pupilLine({ fx, fy, fw, amplitude, clips, inner, search }: Fits, axis: 0 | 1, at: number): PupilLine {
  const [lineX, lineY] = [fx.along(axis, at), fy.along(axis, at)];
  const r = (along: number) => {
    const [x, y] = [horner(lineX, along), horner(lineY, along)];
    return Math.sqrt(x * x + y * y);
  };
  const openAt = (radius: number) => radius <= 1 && radius >= inner;
  /** The place between one that is open and one that is not, where r passes the rim or the obscuration. */
  const edge = (from: number, to: number, atFrom: number, atTo: number) => {
    const shut = openAt(atFrom) ? atTo : atFrom;
    const bound = shut > 1 ? 1 : inner;
    return rootBetween((along) => r(along) - bound, from, to, atFrom - bound, atTo - bound);
  };
  // Chords of a disk that may be shifted a little: a hair beyond it on both sides, then finer where an end is near.
  const reach = Math.sqrt(Math.max(0, 1 - at * at)) * 1.02 + 0.02;
  let open: [number, number][] = [];
  let begun: number | null = null;
  let [last, atLast] = [-reach, Infinity];
  for (let k = 0; k <= search; k++) {
    const along = -reach + (2 * reach * k) / search;
    const here = r(along);
    const [before, now] = [k > 0 && openAt(atLast), openAt(here)];
    if (now && !before) begun = k === 0 ? along : edge(last, along, atLast, here);
    if (!now && before && begun !== null) open.push([begun, edge(last, along, atLast, here)]);
    if (now && k === search && begun !== null) open.push([begun, along]);
    [last, atLast] = [along, here];
  }
  for (const { surface, x, y } of clips) open = cutBy(open, passes(surface, x.along(axis, at), y.along(axis, at)));
  const [phase, height] = [fw.along(axis, at), amplitude.along(axis, at)];
  return {
    open,
    value(along, out) {
      out[0] = horner(height, along);
      out[1] = 2 * Math.PI * horner(phase, along);
    },
  };
}

/** Whether rays along a line of the pupil pass the set aperture of a surface. */
function passes({ clear, mask }: TraceSurface, x: Float64Array, y: Float64Array) {
  return (along: number): boolean => {
    const [px, py] = [horner(x, along), horner(y, along)];
    return Math.hypot(px, py) <= clear && (mask?.contains(px, py) ?? true);
  };
}

/** The parts of intervals where something is true, edges halved down. */
function cutBy(intervals: readonly [number, number][], inside: (along: number) => boolean): [number, number][] {
  const found: [number, number][] = [];
  for (const [from, to] of intervals) {
    let begun = inside(from) ? from : null;
    for (let k = 1; k <= SEARCH.full; k++) {
      const [before, here] = [from + ((to - from) * (k - 1)) / SEARCH.full, from + ((to - from) * k) / SEARCH.full];
      const now = inside(here);
      if (now === (begun !== null)) continue;
      let [a, b] = [before, here];
      for (let step = 0; step < HALVINGS; step++) {
        const middle = (a + b) / 2;
        if (inside(middle) === now) b = middle;
        else a = middle;
      }
      if (begun !== null) found.push([begun, (a + b) / 2]);
      begun = now ? (a + b) / 2 : null;
    }
    if (begun !== null) found.push([begun, to]);
  }
  return found;
}
