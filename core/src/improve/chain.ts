import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import { inState, splitStateAddress } from '../project/states.ts';
import { solverVariable, type SolverVariable } from '../sequence/solver-variable.ts';
import type { FreeNumber } from './free-numbers.ts';

/** How what rays are differentiated by changes with the free numbers. */
export interface Chain {
  readonly variables: SolverVariable[];
  /** By free number: variables with their shares; null where they do not say all that it does. */
  readonly by: readonly ((readonly [variable: number, share: number])[] | null)[];
}

/** What a chain is made of: a lens as it is seen in a state, and the free numbers. */
export interface ChainLinks {
  readonly numbers: readonly FreeNumber[];
  readonly state: string;
  /** The project, and as it is seen in the state. */
  readonly project: Project;
  readonly seen: Project;
  readonly lens: LensEvaluation;
  /** The project with one number a small way off; null in place of this where nothing follows from other numbers. */
  readonly moved: ((v: number) => Project | null) | null;
}

/** How the numbers of a lens in a state, as rays are differentiated by them, change with each free number; null where they do not say all. */
export function chainOf({ numbers, state, project, seen, lens, moved }: ChainLinks): Chain {
  const of = lens.model.lens.id;
  const variables: SolverVariable[] = [];
  const index = new Map<string, number>();
  const use = (address: string): number | null => {
    const known = index.get(address);
    if (known !== undefined) return known;
    const variable = solverVariable(lens.model, address);
    if (!variable.ok) return null;
    index.set(address, variables.push(variable.value) - 1);
    return variables.length - 1;
  };
  const inLens = `lenses.${of}.`;
  const by = numbers.map(({ address, small }, v) => {
    if (!moved) {
      const split = splitStateAddress(address);
      const own = split ? split.address : address;
      // What differs in the state does not follow the design; what is of another state says nothing here.
      const differs =
        project.states?.find(({ id }) => id === state)?.overrides.some((one) => one.address === own) ?? false;
      if (split ? split.state !== state : differs) return [];
      if (!own.startsWith(inLens)) return own.startsWith('lenses.') ? [] : null;
      const variable = use(own);
      return variable === null ? null : [[variable, 1] as const];
    }
    const there = moved(v);
    const seenThere = there && (state === 'designed' ? there : stateOf(there, state));
    if (!seenThere) return null;
    const parts: (readonly [number, number])[] = [];
    for (const changed of changedNumbers(seen, seenThere, of)) {
      const variable = use(changed.address);
      if (variable === null) return null;
      parts.push([variable, changed.by / small]);
    }
    return parts;
  });
  return { variables, by };
}

function stateOf(project: Project, state: string): Project | null {
  const seen = inState(project, state);
  return seen.ok ? seen.value : null;
}

/** Numbers of the surfaces of a lens in which two versions of a project differ, as solvers see them. */
function changedNumbers(before: Project, after: Project, lensId: string): { address: string; by: number }[] {
  const [one, other] = [before, after].map(({ lenses }) => lenses.find(({ id }) => id === lensId)!);
  if (one === other) return [];
  const found: { address: string; by: number }[] = [];
  // What is no number of a surface: differences have to say what it does.
  for (const key of ['object', 'aperture', 'pupil', 'fields', 'wavelengths'] as const)
    if (JSON.stringify(one[key]) !== JSON.stringify(other[key]))
      found.push({ address: `lenses.${lensId}.${key}`, by: 0 });
  const addresses = (surface: string, id: string) => `lenses.${lensId}.surfaces.${surface}.${id}`;
  one.surfaces.forEach((surface, j) => {
    const moved = other.surfaces[j];
    if (surface === moved) return;
    const names = [
      ...Object.keys(surface.shape),
      ...Object.keys(moved.shape),
      'thickness',
      ...['dx', 'dy', 'dz', 'tx', 'ty', 'tz'].flatMap((id) => [id, `behind.${id}`]),
      ...Object.keys(surface.phase ?? {}).map((id) => `phase.${id}`),
    ];
    for (const name of new Set(names)) {
      const [was, is] = [before, after].map((project) => findParameter(project, addresses(surface.id, name)));
      if (!was.ok || !is.ok || was.value.value === is.value.value) continue;
      const turned = was.value.spec.transform === 'reciprocal';
      const by = turned ? 1 / is.value.value - 1 / was.value.value : is.value.value - was.value.value;
      found.push({ address: addresses(surface.id, name), by });
    }
  });
  return found;
}
