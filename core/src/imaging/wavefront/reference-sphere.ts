import { RAY_STATUS, statusReason, type RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { inverse, movePoint } from '../../math/rigid.ts';
import { surfaceTitle } from '../../project/lens-edits.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { isAfocal } from '../evaluation/image-space.ts';

/** Where a wavefront is measured from: the image point of its own chief ray, or of that of the primary wavelength. */
export type WavefrontReference = 'own' | 'primary';

/** The sphere that a wavefront is compared with, in the frame of the image surface: about a point, through the exit pupil. */
export interface ReferenceSphere {
  readonly centre: readonly [number, number, number];
  /** mm; Infinity for an exit pupil at infinity. */
  readonly radius: number;
  /** 1 where light reaches the sphere after the centre, −1 before it. */
  readonly side: 1 | -1;
  /** The axial point of the exit pupil, through which the sphere passes; null at infinity. */
  readonly pupil: readonly [number, number, number] | null;
}

/** Which sphere of a field and colour. */
export interface SphereChoice {
  readonly aim?: 'paraxial' | 'stop';
  readonly reference?: WavefrontReference;
  /** How far the image surface is moved along its axis, mm; the chief ray is followed there. */
  readonly shift?: number;
}

/**
 * The reference sphere of a field and colour: centred on the chief ray's image point, through the axial point of the paraxial exit
 * pupil (primary wavelength). Fails if the chief ray does not arrive.
 */
export function referenceSphere(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  choice: SphereChoice = {},
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
    return failure(
      `The chief ray of field ${field.id} ${statusReason(status[0])} at ${surfaceTitle(model.lens, at[0])}.`,
      surface,
    );
  }
  const onward = (choice.shift ?? 0) / n[0];
  const centre = [x[0] + onward * l[0], y[0] + onward * m[0], z[0] + onward * n[0]] as const;
  const { exitPupil } = primary.value;
  if (!Number.isFinite(exitPupil)) return success({ centre, radius: Infinity, side: -1, pupil: null });
  const [last, image] = model.surfaces.slice(-2);
  const [px, py, pz] = movePoint(inverse(image.pose), movePoint(last.pose, [0, 0, exitPupil]));
  const away = [px - centre[0], py - centre[1], pz - centre[2]];
  const side = away[0] * l[0] + away[1] * m[0] + away[2] * n[0] >= 0 ? 1 : -1;
  return success({ centre, radius: Math.hypot(...away), side, pupil: [px, py, pz] });
}

/**
 * Way in mm from a ray's place at the image along its direction to a reference sphere, less the radius with its sign: what differs between
 * rays. Written so that nothing cancels for a large sphere; at infinity it is the way to the plane through the centre across the ray. NaN
 * if the ray misses the sphere.
 */
export function wayToSphere({ centre, radius, side }: ReferenceSphere, rays: RayBlock, i: number): number {
  const [dx, dy, dz] = [rays.x[i] - centre[0], rays.y[i] - centre[1], rays.z[i] - centre[2]];
  const b = dx * rays.l[i] + dy * rays.m[i] + dz * rays.n[i];
  // −b + side·√(R² + q) is the way; q is minus the square of the ray's distance from the centre.
  const q = b * b - (dx * dx + dy * dy + dz * dz);
  return -b + (side * q) / (radius + Math.sqrt(radius * radius + q));
}

/** Coordinates of rays in the pupil on a reference sphere, and their optical paths there. */
export interface SpherePlaces {
  /** n′·(centre − place)/R along x and y of the image surface, signed like n′(L, M) of the ray. */
  readonly u: Float64Array;
  readonly v: Float64Array;
  /** mm, less n′ times the signed radius. */
  readonly path: Float64Array;
}

/**
 * Where rays cross a reference sphere. Every coordinate of a ray that misses the sphere, or that has ended, is NaN.
 *
 * @param index - of the image space
 */
export function spherePlaces(sphere: ReferenceSphere, rays: RayBlock, index: number): SpherePlaces {
  const { centre, radius, side } = sphere;
  const count = rays.x.length;
  const [u, v, path] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < count; i++) {
    const way = rays.status[i] === RAY_STATUS.alive ? wayToSphere(sphere, rays, i) : NaN;
    // side·(place − centre)/R, the part of R along the ray written as its direction.
    u[i] = index * (rays.l[i] + (side * (rays.x[i] - centre[0] + way * rays.l[i])) / radius);
    v[i] = index * (rays.m[i] + (side * (rays.y[i] - centre[1] + way * rays.m[i])) / radius);
    path[i] = rays.path[i] + index * way;
  }
  return { u, v, path };
}
