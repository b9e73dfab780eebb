import type { DiffractionPupil } from '../imaging/wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { referenceSphere, wayToSphere, type ReferenceSphere } from '../imaging/wavefront/reference-sphere.ts';
import type { RayBlock } from '../compute/ray-block.ts';
import type { FieldPoint } from '../project/model.ts';
import type { LensModel } from '../sequence/lens-model.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import { seedOf, type BundleGradients } from '../sequence/bundle-gradients.ts';

/** How a diffraction pupil changes with one variable, in its scaled coordinates. */
export interface PupilChanges {
  /** Of the coefficients of its phase, waves. */
  readonly coefficients: Float64Array;
  /** Of half of its width along x and y, as shares of it. */
  readonly widths: readonly [number, number];
}

/** A sphere larger than this is taken as this large: its rays are straight through the centre to all digits. */
const LARGEST = 1e9;

/**
 * How the physical pupil of a field and colour, on the reference sphere about the primary chief point, changes with each variable. The
 * extent of the pupil and the sphere follow; its outline within that extent, its amplitude and the place of the exit pupil after the last
 * surface are held. Null if rays are missing.
 */
export function pupilChanges(
  lens: LensEvaluation,
  gradients: BundleGradients,
  field: FieldPoint,
  wave: number,
  pupil: DiffractionPupil,
): PupilChanges[] | null {
  const { model } = lens;
  const found = referenceSphere(lens, field, wave, { reference: 'primary' });
  if (!found.ok) return null;
  const sphere = { ...found.value, radius: Math.min(found.value.radius, LARGEST) };
  const index = model.indices[wave][model.surfaces.length - 1];
  const { px, py, fit, basis, coefficients } = pupil.phase;
  const bundle = gradients.trace(field, wave, px, py);
  if (!bundle.whole) return null;
  const centres = centreChanges(gradients, field, model.primary);
  const rays = bundle.rays;
  const places = Array.from({ length: px.length }, (_, i) => placeOf(sphere, rays, i));
  const coordinates = ([0, 1] as const).map((axis) =>
    places.map(({ toCentre }) => (sphere.side * index * toCentre[axis]) / sphere.radius),
  );
  const ends = coordinates.map(extremes);

  const factor = -1 / pupil.mm;
  const endSeeds = ([0, 1] as const).map((axis) => {
    const one = seedOf(px.length);
    for (const i of ends[axis]) addCoordinateSeed(one, sphere, rays, places[i], i, axis, index);
    return one;
  });
  const [by, byU, byV] = bundle.back([phaseSeed(rays, px.length, factor, index), ...endSeeds]);

  const phase = basis.sum(coefficients);
  const slope = new Float64Array(2);
  const [u, v] = coordinates.map((values, axis) =>
    values.map((value) => (value - pupil.middle[axis]) / pupil.half[axis]),
  );
  return gradients.variables.map((_, variable) => {
    const centre = centres[variable];
    const radius = radiusChange(sphere, centre, nearer(model, gradients.variables[variable]));
    const at = px.length * variable;
    const ofEnds = [byU, byV].map((values, axis) =>
      ends[axis].map(
        (i) => values[at + i] + coordinateByCentre(sphere, rays, places[i], i, axis as 0 | 1, index, centre, radius),
      ),
    );
    const widths = ofEnds.map(([low, high], axis) => (high - low) / 2 / pupil.half[axis]) as [number, number];
    const middles = ofEnds.map(([low, high], axis) => (high + low) / 2 / pupil.half[axis]);
    const change = Float64Array.from(px, (_, i) => {
      phase.slope(u[i], v[i], slope);
      return (
        by[at + i] +
        factor * index * alongRay(rays, places[i], i, centre, radius / sphere.radius) +
        slope[0] * (middles[0] + u[i] * widths[0]) +
        slope[1] * (middles[1] + v[i] * widths[1])
      );
    });
    return { coefficients: fit.solve(change, true), widths };
  });
}

/** Phase at a fixed place of the pupil: what turns a ray changes it only by where the ray passes. */
function phaseSeed(rays: RayBlock, count: number, factor: number, index: number): ReturnType<typeof seedOf> {
  const seed = seedOf(count);
  for (let i = 0; i < count; i++) {
    seed.path[i] = factor;
    seed.x[i] = -factor * index * rays.l[i];
    seed.y[i] = -factor * index * rays.m[i];
    seed.z[i] = -factor * index * rays.n[i];
  }
  return seed;
}

