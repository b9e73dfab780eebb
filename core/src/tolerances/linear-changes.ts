import { extentToNumber } from '../math/parameter.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Lens, Project, Surface } from '../project/model.ts';
import type { ToleranceTarget } from '../project/tolerances.ts';
import { compileLens, type LensModel } from '../sequence/lens-model.ts';
import type { PlaceNumber, SolverVariable } from '../sequence/solver-variable.ts';
import { perturbed } from './perturb.ts';

/** A number that rays are differentiated by, and how fast it changes with a departure. */
export interface LinearChange {
  readonly variable: SolverVariable;
  /** Change of the variable per unit of the departure, by wavelength: they differ for indices only. */
  readonly by: readonly number[];
}

const PLACES = ['dx', 'dy', 'dz', 'tx', 'ty', 'tz'] as const;

/**
 * How the numbers of a lens change with a small departure, found by making it to both sides.
 *
 * @param model - the lens of the design, as it is traced
 * @param reach - largest departure that matters, in the unit of the tolerance: the step is a hundredth of it
 * @returns nothing for a departure of something else. Fails where it cannot be made, or changes what rays are not differentiated by
 */
export function linearChanges(
  project: Project,
  model: LensModel,
  target: ToleranceTarget,
  reach: number,
): Outcome<readonly LinearChange[]> {
  if (!(reach > 0)) return success([]);
  const step = reach / 100;
  const ends: [Project, Project] = [project, project];
  for (const [k, by] of [-step, step].entries()) {
    const made = perturbed(project, [{ of: target, by }]);
    if (!made.ok) return made;
    ends[k] = made.value;
  }
  const [below, above] = ends.map(({ lenses }) => lenses.find(({ id }) => id === model.lens.id)!);
  const changes: LinearChange[] = [];
  for (const [surface, { id }] of model.surfaces.entries()) {
    const [a, b] = [below, above].map(({ surfaces }) => surfaces.find((one) => one.id === id)!);
    if (a === b) continue;
    const found = surfaceChanges(a, b, surface, 2 * step, model.wavelengths.length);
    if (!found.ok) return found;
    changes.push(...found.value);
  }
  if (ends[0].materials !== ends[1].materials) changes.push(...indexChanges(ends, [below, above], model, 2 * step));
  return success(changes);
}

function surfaceChanges(
  below: Surface,
  above: Surface,
  surface: number,
  apart: number,
  waves: number,
): Outcome<LinearChange[]> {
  const changes: LinearChange[] = [];
  const add = (variable: SolverVariable, from: number, to: number) => {
    if (from !== to) changes.push({ variable, by: Array.from({ length: waves }, () => (to - from) / apart) });
  };
  if (below.shape.kind !== above.shape.kind || below.phase !== above.phase)
    return failure(`Rays are not differentiated by what changes at ${below.id}.`, below.id);
  const [shapeBelow, shapeAbove] = [below.shape, above.shape].map((shape) => shape as unknown as Numbers);
  for (const id of new Set([...Object.keys(shapeBelow), ...Object.keys(shapeAbove)])) {
    if (id === 'kind' || shapeBelow[id] === shapeAbove[id]) continue;
    add({ kind: 'shape', id, surface }, solved(id, shapeBelow[id]), solved(id, shapeAbove[id]));
  }
  for (const id of PLACES) {
    add(placeOf('frame', id, surface), below.frame?.[id] ?? 0, above.frame?.[id] ?? 0);
    add(placeOf('behind', id, surface), below.behind?.[id] ?? 0, above.behind?.[id] ?? 0);
  }
  add({ kind: 'thickness', surface }, below.after?.thickness ?? 0, above.after?.thickness ?? 0);
  return success(changes);
}

/** Numbers of a shape as the document has them. */
type Numbers = Readonly<Record<string, number | 'infinity' | undefined>>;

/** A number of a shape as solvers see it: the curvature for a radius. */
function solved(id: string, value: number | 'infinity' | undefined): number {
  if (id !== 'radius') return value === undefined ? 0 : extentToNumber(value);
  return value === undefined ? 0 : 1 / extentToNumber(value);
}

const placeOf = (part: 'frame' | 'behind', id: PlaceNumber, surface: number): SolverVariable => ({
  kind: 'place',
  part,
  id,
  surface,
});

/** Indices of all solid media that change: a mirror leaves light in the one before it. */
function indexChanges(
  projects: readonly [Project, Project],
  lenses: readonly Lens[],
  model: LensModel,
  apart: number,
): LinearChange[] {
  const [below, above] = projects.map((project, k) => compileLens(project, lenses[k]).indices);
  return model.surfaces.flatMap(({ reflects }, surface): LinearChange[] => {
    const by = model.wavelengths.map((_, w) => (above[w][surface + 1] - below[w][surface + 1]) / apart);
    return reflects || by.every((one) => one === 0) ? [] : [{ variable: { kind: 'index', surface }, by }];
  });
}

/** Variables, each once. */
export class VariableList {
  readonly #numbers = new Map<string, number>();
  readonly all: SolverVariable[] = [];

  /** The number of a variable in the list, which takes it in where it is new. */
  numberOf(variable: SolverVariable): number {
    const key = `${variable.kind} ${variable.surface} ${'id' in variable ? variable.id : ''} ${'part' in variable ? variable.part : ''}`;
    const known = this.#numbers.get(key);
    if (known !== undefined) return known;
    this.#numbers.set(key, this.all.length);
    return this.all.push(variable) - 1;
  }
}
