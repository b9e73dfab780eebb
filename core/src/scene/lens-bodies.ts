import type { BuiltFace } from '../bodies/body.ts';
import type { FaceForm } from '../bodies/face-form.ts';
import { faceOfShape } from '../bodies/mirror-shell.ts';
import { discFace } from '../bodies/quadric-face.ts';
import { RimFace } from '../bodies/rim-face.ts';
import { isGas } from '../materials/material.ts';
import { alongZ, compose, inverse, shifted, type Rigid } from '../math/rigid.ts';
import type { SurfaceExtent } from '../sequence/extents.ts';
import type { LensModel } from '../sequence/lens-model.ts';

/** A face of a placed lens, in the frame of its first vertex. */
export interface LensFace extends BuiltFace {
  /** Index of the solid whose outside the face's normal points to; −1 for a sheet. */
  readonly inner: number;
  /** Index of the solid on the other side, where one is cemented there; else −1: what is around. */
  readonly outer: number;
  /** What it does with light where the part says nothing: the finish of its surface, else `bare`, `mirror`, `ground` or `absorber`. */
  readonly finish: string;
  /** Whether it is what light is meant to meet: not a rim, a ring or the image. */
  readonly optical: boolean;
}

/** One element of a placed lens. */
export interface LensSolid {
  readonly name: string;
  readonly material: string;
}

/** The bodies that a prescription means. */
export interface LensBodies {
  readonly solids: readonly LensSolid[];
  readonly faces: readonly LensFace[];
  /** What cannot be put in space as it is. */
  readonly wrong: readonly string[];
}

/** Elements stand out a little over their clear semi-aperture, as the section draws them. */
const RIM = 1.04;
/** Diaphragms reach this much further out than what they limit. */
const DIAPHRAGM = 1.6;

/**
 * The bodies of a lens: an element between each two surfaces with glass in between, its faces named after the surfaces, its ground
 * rim `SURFACE_rim` after the front one; what is ground of a face beyond an aperture that is no circle `SURFACE_edge`; mirrors, and the image, as
 * sheets; the stop and other set apertures in air as black rings `SURFACE_ring`.
 *
 * A surface between two glasses is one face with glass on both sides.
 */
export function lensBodies(model: LensModel, extents: readonly SurfaceExtent[]): LensBodies {
  const maker = new LensBodyMaker(model, extents);
  model.surfaces.forEach((_, j) => maker.surface(j));
  model.surfaces.forEach((_, j) => maker.rim(j));
  const { solids, faces, wrong } = maker;
  return { solids, faces, wrong };
}

/** Makes the faces of a lens, surface by surface. */
class LensBodyMaker {
  readonly faces: LensFace[] = [];
  readonly solids: LensSolid[] = [];
  readonly wrong: string[] = [];
  readonly #model: LensModel;
  readonly #extents: readonly SurfaceExtent[];
  /** How far out each surface is made. */
  readonly #drawn: readonly number[];
  /** Whether light goes toward −z after a surface. */
  readonly #backward: readonly boolean[];
  /** The element after each surface, −1 for none; light that a mirror sends back is in the same one again. */
  readonly #solidBehind: readonly number[];
  /** Radius of the ground rim of the element after each surface; 0 for none. */
  readonly #rims: readonly number[];