/** How far a place on the sphere moves along its ray: with the centre, and outward as the radius grows by a share. */
function alongRay(rays: RayBlock, { toCentre }: Place, i: number, centre: ArrayLike<number>, growth: number): number {
  const direction = [rays.l[i], rays.m[i], rays.n[i]];
  return toCentre.reduce((sum, part, k) => sum + direction[k] * (centre[k] + part * growth), 0);
}

/** The way of a ray to the sphere, and its place there from the centre. */
interface Place {
  readonly way: number;
  readonly toCentre: readonly [number, number, number];
}

function placeOf(sphere: ReferenceSphere, rays: RayBlock, i: number): Place {
  const way = wayToSphere(sphere, rays, i) + sphere.side * sphere.radius;
  const { x, y, z, l, m, n } = rays;
  const [cx, cy, cz] = sphere.centre;
  return { way, toCentre: [x[i] - cx + way * l[i], y[i] - cy + way * m[i], z[i] - cz + way * n[i]] };
}

/** Which of some values are the least and the largest. */
function extremes(values: readonly number[]): readonly [number, number] {
  let [low, high] = [0, 0];
  values.forEach((value, i) => {
    if (value < values[low]) low = i;
    if (value > values[high]) high = i;
  });
  return [low, high];
}

/** A coordinate of a ray on the sphere by its place and direction at the image: (place + way·direction − centre)·(…) = R² is kept by the way. */
function addCoordinateSeed(
  seed: ReturnType<typeof seedOf>,
  sphere: ReferenceSphere,
  rays: RayBlock,
  place: Place,
  i: number,
  axis: 0 | 1,
  index: number,
): void {
  const scale = (sphere.side * index) / sphere.radius;
  const direction = [rays.l[i], rays.m[i], rays.n[i]];
  const along = place.toCentre.reduce((sum, part, k) => sum + part * direction[k], 0);
  const parts = place.toCentre.map((part, k) => scale * ((k === axis ? 1 : 0) - (direction[axis] * part) / along));
  [seed.x[i], seed.y[i], seed.z[i]] = parts;
  [seed.l[i], seed.m[i], seed.n[i]] = parts.map((part) => place.way * part);
}

/** The same by a move of the centre and a change of the radius. */
function coordinateByCentre(
  sphere: ReferenceSphere,
  rays: RayBlock,
  { toCentre }: Place,
  i: number,
  axis: 0 | 1,
  index: number,
  centre: readonly number[],
  radius: number,
): number {
  const direction = [rays.l[i], rays.m[i], rays.n[i]];
  const along = toCentre.reduce((sum, part, k) => sum + part * direction[k], 0);
  const push = (toCentre.reduce((sum, part, k) => sum + part * centre[k], 0) + sphere.radius * radius) / along;
  const scale = (sphere.side * index) / sphere.radius;
  return scale * (direction[axis] * push - centre[axis] - (toCentre[axis] * radius) / sphere.radius);
}

/** How much nearer to the image the last surface, and the exit pupil with it, comes with a variable: less by the last distance. */
function nearer({ surfaces }: LensModel, variable: SolverVariable): number {
  return variable.kind === 'thickness' && variable.surface === surfaces.length - 2 ? -1 : 0;
}

/** How the radius changes with a move of the centre and one of the exit pupil along the axis. */
function radiusChange({ centre, radius, pupil }: ReferenceSphere, move: readonly number[], pupilMove: number): number {
  if (!pupil) return 0;
  return pupil.reduce((sum, part, k) => sum + (part - centre[k]) * ((k === 2 ? pupilMove : 0) - move[k]), 0) / radius;
}

/** How the primary chief point in the image surface moves with each variable, mm. */
function centreChanges(
  gradients: BundleGradients,
  field: FieldPoint,
  primary: number,
): (readonly [number, number, number])[] {
  const pupilCentre = new Float64Array(1);
  const chief = gradients.trace(field, primary, pupilCentre, pupilCentre);
  const seeds = (['x', 'y', 'z'] as const).map((coordinate) => {
    const seed = seedOf(1);
    seed[coordinate][0] = 1;
    return seed;
  });
  const [x, y, z] = chief.back(seeds);
  return gradients.variables.map((_, v) => [x[v], y[v], z[v]]);
}
