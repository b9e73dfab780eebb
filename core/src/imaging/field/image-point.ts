import { RAY_STATUS, statusReason, type RayBlock } from '../../compute/ray-block.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { surfaceTitle } from '../../project/lens-edits.ts';
import type { FieldPoint, Lens } from '../../project/model.ts';
import { paraxialRay } from '../../sequence/paraxial.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

const radians = Math.PI / 180;

/** The chief ray of a field at the image, in the frame of the image surface. Fails with the reason when it does not arrive. */
export function chiefAtImage(
  lens: LensEvaluation,
  field: FieldPoint,
  wave = lens.model.primary,
  aim = lens.model.lens.pupil.aim,
): Outcome<RayBlock> {
  const chief = lens.chief(field, wave, aim);
  if (!chief.ok) return chief;
  const { status, at } = chief.value;
  if (status[0] === RAY_STATUS.alive) return chief;
  const surface = lens.model.surfaces[at[0]].id;
  return failure(
    `The chief ray of field ${field.id} ${statusReason(status[0])} at ${surfaceTitle(lens.model.lens, at[0])}.`,
    surface,
  );
}

/** What an image without distortion keeps to where the object is far: f·tan θ, as most lenses, or f·θ, as scan lenses. */
export const IMAGE_LAWS = ['f·tan θ', 'f·θ'] as const;
export type ImageLaw = (typeof IMAGE_LAWS)[number];

/** Tangents of a field's angles, or its heights in mm: what an image without distortion is proportional to. */
export function tangents(kind: Lens['fields']['kind'], { x, y }: FieldPoint): [number, number] {
  return kind === 'angle' ? [Math.tan(x * radians), Math.tan(y * radians)] : [x, y];
}

/**
 * Where a field would be in the paraxial image without distortion: f·(tan θx, tan θy) for an object at infinity, or
 * as far out as f·θ of its angle to the axis; m·(x, y) for a finite one; f and m of the primary wavelength. mm.
 */
export function paraxialImagePoint(
  lens: LensEvaluation,
  field: FieldPoint,
  law: ImageLaw = 'f·tan θ',
): Outcome<[number, number]> {
  if (isAfocal(lens.model.lens)) return failure('The image lies at infinity: it has no height.');
  if (lens.model.lens.fields.kind === 'image_height') return success([field.x, field.y]);
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { focalLength, magnification } = primary.value;
  if (magnification === null) {
    if (!Number.isFinite(focalLength)) return failure('The lens is afocal: it has no image height.');
    const [tx, ty] = [Math.tan(field.x * radians), Math.tan(field.y * radians)];
    const tangent = Math.hypot(tx, ty);
    const scale = law === 'f·θ' && tangent > 0 ? (focalLength * Math.atan(tangent)) / tangent : focalLength;
    return success([scale * tx, scale * ty]);
  }
  if (!Number.isFinite(magnification)) return failure('The image lies at infinity: it has no height.');
  if (lens.model.lens.fields.kind === 'object_height')
    return success([magnification * field.x, magnification * field.y]);
  const pupil = lens.pupil();
  if (!pupil.ok) return pupil;
  const depth = (lens.model.lens.object.distance as number) + pupil.value.z;
  return success([
    -magnification * depth * Math.tan(field.x * radians),
    -magnification * depth * Math.tan(field.y * radians),
  ]);
}

/**
 * Angular magnification ū′/ū of a paraxial ray through the centre of the entrance pupil, primary wavelength; negative where the image
 * stands upside down. Fails where there is no pupil to aim at.
 */
export function angularMagnification(lens: LensEvaluation): Outcome<number> {
  const primary = lens.primary();
  if (!primary.ok) return primary;
  const { entrancePupil } = primary.value;
  if (!Number.isFinite(entrancePupil)) return failure('The entrance pupil lies at infinity.');
  const { u } = paraxialRay(lens.model, lens.model.primary, -entrancePupil, 1);
  return success(u[lens.model.surfaces.length - 1]);
}

/** Angle between the chief ray of a field and the axis of the image surface, degrees, from 0 to 90. */
export function chiefAngleAtImage(lens: LensEvaluation, field: FieldPoint): Outcome<number> {
  const chief = chiefAtImage(lens, field);
  if (!chief.ok) return chief;
  const { l, m, n } = chief.value;
  return success(Math.atan2(Math.hypot(l[0], m[0]), Math.abs(n[0])) / radians);
}
