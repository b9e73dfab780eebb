import { CHANGE, type BackSurface } from '../compute/back-kernel.ts';
import type { LensModel } from './lens-model.ts';
import type { SolverVariable } from './solver-variable.ts';

/**
 * The surfaces of a lens with what variables change of each, as the compiled kernel takes derivatives back through them; null for what it does not
 * know: anything but conics with even powers of r about one axis, and shifts and tilts among the variables.
 *
 * @param indexChanges - of each variable, see `indexChange`
 */
export function backSurfaces(
  model: LensModel,
  variables: readonly SolverVariable[],
  wave: number,
  indexChanges: readonly Float64Array[],
): readonly BackSurface[] | null {
  const { surfaces } = model;
  const indices = model.indices[wave];
  if (surfaces.some(({ shape, phase, gradient, entry }) => !shape.form || shape.facets || phase || gradient || entry))
    return null;
  if (variables.some(({ kind }) => kind === 'place' || kind === 'phase')) return null;
  const changes: number[][] = surfaces.map(() => []);
  const gaps = new Int16Array(surfaces.length).fill(-1);
  for (let v = 0; v < variables.length; v++) {
    const variable = variables[v];
    if (variable.kind === 'shape') {
      const change = shapeChange(variable.id);
      if (!change) return null;
      changes[variable.surface].push(change[0], v, change[1], 0);
    } else if (variable.kind === 'thickness') {
      // Two variables for one gap are left to those who can tell them apart.
      if (gaps[variable.surface + 1] >= 0) return null;
      gaps[variable.surface + 1] = v;
    } else {
      const change = indexChanges[v];
      for (let j = 0; j < surfaces.length; j++) {
        const { reflects } = surfaces[j];
        const dBehind = reflects ? change[j] : change[j + 1];
        if (change[j] === 0 && dBehind === 0) continue;
        const mu = indices[j] / indices[j + 1];
        changes[j].push(CHANGE.index, v, reflects ? 0 : (change[j] - mu * dBehind) / indices[j + 1], change[j]);
      }
    }
  }
  return surfaces.map(({ shape, reflects }, j) => {
    const { c, k, terms } = shape.form!;
    const before = indices[j];
    const gap = j < surfaces.length - 1 ? surfaces[j].gap : 0;
    return {
      c,
      k,
      terms,
      mu: reflects ? 1 : before / indices[j + 1],
      before,
      gap,
      thickness: gaps[j],
      changes: Float64Array.from(changes[j]),
    };
  });
}

/** Kind of a change of a shape, and the place of the term; null for a number that the kernel does not know. */
function shapeChange(id: string): readonly [number, number] | null {
  if (id === 'radius') return [CHANGE.curvature, 0];
  if (id === 'conic') return [CHANGE.conic, 0];
  const order = /^a(\d+)$/.exec(id);
  return order && Number(order[1]) % 2 === 0 ? [CHANGE.term, Number(order[1]) / 2 - 1] : null;
}
