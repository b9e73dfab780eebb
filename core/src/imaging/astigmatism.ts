import { RAY_STATUS, statusReason } from '../compute/ray-block.ts';
import { extentToNumber } from '../math/parameter.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { compose, inverse, movePoint, turnDirection, type Triple } from '../math/rigid.ts';
import type { FieldPoint } from '../project/model.ts';
import { traceBundle } from '../sequence/bundle.ts';
import type { LensEvaluation } from './evaluation.ts';

/** Foci of an infinitely narrow bundle about the chief ray. */
export interface NarrowFoci {
  /** Distances along the ray from the last surface before the image, mm; Infinity for a parallel bundle. */
  readonly tangential: number;
  readonly sagittal: number;
  /** z of the foci from the image surface's vertex plane, in its frame, mm. */
  readonly tangentialZ: number;
  readonly sagittalZ: number;
}

type Matrix = [number, number, number, number, number, number]; // xx, xy, xz, yy, yz, zz

const cross = (a: Triple, b: Triple): Triple => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]; // prettier-ignore
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const scaled = (a: Triple, by: number): Triple => [a[0] * by, a[1] * by, a[2] * by];
const unit = (a: Triple) => scaled(a, 1 / Math.hypot(...a));
const form = (q: Matrix, a: Triple, b: Triple) =>
  a[0] * (q[0] * b[0] + q[1] * b[1] + q[2] * b[2]) +
  a[1] * (q[1] * b[0] + q[3] * b[1] + q[4] * b[2]) +
  a[2] * (q[2] * b[0] + q[4] * b[1] + q[5] * b[2]);
/** The symmetric tensor Σ qᵢⱼ eᵢeⱼ in the plane across a ray. */
function tensor(a: Triple, b: Triple, aa: number, ab: number, bb: number): Matrix {
  const at = (i: number, j: number) => aa * a[i] * a[j] + ab * (a[i] * b[j] + b[i] * a[j]) + bb * b[i] * b[j];
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 1), at(1, 2), at(2, 2)];
}

