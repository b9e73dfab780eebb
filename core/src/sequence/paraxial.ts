import { failure, success, type Outcome } from '../math/outcome.ts';
import { extentToNumber } from '../math/parameter.ts';
import type { FieldSet, Lens } from '../project/model.ts';
import type { LensModel } from './lens-model.ts';
import { axisIndices, gapTransfer, type AxisIndices, type Transfer } from './gap-transfer.ts';
import { surfacePower } from './surface-power.ts';

/** An entrance pupil so many times farther off than the object is one at infinity. */
const FAR_PUPIL = 1e9;

const IDENTITY: Transfer = { a: 1, b: 0, c: 0, d: 1 };

/** A paraxial ray: heights at the surfaces (mm), slopes before the first and behind each surface. */
export interface ParaxialRay {
  readonly y: Float64Array;
  /** `u[0]` is the slope before the first surface, `u[j + 1]` right after surface j. */
  readonly u: Float64Array;
}

/**
 * First-order data of a lens at one wavelength. Distances in mm along z; positions of pupils are signed.
 * Infinity stands for a pupil, focus or focal length at infinity; null for what does not apply.
 */
export interface FirstOrder {
  /** Φ = −n′u′/y for a ray that comes in parallel to the axis, 1/mm. */
  readonly power: number;
  /** 1/Φ. */
  readonly focalLength: number;
  /** From the last vertex before the image surface to the rear focus. */
  readonly backFocalDistance: number;
  /** From the first vertex to the front focus. */
  readonly frontFocalDistance: number;
  /** From the first vertex. */
  readonly entrancePupil: number;
  readonly entrancePupilDiameter: number;
  /** Paraxial marginal height at the stop. */
  readonly stopSemiAperture: number;
  /** From the last vertex before the image surface. */
  readonly exitPupil: number;
  readonly exitPupilDiameter: number;
  /** From the last vertex before the image surface to the paraxial image of the axial object point. */
  readonly imageDistance: number;
  /** Paraxial lateral magnification; null for an object at infinity. */
  readonly magnification: number | null;
  /** f/D for an object at infinity; null for a finite one. */
  readonly fNumber: number | null;
  /** 1/(2 n′|u′|) of the marginal ray. */
  readonly workingFNumber: number;
  /** n(u·ȳ − ū·y). */
  readonly lagrange: number;
  readonly marginal: ParaxialRay;
  /** The ray through the centre of the pupil for the largest field. */
  readonly chief: ParaxialRay;
  /** Slope or height scale of the chief ray: tan of the largest field angle, or the largest object height in mm. */
  readonly largestField: number;
}

/** Power of surface j, for signed indices. */
function powerOf(model: LensModel, { arrive, leave }: AxisIndices, wave: number, j: number): number {
  return surfacePower(model.surfaces[j], arrive[j], leave[j + 1], model.wavelengths[wave].nm * 1e-6);
}

/** Through surfaces `from` (refraction included when `refractFirst`) up to the plane before refraction at `to`. */
function transfer(
  model: LensModel,
  n: AxisIndices,
  wave: number,
  from: number,
  to: number,
  refractFirst: boolean,
): Transfer {
  let m = IDENTITY;
  for (let j = from; j < to; j++) {
    if (j > from || refractFirst) m = refract(m, powerOf(model, n, wave, j));
    const { a, b, c, d } = gapTransfer(model, n, wave, j);
    m = { a: a * m.a + b * m.c, b: a * m.b + b * m.d, c: c * m.a + d * m.c, d: c * m.b + d * m.d };
  }
  return m;
}

function refract(m: Transfer, power: number): Transfer {
  return { a: m.a, b: m.b, c: m.c - power * m.a, d: m.d - power * m.b };
}

/**
 * Traces a paraxial ray through the whole lens to the image surface.
 *
 * @param y - height at the first surface, mm
 * @param u - slope before it
 */
export function paraxialRay(model: LensModel, wave: number, y: number, u: number): ParaxialRay {
  const n = axisIndices(model, wave);
  const count = model.surfaces.length;
  const ray = { y: new Float64Array(count), u: new Float64Array(count + 1) };
  ray.u[0] = u;
  let height = y;
  let slope = n.leave[0] * u; // times the index
  for (let j = 0; j < count; j++) {
    ray.y[j] = height;
    slope -= height * powerOf(model, n, wave, j);
    ray.u[j + 1] = slope / n.leave[j + 1];
    const { a, b, c, d } = gapTransfer(model, n, wave, j);
    [height, slope] = [a * height + b * slope, c * height + d * slope];
  }
  return ray;
}

/**
 * First-order data by the paraxial trace at the wavelength with index `wave`; pupils are those of that wavelength.
 *
 * Fails, with a reason, when the lens has no stop, no surfaces or an undefined index.
 * Signs and formulas: docs/conventions.md, “First order”; Welford, Aberrations of Optical Systems, ch. 3.
 */
