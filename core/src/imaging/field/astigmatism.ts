import { RAY_STATUS, statusReason } from '../../compute/ray-block.ts';
import { extentToNumber } from '../../math/parameter.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { compose, inverse, movePoint, turnDirection, type Triple } from '../../math/rigid.ts';
import { surfaceTitle } from '../../project/lens-edits.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { Aimer } from '../../sequence/aiming.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import type { SagDerivatives } from '../../shapes/shape.ts';
import {
  across,
  carried,
  cross,
  dot,
  form,
  NO_TENSOR,
  scaled,
  tensorOf,
  turned,
  unit,
  type BeamTensor,
  type Tensor,
} from './curvature-tensor.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

/** Foci of an infinitely narrow bundle about the chief ray. */
export interface NarrowFoci {
  /** Distances along the ray from the last surface before the image, mm; Infinity for a parallel bundle. */
  readonly tangential: number;
  readonly sagittal: number;
  /** z of the foci from the image surface's vertex plane, in its frame, mm. */
  readonly tangentialZ: number;
  readonly sagittalZ: number;
}

/** A chief ray on its way, at a surface, in the surface's own frame. */
interface Place {
  readonly at: Triple;
  readonly direction: Triple;
  readonly normal: Triple;
}

/** The curvature of a wavefront about a ray as it comes to a surface and as it leaves it. */
export interface CurvatureStep {
  /** Index of the surface. */
  readonly surface: number;
  /** Way from the surface before, or from the launch, mm. */
  readonly way: number;
  /** The x axis of the drawing, and directions before and behind, in the surface's own frame. */
  readonly x: Triple;
  readonly before: Triple;
  readonly out: Triple;
  readonly arrives: BeamTensor;
  readonly leaves: BeamTensor;
}

/**
 * Carries the curvature of a wavefront along the chief ray of a field from surface to surface, by Coddington's equations in their form for
 * any surface and any plane of incidence, n′Q′ = nQ + (n′cos I′ − n cos I)C on tangents of the surface (A. G. Gullstrand 1906; J. E. A.
 * Landgrave and J. R. Moya-Cessa, J. Opt. Soc. Am. A 13, 1637, 1996). A Gaussian beam goes the same way with an
 * imaginary part (J. A. Arnaud and H. Kogelnik, Appl. Opt. 8, 1687, 1969).
 *
 * Fails where the chief ray does not arrive, and for gradients and surfaces that diffract or are ideal.
 *
 * @param begin - the curvature where the ray meets the first surface, from its direction there, its way since the
 *   launch, the place, and the x axis of the drawing
 */
export function followCurvature(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  aim: 'paraxial' | 'stop',
  begin: (direction: Triple, way: number, at: Triple, x: Triple) => BeamTensor,
): Outcome<{ readonly steps: readonly CurvatureStep[]; readonly places: readonly Place[] }> {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const odd = model.surfaces.find(({ gradient, phase, shape }) => gradient ?? phase ?? shape.ideal ?? shape.facets);
  if (odd) return failure('Narrow bundles are followed through refracting and reflecting surfaces only.', odd.id);
  const chief = chiefPlaces(lens, aimer.value, { field, wave, aim });
  if (!chief.ok) return chief;
  const { start, places } = chief.value;
  const indices = model.indices[wave];
  const poses = model.surfaces.map(({ pose }) => pose);
  // In the frame of the first vertex; then of each surface in turn.
  let frame = poses[0];
  let direction: Triple = start.direction;
  let q: BeamTensor = { re: NO_TENSOR, im: NO_TENSOR };
  const last = model.surfaces.length - 1;
  const steps: CurvatureStep[] = [];
  let previous: Triple = start.at;
  for (let j = 0; j <= last; j++) {
    const into = j === 0 ? inverse(poses[0]) : compose(inverse(poses[j]), frame);
    const turn = (v: Triple) => turnDirection(into, v);
    direction = turn(direction);
    q = { re: turned(q.re, turn), im: turned(q.im, turn) };
    const from: Triple = movePoint(into, previous);
    const { at, direction: out, normal } = places[j];
    const way = dot([at[0] - from[0], at[1] - from[1], at[2] - from[2]], direction);
    const x = turnDirection(inverse(poses[j]), [1, 0, 0]);
    q = j === 0 ? begin(direction, way, at, x) : carried(q, direction, way);
    const arrives = q;
    if (j === last) {
      steps.push({ surface: j, way, x, before: direction, out: direction, arrives, leaves: arrives });
      break;
    }
    const [n1, n2] = [indices[j], indices[j + 1]];
    q = refracted(q, { direction, out, normal, n1, n2, jet: model.surfaces[j].shape.derivatives, at });
    steps.push({ surface: j, way, x, before: direction, out, arrives, leaves: q });
    direction = out;
    previous = at;
    frame = poses[j];
  }
  return success({ steps, places });
}