/** Two unit vectors across a direction, the first as near as can be to one that is wished for. */
function across(direction: Triple, wish: Triple): [Triple, Triple] {
  const along = dot(wish, direction);
  let first: Triple = [wish[0] - along * direction[0], wish[1] - along * direction[1], wish[2] - along * direction[2]];
  if (Math.hypot(...first) < 1e-9) first = cross(direction, Math.abs(direction[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]);
  first = unit(first);
  return [first, cross(direction, first)];
} // prettier-ignore

/**
 * Tangential and sagittal foci about the chief ray of a field: the curvature of the wavefront is carried from surface to surface by
 * Coddington's equations in their form for any surface and any plane of incidence, n′Q′ = nQ + (n′cos I′ − n cos I)C on tangents of the
 * surface (A. G. Gullstrand 1906; J. E. A. Landgrave and J. R. Moya-Cessa, J. Opt. Soc. Am. A 13, 1637, 1996). Tangential is the plane of the ray and
 * the field's direction (of y on the axis).
 *
 * Fails where the chief ray does not arrive, and for gradients and surfaces that diffract or are ideal.
 */
export function narrowFoci(
  lens: LensEvaluation,
  field: FieldPoint,
  wave = lens.model.primary,
  aim = lens.model.lens.pupil.aim,
): Outcome<NarrowFoci> {
  const { model } = lens;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  const odd = model.surfaces.find(({ gradient, phase, shape }) => gradient ?? phase ?? shape.ideal ?? shape.facets);
  if (odd) return failure('Foci of narrow bundles are known for refracting and reflecting surfaces only.', odd.id);
  const indices = model.indices[wave];
  const places: { at: Triple; direction: Triple; normal: Triple }[] = [];
  const px = Float64Array.of(0);
  let launch: { at: Triple; direction: Triple } | null = null;
  const rays = traceBundle(
    aimer.value,
    { field, wave, px, py: px, aim },
    {
      clip: false,
      onLaunch: ({ x, y, z, l, m, n }) => (launch = { at: [x[0], y[0], z[0]], direction: [l[0], m[0], n[0]] }),
      visit: (j, { x, y, z, l, m, n, nx, ny, nz }) =>
        (places[j] = { at: [x[0], y[0], z[0]], direction: [l[0], m[0], n[0]], normal: [nx[0], ny[0], nz[0]] }),
    },
  );
  if (rays.status[0] !== RAY_STATUS.alive)
    return failure(`The chief ray of field ${field.id} ${statusReason(rays.status[0])} at ${model.surfaces[rays.at[0]].id}.`, field.id);
  const start = launch as { at: Triple; direction: Triple } | null;
  if (!start) return failure('The chief ray was not launched.');
  const poses = model.surfaces.map(({ pose }) => pose);
  // In the frame of the first vertex; then of each surface in turn.
  let frame = poses[0];
  let direction: Triple = start.direction;
  const distance = extentToNumber(model.lens.object.distance);
  let q: Matrix = [0, 0, 0, 0, 0, 0];
  const jet = new Float64Array(6);
  const last = model.surfaces.length - 2;
  let previous: Triple = start.at;
  for (let j = 0; j <= last + 1; j++) {
    const into = j === 0 ? inverse(poses[0]) : compose(inverse(poses[j]), frame);
    direction = turnDirection(into, direction);
    q = turned(q, (v) => turnDirection(into, v));
    const before: Triple = movePoint(into, previous);
    const { at, direction: out, normal } = places[j];
    const way = dot([at[0] - before[0], at[1] - before[1], at[2] - before[2]], direction);
    if (j === 0) {
      // A point sends spheres: their focus lies behind.
      if (Number.isFinite(distance)) {
        const [a, b] = across(direction, [0, 1, 0]);
        q = tensor(a, b, -1 / way, 0, -1 / way);
      }
    } else if (j <= last) q = carried(q, direction, way);
    if (j > last) break;
    const cosine = dot(direction, normal);
    const n = cosine < 0 ? scaled(normal, -1) : normal;
    const s = across(n, cross(direction, n))[0];
    const v = cross(n, s);
    model.surfaces[j].shape.derivatives.jet(at[0], at[1], jet);
    const height = Math.sqrt(1 + jet[1] * jet[1] + jet[2] * jet[2]) * (n[2] < 0 ? -1 : 1);
    const bend = (a: Triple, b: Triple) =>
      (a[0] * b[0] * jet[3] + (a[0] * b[1] + a[1] * b[0]) * jet[4] + a[1] * b[1] * jet[5]) / height;
    const [n1, n2] = [indices[j], indices[j + 1]];
    const power = n2 * dot(out, n) - n1 * dot(direction, n);
    const behind = (a: Triple, b: Triple) => (n1 * form(q, a, b) + power * bend(a, b)) / n2;
    const [ss, sv, vv] = [behind(s, s), behind(s, v), behind(v, v)];
    const p = unit([v[0] - dot(v, out) * out[0], v[1] - dot(v, out) * out[1], v[2] - dot(v, out) * out[2]]);
    const share = dot(v, p);
    q = tensor(s, p, ss, sv / share, vv / (share * share));
    direction = out;
    previous = at;
    frame = poses[j];
  }
  // At the image surface: the field's own plane, seen from there.
  const { direction: out } = places[last + 1];
  const from = movePoint(compose(inverse(poses[last + 1]), poses[last]), places[last].at);
  const axis: Triple = field.x === 0 && field.y === 0 ? [0, 1, 0] : [field.x, field.y, 0];
  const [t] = across(out, axis);
  const s = cross(out, t);
  const foci = [t, s].map((v) => {
    const curvature = form(q, v, v);
    return curvature === 0 ? Infinity : 1 / curvature;
  });
  return success({
    tangential: foci[0],
    sagittal: foci[1],
    tangentialZ: from[2] + foci[0] * out[2],
    sagittalZ: from[2] + foci[1] * out[2],
  });
} // prettier-ignore

function turned(q: Matrix, turn: (v: Triple) => Triple): Matrix {
  const [x, y, z] = [turn([1, 0, 0]), turn([0, 1, 0]), turn([0, 0, 1])];
  const of = [[q[0], q[1], q[2]], [q[1], q[3], q[4]], [q[2], q[4], q[5]]]; // prettier-ignore
  const axes = [x, y, z];
  const at = (a: number, b: number) => {
    let sum = 0;
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) sum += of[i][k] * axes[i][a] * axes[k][b];
    return sum;
  };
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 1), at(1, 2), at(2, 2)];
}

/** The curvature of a wavefront a way further on: Q/(1 − dQ) in its plane. */
function carried(q: Matrix, direction: Triple, way: number): Matrix {
  const [a, b] = across(direction, [0, 1, 0]);
  const [aa, ab, bb] = [form(q, a, a), form(q, a, b), form(q, b, b)];
  const determinant = (1 - way * aa) * (1 - way * bb) - way * way * ab * ab;
  const area = aa * bb - ab * ab;
  return tensor(a, b, (aa - way * area) / determinant, ab / determinant, (bb - way * area) / determinant);
}
