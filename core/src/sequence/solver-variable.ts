import { failure, success, type Outcome } from '../math/outcome.ts';
import { phaseDefinition } from '../phases/registry.ts';
import { shapeDefinition } from '../shapes/registry.ts';
import type { LensModel } from './lens-model.ts';

const PLACES = ['dx', 'dy', 'dz', 'tx', 'ty', 'tz'] as const;
export type PlaceNumber = (typeof PLACES)[number];

/** A number of a lens that rays can be differentiated by, as solvers see it: curvature for a radius, otherwise the number itself. */
export type SolverVariable = { readonly surface: number } & (
  | { readonly kind: 'shape'; readonly id: string }
  | { readonly kind: 'phase'; readonly id: string }
  | { readonly kind: 'thickness' }
  | { readonly kind: 'place'; readonly part: 'frame' | 'behind'; readonly id: PlaceNumber }
  /** The refractive index after the surface, by the same amount in every colour. */
  | { readonly kind: 'index' }
);

/**
 * The variable with an address such as `lenses.tide.surfaces.l2_front.radius`; `….index` names the refractive index after a surface.
 * Fails for numbers that rays are not differentiated by.
 */
export function solverVariable(model: LensModel, address: string): Outcome<SolverVariable> {
  const [root, lens, list, id, ...rest] = address.split('.');
  const surface = model.surfaces.findIndex((entry) => entry.id === id);
  if (root !== 'lenses' || lens !== model.lens.id || list !== 'surfaces' || surface < 0)
    return failure(`Rays of the lens are not differentiated by ${address}.`);
  const [name, further] = rest;
  if (rest.length === 1 && name === 'thickness') return success({ kind: 'thickness', surface });
  if (rest.length === 1 && name === 'index') return success({ kind: 'index', surface });
  if (rest.length === 1 && isPlace(name)) return success({ kind: 'place', part: 'frame', id: name, surface });
  if (rest.length === 2 && name === 'behind' && isPlace(further))
    return success({ kind: 'place', part: 'behind', id: further, surface });
  const phase = model.lens.surfaces[surface].phase;
  if (rest.length === 2 && name === 'phase' && phase)
    if (phaseDefinition(phase.kind)?.parameters.some((spec) => spec.id === further && !spec.whole))
      return success({ kind: 'phase', id: further, surface });
  const shape = shapeDefinition(model.lens.surfaces[surface].shape.kind);
  if (rest.length === 1 && shape?.parameters.some((spec) => spec.id === name))
    return success({ kind: 'shape', id: name, surface });
  return failure(`Rays of the lens are not differentiated by ${address}.`, id);
}

function isPlace(name: string | undefined): name is PlaceNumber {
  return PLACES.includes(name as PlaceNumber);
}

/**
 * How the refractive indices change with a variable, medium by medium as in `LensModel.indices`: 1 behind the surface whose index it
 * is, and on through mirrors, which leave light in its medium.
 */
export function indexChange(model: LensModel, variable: SolverVariable): Float64Array {
  if (variable.kind !== 'index') return nothing(model.surfaces.length + 1);
  const change = new Float64Array(model.surfaces.length + 1);
  let medium = variable.surface + 1;
  do change[medium++] = 1;
  while (medium < change.length && model.surfaces[medium - 1].reflects);
  return change;
}

const NOTHING: Float64Array[] = [];

/** Zeros that are read by all and written by none. */
function nothing(length: number): Float64Array {
  return (NOTHING[length] ??= new Float64Array(length));
}

/** How the vertex curvature of each surface changes with a variable, 1/mm. */
export function curvatureChange(model: LensModel, variable: SolverVariable): Float64Array {
  if (variable.kind !== 'shape') return nothing(model.surfaces.length);
  const change = new Float64Array(model.surfaces.length);
  const { derivatives, facets = derivatives } = model.surfaces[variable.surface].shape;
  // The curvature is ∂²z/∂y² at the vertex; its change with the variable is the slope of ∂²z/∂y∂p there. From one small height to
  // another, so that a cone, which has a slope but no curvature, changes none.
  const h = 1e-9;
  const by = facets.by[variable.id];
  if (!by) return change;
  const out = new Float64Array(3);
  by(0, 2 * h, out);
  const far = out[2];
  by(0, h, out);
  change[variable.surface] = (far - out[2]) / h;
  return change;
}
