import { RAY_STATUS } from '../../compute/ray-block.ts';
import { extentToNumber } from '../../math/parameter.ts';
import { abbeNumber, isGas } from '../../materials/material.ts';
import type { Aimer } from '../../sequence/aiming.ts';
import { rayPaths, type SurfaceExtent } from '../../sequence/extents.ts';
import { alongZ } from '../../math/rigid.ts';
import type { LensModel, TraceSurface } from '../../sequence/lens-model.ts';
import { toGlobal } from '../../sequence/placement.ts';
import { inspectRay } from './ray-inspection.ts';
import { inPlane, SurfaceCut, type PlanePath } from './section-cut.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';

export interface SectionSurface {
  readonly id: string;
  /** The surface over its semi-aperture, from −y to +y. */
  readonly line: PlanePath;
  readonly semi: number;
  readonly automatic: boolean;
  readonly stop: boolean;
  readonly image: boolean;
  readonly reflects: boolean;
  /** What of it lets light through, where apertures and obscurations leave out some of it; `line` in one piece otherwise. */
  readonly pieces: readonly PlanePath[];
  /** z and y of the vertex. */
  readonly vertex: readonly [number, number];
  /** Directions as [z, y]: of the axis that comes to it, and of its own z and y. */
  readonly axis: readonly [number, number];
  readonly ownZ: readonly [number, number];
  readonly ownY: readonly [number, number];
}

/** A body of one solid medium between two surfaces. */
export interface SectionElement {
  /** Id of its front surface. */
  readonly front: string;
  readonly name: string;
  readonly outline: PlanePath;
  /** Abbe number, for the tint. */
  readonly abbe: number;
}

/** What of a lens is drawn. */
export interface SectionChoice {
  readonly raysPerField: number;
  /** Ids of the fields whose rays are drawn; all by default. */
  readonly fields?: readonly string[];
  /** Rays of the primary wavelength, or of every one. */
  readonly colours?: 'primary' | 'all';
  /** `lens`: the frame ends shortly behind the last surface before the image, wherever that lies. */
  readonly range?: 'whole' | 'lens';
}

export interface SectionRay {
  readonly field: string;
  readonly nm: number;
  /** Pupil coordinate along y. */
  readonly py: number;
  /** z, y, z, y … from where it is drawn first to where it ends. */
  readonly points: PlanePath;
  /** Whether the last stretch goes past a surface that the ray missed. */
  readonly strays: boolean;
  /** One of RAY_STATUS. */
  readonly status: number;
  readonly endsAt: string | null;
}

/** The y–z section of a lens with rays, ready to be drawn. */
export interface Section {
  readonly surfaces: readonly SectionSurface[];
  readonly elements: readonly SectionElement[];
  readonly rays: readonly SectionRay[];
  /** Rays that the project keeps, as far as they are to be drawn. */
  readonly kept: readonly { readonly id: string; readonly name: string; readonly points: PlanePath }[];
  /** The axis from vertex to vertex, where it is not straight; else null. */
  readonly axis: PlanePath | null;
  /** What the drawing should show: z from–to and y from–to, mm. */
  readonly bounds: { readonly z: readonly [number, number]; readonly y: readonly [number, number] };
  /** Distance of a finite object that lies too far off to be drawn in the same frame, mm; null where there is none. */
  readonly objectBeyond: number | null;
  /** Whether the image lies beyond the frame by choice. */
  readonly imageBeyond: boolean;
}

/** Drawn rims stand out a little over the clear semi-aperture, as a mount needs it. */
const RIM = 1.04;

/**
 * Section of a lens through the y–z plane, with a fan of rays per field, in the primary wavelength unless all are asked for.
 *
 * What can be drawn is drawn: without a stop, wavelength or field there are surfaces and elements but no rays.
 */
