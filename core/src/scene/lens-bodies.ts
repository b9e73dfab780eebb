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
  /** What it does with light where the part says nothing: `bare`, `mirror`, `ground` or `absorber`. */
  readonly finish: string;
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
  const { surfaces, media } = model;
  const last = surfaces.length - 1;
  const wrong: string[] = [];
  const faces: LensFace[] = [];
  const solids: LensSolid[] = [];
  const drawn = surfaces.map(({ shape }, j) =>
    Math.min(extents[j].semi * (j === last || !extents[j].automatic ? 1 : RIM), shape.reach * (1 - 1e-9)),
  );
  const backward = surfaces.map(({ pose }, j) => j < last && compose(inverse(pose), surfaces[j + 1].pose).shift[2] < 0);
  // solidBehind[j]: the element between surface j and the next; light that a mirror sends back is in the same one again.
  const solidBehind = surfaces.map((surface, j) => {
    const medium = media[j + 1];
    if (j === last || !medium || isGas(medium) || surface.reflects) return -1;
    solids.push({ name: model.lens.surfaces[j].after?.name ?? surface.id, material: medium.id });
    return solids.length - 1;
  });
  const rims = surfaces.map((_, j) => (solidBehind[j] < 0 ? 0 : Math.max(drawn[j], drawn[j + 1])));
  surfaces.forEach((surface, j) => {
    const { id, shape, pose, reflects } = surface;
    const record = model.lens.surfaces[j].shape;
    if (shape.ideal) wrong.push(`${id} is an ideal lens, which is no body: it is left out.`);
    if (surface.phase) wrong.push(`${id} is traced without what diffracts on it.`);
    if (surface.gradient) wrong.push(`The gradient behind ${id} is left out: its glass counts as even.`);
    if (shape.ideal || (j === last && model.lens.imageSpace === 'afocal')) return; // an image at infinity is no thing
    const [behind, before] = [solidBehind[j], j > 0 ? solidBehind[j - 1] : -1];
    const add = (name: string, form: FaceForm, at: Rigid, finish: string, inner: number, outer: number) =>
      faces.push({ name, form, pose: at, finish, inner, outer });
    if (behind < 0 && before < 0) {
      const open = surface.open !== null || j === model.stop;
      if (reflects || j === last) {
        const clear = j === last ? drawn[j] * 1.05 || 1 : drawn[j];
        const form = faceOfShape(
          record,
          0,
          Math.min(clear, shape.reach * (1 - 1e-9)),
          reflects ? surface.mask : null,
          -1,
        );
        add(id, form, pose, reflects ? 'mirror' : 'absorber', -1, -1);
      } else if (open) {
        const semi = extents[j].semi;
        const widest = Math.max(semi, ...[rims[j - 2], rims[j - 1], rims[j], rims[j + 1]].filter((r) => r > 0));
        add(`${id}_ring`, discFace(0, semi, widest * DIAPHRAGM, -1), pose, 'absorber', -1, -1);
      }
      return;
    }
    // The normal points out of the element behind, toward −z where light goes toward +z, or else out of the one before.
    const against = backward[behind >= 0 ? j : j - 1];
    const [inner, outer] = behind >= 0 ? [behind, before] : [before, -1];
    const sign = behind >= 0 === against ? 1 : -1;
    const { mask } = surface;
    add(id, faceOfShape(record, 0, drawn[j], mask, sign), pose, reflects ? 'mirror' : 'bare', inner, outer);
    if (mask) {
      const rest = {
        contains: (x: number, y: number) => !mask.contains(x, y),
        reach: drawn[j],
        mirrorX: mask.mirrorX,
      };
      add(`${id}_edge`, faceOfShape(record, 0, drawn[j], rest, sign), pose, 'ground', inner, outer);
    }
    // Flats out to the rims, as ground edges go.
    const flat = compose(pose, shifted(0, 0, shape.sag(drawn[j], 0)));
    const sides = [before, behind].map(
      (solid, side) =>
        ({
          solid,
          rim: solid < 0 ? 0 : rims[j - 1 + side],
          outward: (side === 0) === backward[j - 1 + side] ? -1 : 1,
        }) as const,
    );
    const [narrow, wide] = sides[0].rim <= sides[1].rim ? sides : [sides[1], sides[0]];
    let from = drawn[j];
    if (narrow.solid >= 0 && narrow.rim > from) {
      add(`${id}_flat`, discFace(0, from, narrow.rim, wide.outward), flat, 'ground', wide.solid, narrow.solid);
      from = narrow.rim;
    }
    if (wide.rim > from)
      add(`${id}_shoulder`, discFace(0, from, wide.rim, wide.outward), flat, 'ground', wide.solid, -1);
  });
  surfaces.forEach((surface, j) => {
    if (solidBehind[j] < 0) return;
    const next = surfaces[j + 1];
    const onward = compose(inverse(surface.pose), next.pose);
    if (!alongZ(onward))
      wrong.push(`${surface.id}: the rim of an element whose faces are tilted to each other is not closed.`);
    const gap = onward.shift[2];
    // Beyond its own edge a surface goes on as the flat there.
    const height = (k: number) => (x: number, y: number) => {
      const { shape } = surfaces[k];
      const r = Math.hypot(x, y);
      const scale = r > drawn[k] ? drawn[k] / r : 1;
      return shape.sag(x * scale, y * scale);
    };
    const [front, back] = [height(j), height(j + 1)];
    const ends =
      gap >= 0
        ? [front, (x: number, y: number) => back(x, y) + gap]
        : [(x: number, y: number) => back(x, y) + gap, front];
    const form = new RimFace(rims[j], ends[0], ends[1]);
    faces.push({
      name: `${surface.id}_rim`,
      form,
      pose: surface.pose,
      finish: 'ground',
      inner: solidBehind[j],
      outer: -1,
    });
  });
  return { solids, faces, wrong };
}
