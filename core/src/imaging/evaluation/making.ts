import { failure, success, type Outcome } from '../../math/outcome.ts';
import { isGas } from '../../materials/material.ts';
import type { LensEvaluation } from './lens-evaluation.ts';

const HEIGHTS = 48;

/** Index of a surface by its id. Fails, naming it. */
function surfaceIndex({ model }: LensEvaluation, id: string): Outcome<number> {
  const index = model.surfaces.findIndex((surface) => surface.id === id);
  return index < 0 ? failure(`There is no surface “${id}”.`) : success(index);
}

/** The surfaces a choice means: the one with an id, or all before the image for an empty one. */
function chosen(lens: LensEvaluation, id: string): Outcome<number[]> {
  if (id === '') return success(lens.model.surfaces.slice(0, -1).map((_, j) => j));
  const index = surfaceIndex(lens, id);
  return index.ok ? success([index.value]) : index;
}

/** Where something is least or largest. */
export interface Extreme {
  readonly value: number;
  /** Id of the surface. */
  readonly surface: string;
  /** Distance from its axis, mm. */
  readonly height: number;
}

/**
 * The least distance in mm from a surface to the next one along the axis, the way light goes, over the smaller of the two
 * semi-apertures: negative where they cross. The smallest of all for an empty id; surfaces that do not share an axis are left out.
 */
export function leastClearance(lens: LensEvaluation, id: string): Outcome<Extreme> {
  const wanted = chosen(lens, id);
  if (!wanted.ok) return wanted;
  const { surfaces } = lens.model;
  const extents = lens.extents();
  let least: Extreme | null = null;
  let way = 1;
  surfaces.forEach((surface, j) => {
    if (surface.reflects) way = -way;
    const next = surfaces[j + 1];
    if (!next || next.entry || !wanted.value.includes(j)) return;
    const semi = Math.min(extents[j].semi, extents[j + 1].semi);
    for (let k = 0; k <= HEIGHTS; k++)
      for (const y of [(semi * k) / HEIGHTS, (-semi * k) / HEIGHTS]) {
        const value = (surface.gap + next.shape.sag(0, y) - surface.shape.sag(0, y)) * way;
        if (!least || value < least.value) least = { value, surface: surface.id, height: Math.abs(y) };
      }
  });
  return least ? success(least) : failure('No two neighbouring surfaces share an axis there.');
}

/**
 * Distance in mm along the axis from a surface to the next at the rim, the way light goes: of glass at the larger of both semi-apertures, as it is
 * edged, of air at the smaller. Fails for surfaces that do not share an axis.
 */
export function edgeThickness(lens: LensEvaluation, id: string): Outcome<number> {
  const index = surfaceIndex(lens, id);
  if (!index.ok) return index;
  const { surfaces, media } = lens.model;
  const [surface, next] = [surfaces[index.value], surfaces[index.value + 1] as (typeof surfaces)[number] | undefined];
  if (!next || next.entry) return failure('It shares no axis with the next surface.', id);
  const extents = lens.extents();
  const semis = [extents[index.value].semi, extents[index.value + 1].semi];
  const material = media[index.value + 1];
  const height = material && !isGas(material) ? Math.max(...semis) : Math.min(...semis);
  const way = surfaces.slice(0, index.value + 1).filter(({ reflects }) => reflects).length % 2 === 0 ? 1 : -1;
  return success((surface.gap + next.shape.sag(0, height) - surface.shape.sag(0, height)) * way);
}

/** The steepest slope in degrees of a surface against its vertex plane within its semi-aperture; the steepest of all for an empty id. */
export function steepestSlope(lens: LensEvaluation, id: string): Outcome<Extreme> {
  const wanted = chosen(lens, id);
  if (!wanted.ok) return wanted;
  const extents = lens.extents();
  const jet = new Float64Array(6);
  let steepest: Extreme | null = null;
  for (const j of wanted.value) {
    const { id: surface, shape } = lens.model.surfaces[j];
    const slopes = shape.facets ?? shape.derivatives;
    for (let k = 0; k <= HEIGHTS; k++)
      for (const [x, y] of [
        [0, 1],
        [0, -1],
        [1, 0],
        [-1, 0],
      ]) {
        const height = (extents[j].semi * k) / HEIGHTS;
        slopes.jet(x * height, y * height, jet);
        const value = (Math.atan(Math.hypot(jet[1], jet[2])) * 180) / Math.PI;
        if (value > (steepest?.value ?? -1)) steepest = { value, surface, height };
      }
  }
  return steepest ? success(steepest) : failure('No surface has a slope there.');
}

/** How much further than its semi-aperture a surface exists, as a share of it; the least of all for an empty id. Infinity for endless ones. */
export function surfaceMargin(lens: LensEvaluation, id: string): Outcome<Extreme> {
  const wanted = chosen(lens, id);
  if (!wanted.ok) return wanted;
  const extents = lens.extents();
  let least: Extreme | null = null;
  for (const j of wanted.value) {
    const { id: surface, shape } = lens.model.surfaces[j];
    const value = shape.reach / extents[j].semi - 1;
    if (!least || value < least.value) least = { value, surface, height: shape.reach };
  }
  return least ? success(least) : failure('There is no surface.');
}