export function lensSection(lens: LensEvaluation, choice: SectionChoice): Section {
  const { model } = lens;
  const launch = lens.aimer();
  const extents = lens.extents();
  const rims = elementRims(model, extents);
  const cuts = model.surfaces.map((surface) => new SurfaceCut(surface));
  const surfaces = model.surfaces.map((surface, j) => ({
    id: surface.id,
    ...drawnCut(cuts[j], drawnSemi(model, extents, j)),
    semi: extents[j].semi,
    automatic: extents[j].automatic,
    stop: j === model.stop,
    image: j === model.surfaces.length - 1,
    reflects: surface.reflects,
    vertex: vertexOf(surface),
    axis: inPlane(surface.axis, [0, 0, 1]),
    ownZ: inPlane(surface.pose, [0, 0, 1]),
    ownY: inPlane(surface.pose, [0, 1, 0]),
  }));
  const elements = model.surfaces.slice(0, -1).flatMap((surface, j) => {
    const medium = model.media[j + 1];
    if (!medium || isGas(medium) || surface.reflects) return [];
    return [
      {
        front: surface.id,
        name: model.lens.surfaces[j].after?.name ?? '',
        outline: outline(cuts[j], drawnSemi(model, extents, j), cuts[j + 1], drawnSemi(model, extents, j + 1), rims[j]),
        abbe: abbeNumber(medium.dispersion),
      },
    ];
  });
  const imageBeyond = choice.range === 'lens' && surfaces.length > 2;
  const framed = imageBeyond ? surfaces.slice(0, -1) : surfaces;
  const zs: number[] = [];
  const ys: number[] = [];
  for (const path of [...framed.map(({ line }) => line), ...elements.map((element) => element.outline)])
    for (let i = 0; i < path.length; i += 2) {
      zs.push(path[i]);
      ys.push(path[i + 1]);
    }
  const [zFrom, zTo] = [Math.min(...zs), Math.max(...zs)];
  const objectZ = -extentToNumber(model.lens.object.distance);
  const length = Math.max(zTo - zFrom, 1e-9);
  const objectBeyond = Number.isFinite(objectZ) && zFrom - objectZ > 1.5 * length;
  const drawObject = Number.isFinite(objectZ) && !objectBeyond;
  const startZ = drawObject ? objectZ : zFrom - 0.2 * length;
  const rays = launch.ok && model.primary >= 0 ? sectionRays(launch.value, choice, startZ, drawObject) : [];
  const endZ = imageBeyond ? zTo + 0.2 * length : zTo;
  const largest = 3 * Math.max(...extents.map((extent) => extent.semi));
  const [lowest, highest] = [Math.min(...ys) - largest, Math.max(...ys) + largest];
  for (const { points } of rays)
    for (let i = 0; i < points.length; i += 2)
      if (points[i] <= endZ) ys.push(Math.max(lowest, Math.min(highest, points[i + 1])));
  return {
    surfaces,
    elements,
    rays,
    kept: keptRays(lens, startZ, drawObject),
    axis: bentAxis(model, startZ),
    bounds: { z: [Math.min(startZ, zFrom), endZ], y: [Math.min(...ys), Math.max(...ys)] },
    objectBeyond: objectBeyond ? -objectZ : null,
    imageBeyond,
  };
}

/** The cut in one piece, as hands take hold of it, and the pieces that are drawn. */
function drawnCut(cut: SurfaceCut, semi: number): Pick<SectionSurface, 'line' | 'pieces'> {
  const line = cut.line(-semi, semi);
  const pieces = cut.pieces(semi);
  return { line, pieces: pieces.length === 1 && pieces[0].length === line.length ? [line] : pieces };
}

/** Kept rays that are to be drawn, as far as they come; those of a far object begin where the other rays do. */
function keptRays(lens: LensEvaluation, startZ: number, fromObject: boolean): Section['kept'] {
  return (lens.model.lens.rays ?? [])
    .filter(({ drawn }) => drawn)
    .flatMap(({ id, name, source, wavelength }) => {
      const ray = inspectRay(lens, source, wavelength);
      if (!ray.ok) return [];
      const { start, steps, end } = ray.value;
      const points = Float64Array.from([start, ...steps.map((step) => step.global)].flat());
      const whole = source.kind === 'launched' || fromObject;
      const status = end ? RAY_STATUS.missed : RAY_STATUS.alive;
      return [{ id, name: name ?? id, points: drawnPoints(points, startZ, whole, status) }];
    });
}