  constructor(model: LensModel, extents: readonly SurfaceExtent[]) {
    const { surfaces, media } = model;
    const last = surfaces.length - 1;
    this.#model = model;
    this.#extents = extents;
    this.#drawn = surfaces.map(({ shape }, j) =>
      Math.min(extents[j].semi * (j === last || !extents[j].automatic ? 1 : RIM), shape.reach * (1 - 1e-9)),
    );
    this.#backward = surfaces.map(
      ({ pose }, j) => j < last && compose(inverse(pose), surfaces[j + 1].pose).shift[2] < 0,
    );
    this.#solidBehind = surfaces.map((surface, j) => {
      const medium = media[j + 1];
      if (j === last || !medium || isGas(medium) || surface.reflects) return -1;
      this.solids.push({ name: model.lens.surfaces[j].after?.name ?? surface.id, material: medium.id });
      return this.solids.length - 1;
    });
    this.#rims = surfaces.map((_, j) => (this.#solidBehind[j] < 0 ? 0 : Math.max(this.#drawn[j], this.#drawn[j + 1])));
  }

  /** The face of a surface with what is ground about it; in air a mirror, a ring, or nothing. */
  surface(j: number): void {
    const { id, shape, phase, gradient } = this.#model.surfaces[j];
    if (shape.ideal) this.wrong.push(`${id} is an ideal lens, which is no body: it is excluded.`);
    if (phase) this.wrong.push(`${id} is traced without what diffracts on it.`);
    if (gradient) this.wrong.push(`The gradient after ${id} is ignored: its glass counts as homogeneous.`);
    const last = this.#model.surfaces.length - 1;
    if (shape.ideal || (j === last && this.#model.lens.imageSpace === 'afocal')) return; // an image at infinity is no thing
    const [behind, before] = [this.#solidBehind[j], j > 0 ? this.#solidBehind[j - 1] : -1];
    if (behind < 0 && before < 0) return this.#inAir(j);
    // The normal points out of the element behind, toward −z where light goes toward +z, or else out of the one before.
    const against = this.#backward[behind >= 0 ? j : j - 1];
    const sides = behind >= 0 ? ([behind, before] as const) : ([before, -1] as const);
    this.#glassFace(j, behind >= 0 === against ? 1 : -1, sides);
    this.#flats(j, before, behind);
  }

  #add(
    name: string,
    form: FaceForm,
    pose: Rigid,
    finish: string,
    [inner, outer]: readonly [number, number] = [-1, -1],
    optical = false,
  ): void {
    this.faces.push({ name, form, pose, finish, inner, outer, optical });
  }

  #shapeFace(j: number, reach: number, mask: Parameters<typeof faceOfShape>[3], sign: 1 | -1): FaceForm {
    return faceOfShape(this.#model.lens.surfaces[j].shape, 0, reach, mask, sign);
  }

  #finish(j: number): string {
    return this.#model.lens.surfaces[j].finish ?? (this.#model.surfaces[j].reflects ? 'mirror' : 'bare');
  }

  #inAir(j: number): void {
    const { id, pose, shape, reflects, mask, open } = this.#model.surfaces[j];
    const isImage = j === this.#model.surfaces.length - 1;
    if (reflects || isImage) {
      const clear = isImage ? this.#drawn[j] * 1.05 || 1 : this.#drawn[j];
      const form = this.#shapeFace(j, Math.min(clear, shape.reach * (1 - 1e-9)), reflects ? mask : null, -1);
      this.#add(id, form, pose, reflects ? this.#finish(j) : 'absorber', undefined, reflects);
    } else if (open !== null || j === this.#model.stop) {
      const { semi } = this.#extents[j];
      const near = [-2, -1, 0, 1].map((k) => this.#rims[j + k]).filter((rim) => rim > 0);
      this.#add(`${id}_ring`, discFace(0, semi, Math.max(semi, ...near) * DIAPHRAGM, -1), pose, 'absorber');
    }
  }

  #glassFace(j: number, sign: 1 | -1, sides: readonly [number, number]): void {
    const { id, pose, mask } = this.#model.surfaces[j];
    const reach = this.#drawn[j];
    this.#add(id, this.#shapeFace(j, reach, mask, sign), pose, this.#finish(j), sides, true);
    if (!mask) return;
    const rest = { contains: (x: number, y: number) => !mask.contains(x, y), reach, mirrorX: mask.mirrorX };
    this.#add(`${id}_edge`, this.#shapeFace(j, reach, rest, sign), pose, 'ground', sides);
  }

  /** Flats out to the rims, as ground edges go. */
  #flats(j: number, before: number, behind: number): void {
    const { id, pose, shape } = this.#model.surfaces[j];
    const flat = compose(pose, shifted(0, 0, shape.sag(this.#drawn[j], 0)));
    const sides = [before, behind].map(
      (solid, side) =>
        ({
          solid,
          rim: solid < 0 ? 0 : this.#rims[j - 1 + side],
          outward: (side === 0) === this.#backward[j - 1 + side] ? -1 : 1,
        }) as const,
    );
    const [narrow, wide] = sides[0].rim <= sides[1].rim ? sides : [sides[1], sides[0]];
    let from = this.#drawn[j];
    const ring = (name: string, rim: number, inside: readonly [number, number]) =>
      this.#add(`${id}_${name}`, discFace(0, from, rim, wide.outward), flat, 'ground', inside);
    if (narrow.solid >= 0 && narrow.rim > from) {
      ring('flat', narrow.rim, [wide.solid, narrow.solid]);
      from = narrow.rim;
    }
    if (wide.rim > from) ring('shoulder', wide.rim, [wide.solid, -1]);
  }

  /** The ground rim of the element after a surface. */
  rim(j: number): void {
    if (this.#solidBehind[j] < 0) return;
    const { id, pose } = this.#model.surfaces[j];
    const onward = compose(inverse(pose), this.#model.surfaces[j + 1].pose);
    if (!alongZ(onward))
      this.wrong.push(`${id}: the rim of an element whose faces are tilted to each other is not closed.`);
    const gap = onward.shift[2];
    // Beyond its own edge a surface goes on as the flat there.
    const height = (k: number) => (x: number, y: number) => {
      const r = Math.hypot(x, y);
      const scale = r > this.#drawn[k] ? this.#drawn[k] / r : 1;
      return this.#model.surfaces[k].shape.sag(x * scale, y * scale);
    };
    const [front, own] = [height(j), height(j + 1)];
    const back = (x: number, y: number) => own(x, y) + gap;
    const form = gap >= 0 ? new RimFace(this.#rims[j], front, back) : new RimFace(this.#rims[j], back, front);
    this.#add(`${id}_rim`, form, pose, 'ground', [this.#solidBehind[j], -1]);
  }
}