/** The places of the chief ray on all surfaces, and where it was launched. Fails if it does not arrive. */
function chiefPlaces(
  { model }: LensEvaluation,
  aimer: Aimer,
  { field, wave, aim }: { readonly field: FieldPoint; readonly wave: number; readonly aim: 'paraxial' | 'stop' },
): Outcome<{ readonly start: { readonly at: Triple; readonly direction: Triple }; readonly places: Place[] }> {
  const places: Place[] = [];
  const px = Float64Array.of(0);
  let launch: { at: Triple; direction: Triple } | null = null;
  const rays = traceBundle(
    aimer,
    { field, wave, px, py: px, aim },
    {
      clip: false,
      onLaunch: ({ x, y, z, l, m, n }) => (launch = { at: [x[0], y[0], z[0]], direction: [l[0], m[0], n[0]] }),
      visit: (j, { x, y, z, l, m, n, nx, ny, nz }) =>
        (places[j] = { at: [x[0], y[0], z[0]], direction: [l[0], m[0], n[0]], normal: [nx[0], ny[0], nz[0]] }),
    },
  );
  if (rays.status[0] !== RAY_STATUS.alive)
    return failure(
      `The chief ray of field ${field.id} ${statusReason(rays.status[0])} at ${surfaceTitle(model.lens, rays.at[0])}.`,
      field.id,
    );
  const start = launch as { at: Triple; direction: Triple } | null;
  return start ? success({ start, places }) : failure('The chief ray was not launched.');
}

/** One meeting of a ray with a surface. */
interface Meeting {
  readonly at: Triple;
  readonly direction: Triple;
  readonly out: Triple;
  readonly normal: Triple;
  readonly n1: number;
  readonly n2: number;
  /** Derivatives of the sag. */
  readonly jet: SagDerivatives;
}

/** The curvature of a wave after a surface, from the one before it. */
function refracted(q: BeamTensor, { at, direction, out, normal, n1, n2, jet: sag }: Meeting): BeamTensor {
  const jet = new Float64Array(6);
  const n = dot(direction, normal) < 0 ? scaled(normal, -1) : normal;
  const s = across(n, cross(direction, n))[0];
  const v = cross(n, s);
  sag.jet(at[0], at[1], jet);
  const height = Math.sqrt(1 + jet[1] * jet[1] + jet[2] * jet[2]) * (n[2] < 0 ? -1 : 1);
  const bend = (a: Triple, b: Triple) =>
    (a[0] * b[0] * jet[3] + (a[0] * b[1] + a[1] * b[0]) * jet[4] + a[1] * b[1] * jet[5]) / height;
  const power = n2 * dot(out, n) - n1 * dot(direction, n);
  const p = unit([v[0] - dot(v, out) * out[0], v[1] - dot(v, out) * out[1], v[2] - dot(v, out) * out[2]]);
  const share = dot(v, p);
  const behind = (of: Tensor, bent: number) => {
    const [ss, sv, vv] = [
      [s, s],
      [s, v],
      [v, v],
    ].map(([a, b]) => (n1 * form(of, a, b) + bent * bend(a, b)) / n2);
    return tensorOf(s, p, ss, sv / share, vv / (share * share));
  };
  return { re: behind(q.re, power), im: behind(q.im, 0) };
}

/**
 * Tangential and sagittal foci about the chief ray of a field, see `followCurvature`. Tangential is the plane of the ray and the field's
 * direction (of y on the axis).
 */
export function narrowFoci(
  lens: LensEvaluation,
  field: FieldPoint,
  wave = lens.model.primary,
  aim = lens.model.lens.pupil.aim,
): Outcome<NarrowFoci> {
  const { model } = lens;
  const distance = extentToNumber(model.lens.object.distance);
  const found = followCurvature(lens, field, wave, aim, (direction, way) => {
    // A point sends spheres: their focus lies behind.
    if (!Number.isFinite(distance)) return { re: NO_TENSOR, im: NO_TENSOR };
    const [a, b] = across(direction, [0, 1, 0]);
    return { re: tensorOf(a, b, -1 / way, 0, -1 / way), im: NO_TENSOR };
  });
  if (!found.ok) return found;
  const { steps, places } = found.value;
  const last = steps.length - 2;
  const poses = model.surfaces.map(({ pose }) => pose);
  // Behind the last surface, seen from the image surface: the field's own plane.
  const into = compose(inverse(poses[last + 1]), poses[last]);
  const q = turned(steps[last].leaves.re, (v) => turnDirection(into, v));
  const { direction: out } = places[last + 1];
  const from = movePoint(into, places[last].at);
  const axis: Triple = field.x === 0 && field.y === 0 ? [0, 1, 0] : [field.x, field.y, 0];
  const [t] = across(out, axis);
  const foci = [t, cross(out, t)].map((v) => {
    const curvature = form(q, v, v);
    return curvature === 0 ? Infinity : 1 / curvature;
  });
  return success({
    tangential: foci[0],
    sagittal: foci[1],
    tangentialZ: from[2] + foci[0] * out[2],
    sagittalZ: from[2] + foci[1] * out[2],
  });
}
