import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import { traceBundle } from '../../sequence/bundle.ts';
import { DARK_RINGS } from './airy.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import { perfectModulation } from './perfect-modulation.ts';
import { referenceSphere, spherePlaces, type WavefrontReference } from './reference-sphere.ts';
import { pupilLimit } from '../evaluation/vignetting.ts';

/** The cone of light at the image point of a field, as the image surface in use sees it. */
export interface ImageCone {
  /** Half of its extent along x and y in coordinates n′·(centre − place)/R of the reference sphere: numerical apertures. */
  readonly half: readonly [number, number];
  /** Wavelength, mm. */
  readonly mm: number;
}

/** Which cone: of the primary wavelength and of the full pupil unless said otherwise. */
export interface ConeChoice {
  readonly wave?: number;
  readonly reference?: WavefrontReference;
  readonly pupil?: 'full' | 'clipped';
  readonly aim?: 'paraxial' | 'stop';
}

/** Ends of the pupil along x and y: +x, −x, +y, −y. */
const ENDS = [0, Math.PI, Math.PI / 2, -Math.PI / 2] as const;

/**
 * The cone of a field and colour, by the rays at the ends of its pupil along x and y. This, not the paraxial working F-number, is the aperture
 * that diffraction sees: away from the paraxial image the two have little in common. A clipped pupil ends where its rays do. Fails if the
 * chief ray or one of those rays does not arrive.
 */
export function imageCone(lens: LensEvaluation, field: FieldPoint, choice: ConeChoice = {}): Outcome<ImageCone> {
  const { wave = lens.model.primary, reference = 'own', pupil = 'full', aim = lens.model.lens.pupil.aim } = choice;
  return lens.shared(`cone ${field.id} ${wave} ${reference} ${pupil} ${aim}`, (): Outcome<ImageCone> => {
    const { model } = lens;
    const aimer = lens.aimer();
    if (!aimer.ok) return aimer;
    const sphere = referenceSphere(lens, field, wave, { reference, aim });
    if (!sphere.ok) return sphere;
    const clips = pupil === 'clipped' && model.surfaces.some(({ clear, mask }) => mask || clear < Infinity);
    const radii = ENDS.map((direction) => {
      const limit = clips ? pupilLimit(lens, field, direction, { wave, aim }) : success(1);
      return limit.ok ? limit.value : 0;
    });
    const px = Float64Array.from(ENDS, (direction, i) => radii[i] * Math.cos(direction));
    const py = Float64Array.from(ENDS, (direction, i) => radii[i] * Math.sin(direction));
    const rays = traceBundle(aimer.value, { field, wave, px, py, aim }, { clip: false });
    const { u, v } = spherePlaces(sphere.value, rays, model.indices[wave][model.surfaces.length - 1]);
    const half = [Math.abs(u[0] - u[1]) / 2, Math.abs(v[2] - v[3]) / 2] as const;
    return half.every((value) => value > 0 && Number.isFinite(value))
      ? success({ half, mm: model.wavelengths[wave].nm * 1e-6 })
      : failure(`The cone of light at the image of field ${field.id} has no extent that could be measured.`, field.id);
  });
}

/** Semi-axes along x and y of the first dark ring of a perfect pupil as wide as a cone: 1.22 λ/(2 NA), mm. */
export function darkRing({ half, mm }: ImageCone): readonly [number, number] {
  return [(DARK_RINGS[0] * mm) / (2 * half[0]), (DARK_RINGS[0] * mm) / (2 * half[1])];
}

/** Frequency along an axis (0 x, 1 y) beyond which a cone passes nothing, cycles per mm. */
export const cutoffOf = ({ half, mm }: ImageCone, axis: 0 | 1) => (2 * half[axis]) / mm;

/** Modulation that an evenly lit pupil of a cone's extent passes without aberration, along an axis. */
export function coneModulation(cone: ImageCone, axis: 0 | 1, frequency: number, obscuration: number): number {
  return perfectModulation(frequency / cutoffOf(cone, axis), obscuration);
}

/**
 * Semi-axes of a field's Airy ring: µm, or mrad for an image at infinity; null if its cone cannot be measured.
 */
export function airyRing(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: ConeChoice = {},
): readonly [number, number] | null {
  const afocal = isAfocal(lens.model.lens);
  // Behind the ideal lens of 1000 mm a place in mm is an angle in mrad.
  const cone = imageCone(afocal ? lens.inFocus() : lens, field, choice);
  if (!cone.ok) return null;
  const [x, y] = darkRing(cone.value);
  return afocal ? [x, y] : [1000 * x, 1000 * y];
}

/** The field point nearest to the axis; the axis itself if none is given. */
export function innermostField({ model }: LensEvaluation): FieldPoint {
  const axis: FieldPoint = { id: 'axis', x: 0, y: 0, weight: 1 };
  return model.lens.fields.points.reduce(
    (near, point) => (Math.hypot(point.x, point.y) < Math.hypot(near.x, near.y) ? point : near),
    model.lens.fields.points[0] ?? axis,
  );
}

/** The largest F-number-like ratio 1/(2 NA) of the innermost field at the image in use; null if it has no cone there. */
export function coneFNumber(lens: LensEvaluation): number | null {
  const cone = imageCone(lens, innermostField(lens));
  return cone.ok ? 1 / (2 * Math.min(...cone.value.half)) : null;
}