export function firstOrder(model: LensModel, wave: number): Outcome<FirstOrder> {
  const wrong = untraceable(model, wave);
  if (wrong) return wrong;
  const last = model.surfaces.length - 2; // the last surface before the image
  const axis = axisIndices(model, wave);
  const n = axis.leave;
  const { whole, toStop, fromStop } = transfers(model, axis, wave, last);
  const imageIndex = n[last + 1];
  const power = whole.c === 0 ? 0 : -whole.c;
  const { object } = model.lens;
  const distance = extentToNumber(object.distance);
  const finite = Number.isFinite(distance);
  const pupilZ = toStop.a === 0 ? Infinity : (toStop.b * n[0]) / toStop.a + 0;
  // Rays of a near object that differ from parallel ones by less than rounding are parallel.
  const telecentric = finite && !(Math.abs(pupilZ) < FAR_PUPIL * Math.max(1, distance));
  const entrancePupil = telecentric ? Infinity : pupilZ;
  const focalLength = power === 0 ? Infinity : 1 / power;
  const perEntrance = Math.abs(toStop.a); // stop height per height in the entrance pupil
  /** n′u′ behind the lens of the axial ray with a slope before it, or with a height for a far object. */
  const imageSlope = (height: number, slope: number) =>
    imageIndex * paraxialRay(model, wave, height, slope).u[last + 1];
  const opening = openingOf(model.lens, {
    telecentric,
    perEntrance,
    perSlope: Math.abs(toStop.b * n[0]),
    focalLength,
    entrancePupil,
    index: n[0],
    imageSlope,
  });
  if (!opening.ok) return opening;
  const { entrancePupilDiameter, stopSemiAperture, marginalSlope } = opening.value;
  const exitPupil = fromStop.d === 0 ? Infinity : (-fromStop.b * imageIndex) / fromStop.d;
  const exitPupilDiameter = fromStop.d === 0 ? Infinity : Math.abs((2 * stopSemiAperture) / fromStop.d);

  const marginalHeight = finite ? marginalSlope * distance : entrancePupilDiameter / 2;
  const marginal = paraxialRay(model, wave, marginalHeight, marginalSlope);
  const magnification = finite ? (n[0] * marginalSlope) / (imageIndex * marginal.u[last + 1]) : null;
  const largestField = largestLaunched(model.lens.fields, magnification ?? focalLength);
  const chief = telecentric
    ? paraxialRay(model, wave, largestField, 0)
    : chiefRay(model, wave, largestField, entrancePupil);

  const exitSlope = marginal.u[last + 1];
  return success({
    power,
    focalLength,
    backFocalDistance: power === 0 ? Infinity : (whole.a * imageIndex) / power,
    frontFocalDistance: power === 0 ? Infinity : (-whole.d * n[0]) / power,
    entrancePupil,
    entrancePupilDiameter,
    stopSemiAperture,
    exitPupil,
    exitPupilDiameter,
    imageDistance: exitSlope === 0 ? Infinity : -marginal.y[last] / exitSlope,
    magnification,
    fNumber: finite ? null : focalLength / entrancePupilDiameter,
    workingFNumber: 1 / (2 * Math.abs(imageIndex * exitSlope)),
    lagrange: n[0] * (marginal.u[0] * chief.y[0] - chief.u[0] * marginal.y[0]),
    marginal,
    chief,
    largestField,
  });
}

/** Ray transfers through the whole lens, to the stop, and from the stop. */
function transfers(model: LensModel, axis: ReturnType<typeof axisIndices>, wave: number, last: number) {
  const beforeLast = transfer(model, axis, wave, 0, last, true);
  const whole = refract(beforeLast, powerOf(model, axis, wave, last));
  const toStop = transfer(model, axis, wave, 0, model.stop, true);
  const toLast = transfer(model, axis, wave, model.stop, last, false);
  const fromStop = last === model.stop ? toLast : refract(toLast, powerOf(model, axis, wave, last));
  return { whole, toStop, fromStop };
}

/** The chief ray of the largest field, through the middle of the entrance pupil. */
function chiefRay(model: LensModel, wave: number, largestField: number, entrancePupil: number): ParaxialRay {
  const distance = extentToNumber(model.lens.object.distance);
  const byHeight = Number.isFinite(distance) && model.lens.fields.kind !== 'angle';
  const slope = byHeight ? -largestField / (distance + entrancePupil) : largestField;
  return paraxialRay(model, wave, -slope * entrancePupil, slope);
}

/** Why a lens has no first-order data at a wavelength; null if it has. */
function untraceable(model: LensModel, wave: number): Outcome<never> | null {
  const last = model.surfaces.length - 2;
  if (last < 0) return failure('The lens has no surface before the image.');
  if (!model.indices[wave]) return failure('There is no such wavelength.');
  if (model.stop < 0 || model.stop > last) return failure('No surface before the image is the stop.');
  const undefinedAt = model.indices[wave].findIndex((index) => Number.isNaN(index));
  if (undefinedAt >= 0) {
    const where = model.surfaces[Math.max(0, undefinedAt - 1)].id;
    return failure(`A medium has no refractive index at ${model.wavelengths[wave].nm} nm.`, where);
  }
  const broken = model.surfaces.find((surface) => Number.isNaN(surface.shape.curvature));
  return broken ? failure('A surface has no curvature.', broken.id) : null;
}

