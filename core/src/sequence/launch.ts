import { RAY_STATUS, type RayBlock } from '../compute/ray-block.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LensModel } from './lens-model.ts';
import type { FirstOrder } from './paraxial.ts';

/** The pupil that rays are aimed at: that of the primary wavelength, whatever colour the ray has. */
export interface LaunchPupil {
  /** Paraxial entrance pupil from the first vertex, mm; Infinity for a telecentric object space. */
  readonly z: number;
  /** Its radius, mm; for a telecentric object space the slope of the marginal ray. */
  readonly semi: number;
  /** Paraxial marginal height at the stop, mm. */
  readonly stopSemi: number;
  /** What fields by image height are divided by: focal length for a far object, magnification for a near one. */
  readonly imageScale: number;
}

/** Whether rays are launched alike through two pupils. */
export function samePupil(a: LaunchPupil, b: LaunchPupil): boolean {
  return a.z === b.z && a.semi === b.semi && a.stopSemi === b.stopSemi && a.imageScale === b.imageScale;
}

/** The pupil for launching rays, from the first-order data of the primary wavelength. Fails where no ray could be aimed. */
export function launchPupil(model: LensModel, primary: FirstOrder): Outcome<LaunchPupil> {
  const z = primary.entrancePupil;
  const distance = extentToNumber(model.lens.object.distance);
  const telecentric = !Number.isFinite(z);
  if (telecentric && !Number.isFinite(distance))
    return failure('Object and entrance pupil both lie at infinity: no ray can be aimed.');
  if (telecentric && model.lens.fields.kind === 'angle')
    return failure('The chief rays of a telecentric object space have no angle: give fields by height.');
  const semi = telecentric ? Math.abs(primary.marginal.u[0]) : primary.entrancePupilDiameter / 2;
  if (!Number.isFinite(semi)) return failure('The entrance pupil has no finite size.');
  if (distance + z === 0) return failure('The entrance pupil lies in the object plane: no ray can be aimed.');
  if (model.lens.fields.kind === 'object_height' && !Number.isFinite(distance)) {
    return failure('Fields by object height need an object at a finite distance.');
  }
  const imageScale = primary.magnification ?? primary.focalLength;
  if (model.lens.fields.kind === 'image_height' && !(Number.isFinite(imageScale) && imageScale !== 0)) {
    return failure('Fields by image height need a lens that forms an image.');
  }
  return success({ z, semi, stopSemi: primary.stopSemiAperture, imageScale });
}

/**
 * Fills a block with the rays of one field through points of the entrance-pupil plane, ready for `traceBlock`.
 *
 * Object at infinity: the rays start on the plane square to the beam through the centre of the pupil, so that their
 * paths start in one phase. Finite object: they start at the object point; an angle field is then the direction of the
 * ray from that point to the centre of the pupil.
 *
 * @param ex - x in the plane of the paraxial entrance pupil, mm; for a telecentric object space dx/dz; likewise ey
 */
export function launchRays(
  model: LensModel,
  pupil: LaunchPupil,
  field: Pick<FieldPoint, 'x' | 'y'>,
  ex: Float64Array,
  ey: Float64Array,
  rays: RayBlock,
  count: number,
): void {
  const { x, y, z, l, m, n, path, status } = rays;
  const distance = extentToNumber(model.lens.object.distance);
  path.fill(0, 0, count);
  status.fill(RAY_STATUS.alive, 0, count);
  if (Number.isFinite(distance)) {
    const [ox, oy] = objectPoint(model, pupil, field, distance);
    const telecentric = !Number.isFinite(pupil.z);
    const depth = telecentric ? 1 : distance + pupil.z;
    const [centreX, centreY] = telecentric ? [0, 0] : [ox, oy];
    for (let i = 0; i < count; i++) {
      const dx = ex[i] - centreX;
      const dy = ey[i] - centreY;
      const scale = Math.sign(depth) / Math.sqrt(dx * dx + dy * dy + depth * depth);
      x[i] = ox;
      y[i] = oy;
      z[i] = -distance;
      l[i] = dx * scale;
      m[i] = dy * scale;
      n[i] = depth * scale;
    }
    return;
  }
  const [tanX, tanY] = incomingSlopes(model, pupil, field);
  const scale = 1 / Math.sqrt(tanX * tanX + tanY * tanY + 1);
  const [dl, dm, dn] = [tanX * scale, tanY * scale, scale];
  for (let i = 0; i < count; i++) {
    const back = ex[i] * dl + ey[i] * dm;
    x[i] = ex[i] - back * dl;
    y[i] = ey[i] - back * dm;
    z[i] = pupil.z - back * dn;
    l[i] = dl;
    m[i] = dm;
    n[i] = dn;
  }
}

