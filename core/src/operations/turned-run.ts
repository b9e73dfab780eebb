import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Lens, Medium, ParameterState, Project, Surface } from '../project/model.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import { turnShape } from '../shapes/turn-shape.ts';

/** A run of surfaces turned end for end about the y axis: the last comes first, and each shows its other side. */
export function turnedRun(lens: Lens, first: number, last: number): Outcome<Surface[]> {
  const run = lens.surfaces.slice(first, last + 1);
  const turned: Surface[] = [];
  for (let k = run.length - 1; k >= 0; k--) {
    const surface = run[k];
    const title = surfaceTitle(lens, first + k);
    const side = surface.reflects
      ? 'is a mirror'
      : surface.phase
        ? 'diffracts'
        : surface.frame || surface.behind
          ? 'is shifted or tilted'
          : null;
    if (side) return failure(`${title} ${side}: only plain refracting surfaces are turned around.`, surface.id);
    if (surface.after?.gradient)
      return failure(`The index after ${title} changes from place to place: it is not turned around.`, surface.id);
    const shape = turnShape(surface.shape);
    if (!shape)
      return failure(`${title} is an ideal lens for an object at a finite distance: it has a side.`, surface.id);
    // The medium in front of it is now behind it.
    const after: Medium | null = k > 0 ? run[k - 1].after : run[run.length - 1].after;
    turned.push({
      ...surface,
      shape,
      aperture: mirrored(surface.aperture),
      ...(surface.obscurations && { obscurations: surface.obscurations.map(mirrored) }),
      after,
    });
  }
  return success(turned);
}

/** An area seen from behind. */
function mirrored<A extends object>(area: A): A {
  const { dx, turn, points } = area as { dx?: number; turn?: number; points?: readonly (readonly [number, number])[] };
  return {
    ...area,
    ...(dx !== undefined && { dx: -dx || 0 }),
    ...(turn !== undefined && { turn: -turn || 0 }),
    ...(points && { points: points.map(([x, y]) => [-x || 0, y]) }),
  };
}

/**
 * The states of numbers after a run was turned: a thickness goes with the medium, which now lies after the next surface. Undefined where
 * there are none.
 */
export function turnedStates({ parameters }: Project, lens: Lens, first: number, last: number): Project['parameters'] {
  if (!parameters) return undefined;
  const renamed = new Map<string, string>();
  for (let k = first; k < last; k++) renamed.set(`${at(lens, k)}.thickness`, `${at(lens, k + 1)}.thickness`);
  const rename = (text: string) =>
    text.replace(/lenses\.\w+\.surfaces\.\w+\.thickness/g, (address) => renamed.get(address) ?? address);
  return Object.fromEntries(
    Object.entries(parameters).map(([address, state]): [string, ParameterState] => [
      renamed.get(address) ?? address,
      state.kind === 'linked'
        ? { ...state, formula: rename(state.formula) }
        : state.kind === 'derived'
          ? { ...state, equals: rename(state.equals) }
          : state,
    ]),
  );
}

function at(lens: Lens, index: number): string {
  return `lenses.${lens.id}.surfaces.${lens.surfaces[index].id}`;
}