/** What the opening of a lens follows from. */
interface OpeningGiven {
  /** Whether the entrance pupil lies at infinity. */
  readonly telecentric: boolean;
  /** Stop height per height in the entrance pupil, and per slope of the axial ray. */
  readonly perEntrance: number;
  readonly perSlope: number;
  readonly focalLength: number;
  readonly entrancePupil: number;
  /** Of the space before the lens. */
  readonly index: number;
  /** n′u′ behind the lens of an axial ray by its height and slope before it. */
  imageSlope(height: number, slope: number): number;
}

/** The pupil that the system aperture asks for, and the marginal ray through its edge. */
function openingOf(
  lens: Lens,
  { telecentric, perEntrance, perSlope, focalLength, entrancePupil, index, imageSlope }: OpeningGiven,
): Outcome<{
  readonly entrancePupilDiameter: number;
  readonly stopSemiAperture: number;
  readonly marginalSlope: number;
}> {
  const distance = extentToNumber(lens.object.distance);
  if (telecentric) {
    const slope = telecentricSlope(lens, index, perSlope, () => imageSlope(distance, 1));
    if (!slope.ok) return slope;
    return success({
      entrancePupilDiameter: Infinity,
      stopSemiAperture: perSlope * slope.value,
      marginalSlope: slope.value,
    });
  }
  const finite = Number.isFinite(distance);
  const depth = distance + entrancePupil;
  const diameter = entranceDiameter(lens, {
    perEntrance,
    focalLength,
    depth,
    index,
    slopePerDiameter: () => {
      const slope = finite ? 0.5 / depth : 0;
      return imageSlope(finite ? slope * distance : 0.5, slope);
    },
  });
  if (!diameter.ok) return diameter;
  const { kind, value } = lens.aperture;
  return success({
    entrancePupilDiameter: diameter.value,
    stopSemiAperture: kind === 'stop_semi_aperture' ? value : (diameter.value / 2) * perEntrance,
    marginalSlope: finite ? diameter.value / 2 / depth : 0,
  });
}

/** Slope of the marginal ray of an object whose entrance pupil lies at infinity, by the kind of the system aperture. */
function telecentricSlope(
  { aperture }: Lens,
  index: number,
  perSlope: number,
  imageSlope: () => number,
): Outcome<number> {
  switch (aperture.kind) {
    case 'object_na':
      if (aperture.value >= index) return failure(`An object NA must be below the index there, ${index}.`);
      return success(Math.tan(Math.asin(aperture.value / index)));
    case 'stop_semi_aperture':
      return success(aperture.value / perSlope);
    case 'working_f_number': {
      const slope = Math.abs(imageSlope());
      if (!(slope > 0)) return failure('A working F-number needs a lens that forms an image.');
      return success(1 / (2 * aperture.value * slope));
    }
    default:
      return failure(
        'The entrance pupil lies at infinity: give the aperture by object NA, working F-number or the semi-aperture of the stop.',
      );
  }
}

/** Entrance-pupil diameter in mm by the kind of the system aperture; `depth` is the distance from object to entrance pupil. */
function entranceDiameter(
  { aperture }: Lens,
  {
    perEntrance,
    focalLength,
    depth,
    index,
    slopePerDiameter,
  }: {
    perEntrance: number;
    focalLength: number;
    depth: number;
    index: number;
    /** n′u′ of the marginal ray for an entrance pupil of 1 mm. */
    slopePerDiameter: () => number;
  },
): Outcome<number> {
  switch (aperture.kind) {
    case 'entrance_pupil_diameter':
      return success(aperture.value);
    case 'stop_semi_aperture':
      return success((2 * aperture.value) / perEntrance);
    case 'image_f_number':
      if (!Number.isFinite(focalLength)) return failure('An F-number needs a lens with power: this one is afocal.');
      return success(Math.abs(focalLength) / aperture.value);
    case 'working_f_number': {
      const slope = Math.abs(slopePerDiameter());
      if (!(slope > 0)) return failure('A working F-number needs a lens that forms an image.');
      return success(1 / (2 * aperture.value * slope));
    }
    case 'real_working_f_number':
      return failure('No entrance pupil gives the lens its real working F-number.');
    case 'object_na':
      if (!Number.isFinite(depth)) return failure('An object NA needs an object at a finite distance.');
      if (aperture.value >= index) return failure(`An object NA must be below the index there, ${index}.`);
      return success(2 * Math.abs(depth) * Math.tan(Math.asin(aperture.value / index)));
  }
}

/**
 * The largest radial field as rays are launched: tan of the angle, or distance of the object point in mm.
 *
 * @param scale - focal length for a far object, magnification for a near one: what turns image heights into these
 */
function largestLaunched({ kind, points }: FieldSet, scale: number): number {
  const radians = Math.PI / 180;
  const sizes = points.map(({ x, y }) => {
    if (kind === 'angle') return Math.hypot(Math.tan(x * radians), Math.tan(y * radians));
    return Math.hypot(x, y) / (kind === 'image_height' || kind === 'real_image_height' ? Math.abs(scale) : 1);
  });
  return Math.max(0, ...sizes);
}