/** Slopes dx/dz and dy/dz of the light of a field from a far object. */
function incomingSlopes(model: LensModel, pupil: LaunchPupil, field: Pick<FieldPoint, 'x' | 'y'>): [number, number] {
  if (model.lens.fields.kind === 'image_height') return [field.x / pupil.imageScale, field.y / pupil.imageScale];
  return [Math.tan((field.x * Math.PI) / 180), Math.tan((field.y * Math.PI) / 180)];
}

/** The object point of a field at a finite distance, in the object plane. */
function objectPoint(
  model: LensModel,
  pupil: LaunchPupil,
  field: Pick<FieldPoint, 'x' | 'y'>,
  distance: number,
): [number, number] {
  const { kind } = model.lens.fields;
  if (kind === 'object_height') return [field.x, field.y];
  if (kind === 'image_height') return [field.x / pupil.imageScale, field.y / pupil.imageScale];
  const depth = distance + pupil.z;
  return [-Math.tan((field.x * Math.PI) / 180) * depth, -Math.tan((field.y * Math.PI) / 180) * depth];
}

/** A launched ray (x, y, z, l, m, n, path) with its derivatives by the launch coordinates and by the pupil. */
export interface LaunchDerivatives {
  readonly start: Float64Array;
  readonly byX: Float64Array;
  readonly byY: Float64Array;
  readonly byPupilZ: Float64Array;
  readonly byScale: Float64Array;
}

/** The ray that `launchRays` makes of one pair of coordinates, with its exact derivatives. */
export function launchDerivatives(
  model: LensModel,
  pupil: LaunchPupil,
  field: Pick<FieldPoint, 'x' | 'y'>,
  ex: number,
  ey: number,
): LaunchDerivatives {
  const distance = extentToNumber(model.lens.object.distance);
  const byImage = model.lens.fields.kind === 'image_height';
  const columns = Array.from({ length: 5 }, () => new Float64Array(7)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const [start, byX, byY, byPupilZ, byScale] = columns;
  const all = [byX, byY, byPupilZ, byScale];
  if (Number.isFinite(distance)) {
    const telecentric = !Number.isFinite(pupil.z);
    const [ox, oy] = objectPoint(model, pupil, field, distance);
    const depth = telecentric ? 1 : distance + pupil.z;
    // Changes of the object point and of the way from it to the point aimed at, by each launch quantity.
    const object = all.map((_, q): [number, number] => {
      if (q === 3 && byImage) return [-ox / pupil.imageScale, -oy / pupil.imageScale];
      if (q === 2 && model.lens.fields.kind === 'angle') return [ox / depth, oy / depth];
      return [0, 0];
    });
    const way = [telecentric ? ex : ex - ox, telecentric ? ey : ey - oy, depth];
    const length = Math.hypot(...way) * Math.sign(depth);
    const direction = way.map((part) => part / length);
    start.set([ox, oy, -distance, ...direction, 0]);
    all.forEach((by, q) => {
      const [dox, doy] = object[q];
      const change = [
        (q === 0 ? 1 : 0) - (telecentric ? 0 : dox),
        (q === 1 ? 1 : 0) - (telecentric ? 0 : doy),
        q === 2 && !telecentric ? 1 : 0,
      ];
      if (telecentric && q === 2) [change[0], change[1]] = [-ox, -oy]; // a pupil that comes nearer pulls the chief ray in
      const lengthwise = change.reduce((sum, part, k) => sum + part * direction[k], 0);
      by.set([dox, doy, 0, ...change.map((part, k) => (part - direction[k] * lengthwise) / length), 0]);
    });
    return { start, byX, byY, byPupilZ, byScale };
  }
  const [tanX, tanY] = incomingSlopes(model, pupil, field);
  const scale = 1 / Math.sqrt(tanX * tanX + tanY * tanY + 1);
  const d = [tanX * scale, tanY * scale, scale];
  const back = ex * d[0] + ey * d[1];
  start.set([ex - back * d[0], ey - back * d[1], pupil.z - back * d[2], ...d, 0]);
  byX.set([1 - d[0] * d[0], -d[0] * d[1], -d[0] * d[2]]);
  byY.set([-d[1] * d[0], 1 - d[1] * d[1], -d[1] * d[2]]);
  byPupilZ[2] = 1;
  if (byImage) {
    // Slopes shrink as the scale grows: d(tan) = −tan/scale.
    const slopes = [-tanX / pupil.imageScale, -tanY / pupil.imageScale, 0];
    const lengthwise = slopes.reduce((sum, part, k) => sum + part * d[k], 0);
    const turned = slopes.map((part, k) => (part - d[k] * lengthwise) * scale);
    const dBack = ex * turned[0] + ey * turned[1];
    byScale.set([...turned.map((part, k) => -dBack * d[k] - back * part), ...turned, 0]);
  }
  return { start, byX, byY, byPupilZ, byScale };
}