function bentAxis(model: LensModel, startZ: number): PlanePath | null {
  if (model.surfaces.every(({ axis }) => alongZ(axis))) return null;
  return Float64Array.from([startZ, 0, ...model.surfaces.flatMap(({ axis }) => [axis.shift[2], axis.shift[1]])]);
}

function vertexOf(surface: TraceSurface): [number, number] {
  const [, y, z] = toGlobal(surface, 0, 0, 0);
  return [z, y];
}

/** Stop and image are drawn to their semi-aperture; faces a little over it, but never beyond where the surface exists. */
function drawnSemi(model: LensModel, extents: readonly SurfaceExtent[], j: number): number {
  const surface = model.surfaces[j];
  const plain = j === model.surfaces.length - 1 || !extents[j].automatic;
  return Math.min(plain ? extents[j].semi : extents[j].semi * RIM, surface.shape.reach * 0.999);
}

/** Outer radius of the body behind each surface: the larger of its two faces, the same along a cemented run. */
function elementRims(model: LensModel, extents: readonly SurfaceExtent[]): number[] {
  const solid = model.surfaces.map((_, j) => {
    const medium = model.media[j + 1];
    return j < model.surfaces.length - 1 && medium !== undefined && !isGas(medium);
  });
  return model.surfaces.map((_, j) =>
    solid[j] ? Math.max(drawnSemi(model, extents, j), drawnSemi(model, extents, j + 1)) : drawnSemi(model, extents, j),
  );
}

/** Front face, rim, back face and rim of a body; faces smaller than the rim go on as flats, as ground edges do. */
function outline(front: SurfaceCut, frontSemi: number, back: SurfaceCut, backSemi: number, rim: number): PlanePath {
  const face = (cut: SurfaceCut, semi: number): number[] => {
    const line = [...cut.line(-semi, semi)];
    if (rim <= semi || line.length === 0) return line;
    return [...(cut.point(-rim, -semi) ?? []), ...line, ...(cut.point(rim, semi) ?? [])];
  };
  const backwards = face(back, backSemi);
  const reversed: number[] = [];
  for (let i = backwards.length - 2; i >= 0; i -= 2) reversed.push(backwards[i], backwards[i + 1]);
  return Float64Array.from([...face(front, frontSemi), ...reversed]);
}

function sectionRays(
  aimer: Aimer,
  { raysPerField: count, fields, colours }: SectionChoice,
  startZ: number,
  fromObject: boolean,
): SectionRay[] {
  const { model } = aimer;
  const { obscuration } = model.lens.pupil;
  const even = Array.from({ length: count }, (_, i) => (count === 1 ? 0 : -1 + (2 * i) / (count - 1)));
  const py = even.filter((value) => Math.abs(value) >= obscuration);
  const px = py.map(() => 0);
  const waves = colours === 'all' ? [...model.wavelengths.keys()] : [model.primary];
  return model.lens.fields.points
    .filter(({ id }) => !fields || fields.includes(id))
    .flatMap((field) =>
      waves.flatMap((wave) =>
        rayPaths(aimer, { field, wave, px, py }, true).map((path, i) => ({
          field: field.id,
          nm: model.wavelengths[wave].nm,
          py: py[i],
          points: drawnPoints(path.points, startZ, fromObject, path.status),
          strays: path.strays,
          status: path.status,
          endsAt: path.endsAt,
        })),
      ),
    );
}

/** Projects a ray on the drawing plane and lets it begin at `startZ`, wherever it was launched. */
function drawnPoints(points: Float64Array, startZ: number, fromObject: boolean, status: number): PlanePath {
  const plane: number[] = [];
  for (let i = 0; i < points.length; i += 3) plane.push(points[i + 2], points[i + 1]);
  if (plane.some((value) => Number.isNaN(value)) || status === RAY_STATUS.notAimed) return new Float64Array(0);
  if (!fromObject && plane.length >= 4) {
    const [z0, y0, z1, y1] = plane;
    const slope = z1 === z0 ? 0 : (y1 - y0) / (z1 - z0);
    plane[0] = startZ;
    plane[1] = y1 + slope * (startZ - z1);
  }
  return Float64Array.from(plane);
}
