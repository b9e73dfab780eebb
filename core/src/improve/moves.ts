import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { reachableSquare, triangleOf } from '../math/triangle.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { operate } from '../operations/operation.ts';
import { findOperation } from '../operations/registry.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { embedMaterial } from '../project/embed-material.ts';
import { isSolid, removeElement, surfaceTitle } from '../project/lens-edits.ts';
import type { Lens, ParameterStates, Project, Surface } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import { shapeNumbers } from '../shapes/registry.ts';
import { polishToEnd, type PolishEnd } from './polish.ts';
import { MeritProblem } from './problem.ts';
import { nearestGlasses } from './nearest-glasses.ts';

/** What can be tried on the form of a lens. */
export const MOVE_KINDS = ['glass', 'split', 'asphere', 'cement', 'drop', 'flip'] as const;
export type MoveKind = (typeof MOVE_KINDS)[number];

export interface MoveOptions {
  readonly lens: string;
  readonly kinds: readonly MoveKind[];
  /** Ids of the glasses that may take another's place. */
  readonly shortlist: readonly string[];
}

/** A change of the form, and what a polish made of it. */
export interface TriedMove {
  readonly kind: MoveKind;
  readonly title: string;
  /** The merit behind it; null where it could not be polished, and why. */
  readonly merit: number | null;
  readonly why?: string;
  /** Share of the merit of the form as it is, polished alike: −0.2 for a fifth less. */
  readonly gain: number | null;
  readonly project: Project | null;
}

/** How trials of moves stand. */
export interface MovesState {
  readonly done: number;
  readonly of: number;
  /** The merit of the form as it is, polished alike. */
  readonly base: number;
  /** Best first; those that failed last. */
  readonly tried: readonly TriedMove[];
}

interface Move {
  readonly kind: MoveKind;
  readonly title: string;
  readonly project: Project;
}

/** Nearest glasses that each element is tried in, and aspheres and aspheric powers that are tried. */
const NEIGHBOURS = 6;
const ASPHERES = 4;
const POWERS = ['a4', 'a6', 'a8'] as const;
/** Elements that are tried to be left out: the weakest. */
const WEAKEST = 2;
/** Those that are polished further, and with what. */
const DEEPER = 6;
const QUICK = { gain: 1e-4, slow: 0.05, evaluations: 40 } as const;
/** What changes the form is further from its minimum than what changes a glass. */
const LONGER = { gain: 1e-4, slow: 0.02, evaluations: 160 } as const;
const DEEP = { gain: 1e-5, slow: 0.02, evaluations: 200 } as const;

/**
 * Tries changes of the form of a lens, one at a time, each polished as the form as it is was: every element in neighbouring glasses, split in two,
 * flipped, or left out, pairs cemented, aspheres where the derivatives promise most. Yields after each. Fails where nothing can be polished.
 */
export function* tryMoves(
  project: Project,
  evaluate: FormulaEvaluator | null,
  options: MoveOptions,
): Generator<MovesState, Outcome<MovesState>, void> {
  const started = polishToEnd(project, evaluate, DEEP);
  if (!started.ok) return started;
  const from = started.value.project;
  const base = started.value.merit;
  const moves = options.kinds.flatMap((kind) => MAKERS[kind](from, options, evaluate));
  if (moves.length === 0) return failure('This kind of change does not apply to this lens.');
  let tried: TriedMove[] = [];
  const state = (): MovesState => ({ done: tried.length, of: moves.length, base, tried: ranked(tried) });
  for (const move of moves) {
    tried.push(triedOf(move, polishToEnd(move.project, evaluate, move.kind === 'glass' ? QUICK : LONGER), base));
    yield state();
  }
  // What looks best after a short polish is worth a longer one.
  for (const one of ranked(tried).slice(0, DEEPER)) {
    if (!one.project) continue;
    const deeper = triedOf({ ...one, project: one.project }, polishToEnd(one.project, evaluate, DEEP), base);
    if (deeper.merit !== null) tried = tried.map((other) => (other === one ? deeper : other));
    yield state();
  }
  return success(state());
}

const ranked = (tried: readonly TriedMove[]) =>
  [...tried].sort((a, b) => (a.merit ?? Infinity) - (b.merit ?? Infinity));

function triedOf({ kind, title }: Move, end: Outcome<PolishEnd>, base: number): TriedMove {
  if (!end.ok) return { kind, title, merit: null, why: end.reason, gain: null, project: null };
  const { merit, project } = end.value;
  return { kind, title, merit, gain: merit / base - 1, project };
}

type Maker = (project: Project, options: MoveOptions, evaluate: FormulaEvaluator | null) => Move[];

const MAKERS: Readonly<Record<MoveKind, Maker>> = {
  glass: (project, { lens: id, shortlist }) => {
    const lens = lensOf(project, id);
    return fronts(project, lens).flatMap(({ surface }) => {
      const now = project.materials.find((one) => one.id === surface.after!.material)!;
      const others = shortlist.flatMap((one) => catalogueMaterial(one) ?? []).filter((one) => one.id !== now.id);
      return nearestGlasses(now, others)
        .slice(0, NEIGHBOURS)
        .map((glass) =>
          moved(project, 'glass', `${named(surface)} of ${glass.label}`, [
            ...embedMaterial(project, glass),
            { kind: 'set', path: `lenses.${id}.surfaces.${surface.id}.after.material`, value: glass.id },
          ]),
        );
    });
  },

  split: (project, { lens: id }) =>
    singles(project, lensOf(project, id)).flatMap(({ surface, back }) =>
      operated(project, id, 'split', 'split_element', surface, back, `split ${named(surface)} in two`),
    ),

  flip: (project, { lens: id }) =>
    singles(project, lensOf(project, id)).flatMap(({ surface, back }) =>
      operated(project, id, 'flip', 'flip', surface, back, `flip ${named(surface)}`),
    ),

  drop: (project, { lens: id }) => {
    const lens = lensOf(project, id);
    const all = singles(project, lens);
    if (all.length < 2) return [];
    const weak = all
      .filter(({ surface, back }) => surface.id !== lens.stop && back.id !== lens.stop)
      .sort((a, b) => Math.abs(a.bend) - Math.abs(b.bend))
      .slice(0, WEAKEST);
    return weak.flatMap(({ surface }) => {
      const gesture = removeElement(project, lens, surface.id);
      return gesture.ok ? [moved(project, 'drop', `without ${named(surface)}`, gesture.value.edits)] : [];
    });
  },

  cement: (project, { lens: id }) => {
    const lens = lensOf(project, id);
    return lens.surfaces.flatMap((back, j): Move[] => {
      const front = lens.surfaces[j + 1];
      const pair =
        isSolid(project, lens.surfaces[j - 1]?.after ?? null) &&
        !isSolid(project, back.after) &&
        isSolid(project, front?.after ?? null);
      if (!pair || [back.id, front.id].includes(lens.stop ?? '') || !isSphere(back) || !isSphere(front)) return [];
      const [c1, c2] = [back, front].map(({ shape }) => 1 / shapeNumbers(shape).radius);
      const path = `lenses.${id}.surfaces`;
      const behind = front.after!;
      return [
        moved(project, 'cement', `cement ${named(lens.surfaces[j - 1])} and ${named(front)}`, [
          { kind: 'set', path: `${path}.${back.id}.shape`, value: sphere((c1 + c2) / 2) },
          { kind: 'set', path: `${path}.${back.id}.after`, value: behind },
          { kind: 'remove', list: path, id: front.id },
        ]),
      ];
    });
  },

  asphere: (project, { lens: id }, evaluate) => {
    const promised = promisedAspheres(project, lensOf(project, id), evaluate);
    return promised.slice(0, ASPHERES).map(({ surface, index }) =>
      moved(
        project,
        'asphere',
        `${surfaceTitle(lensOf(project, id), index)} aspheric`,
        [{ kind: 'set', path: `lenses.${id}.surfaces.${surface.id}.shape`, value: aspheric(surface) }],
        POWERS.map((power) => `lenses.${id}.surfaces.${surface.id}.${power}`),
      ),
    );
  },
};

const lensOf = (project: Project, id: string): Lens => project.lenses.find((lens) => lens.id === id)!;
const named = ({ id, after }: Surface) => after?.name ?? id;
const isSphere = ({ shape }: Surface) => shape.kind === 'plane' || shape.kind === 'sphere';
const sphere = (c: number) => ({ kind: 'sphere', radius: c === 0 ? 'infinity' : 1 / c });

interface Front {
  readonly surface: Surface;
  readonly back: Surface;
  /** Difference of its curvatures, 1/mm. */
  readonly bend: number;
}

/** The fronts of all solid media. */
function fronts(project: Project, { surfaces }: Lens): Front[] {
  return surfaces.flatMap((surface, j) => {
    if (!isSolid(project, surface.after) || surface.reflects) return [];
    const back = surfaces[j + 1];
    const [c1, c2] = [surface, back].map(({ shape }) => 1 / shapeNumbers(shape).radius);
    return [{ surface, back, bend: c1 - c2 }];
  });
}

/** The fronts of elements that are not cemented to another. */
function singles(project: Project, lens: Lens): Front[] {
  return fronts(project, lens).filter(({ surface, back }) => {
    const before = lens.surfaces[lens.surfaces.indexOf(surface) - 1]?.after ?? null;
    return !isSolid(project, before) && !isSolid(project, back.after);
  });
}

/** A move by an operation; none where it cannot be done. */
function operated(
  project: Project,
  lens: string,
  kind: MoveKind,
  operation: string,
  front: Surface,
  back: Surface,
  title: string,
): Move[] {
  const done = operate(findOperation(operation)!, project, lens, [front.id, kind === 'flip' ? back.id : front.id], {});
  return done.ok ? [moved(project, kind, title, done.value.edits)] : [];
}

/** A project with a move made: what came new is as free as what was there, and what has gone is no number any more. */
function moved(
  project: Project,
  kind: MoveKind,
  title: string,
  edits: readonly Edit[],
  free: readonly string[] = [],
): Move {
  const { parameters: given = {}, ...next } = applyEdits(project, edits).project;
  const addresses = Object.keys(project.parameters ?? {}).filter(
    (address) => project.parameters![address].kind === 'free',
  );
  const states: Record<string, ParameterStates[string]> = Object.fromEntries(
    free.map((address) => [address, { kind: 'free' }]),
  );
  for (const lens of next.lenses) {
    const known = new Set(lensOf(project, lens.id).surfaces.map(({ id }) => id));
    for (const number of ['radius', 'thickness'])
      if (addresses.some((address) => address.startsWith(`lenses.${lens.id}.`) && address.endsWith(`.${number}`)))
        for (const { id } of lens.surfaces)
          if (!known.has(id)) states[`lenses.${lens.id}.surfaces.${id}.${number}`] = { kind: 'free' };
  }
  const parameters = Object.fromEntries(
    Object.entries({ ...given, ...states }).filter(([address]) => findParameter(next, address).ok),
  );
  return { kind, title, project: { ...next, parameters } };
}

/** The same surface as one that can be turned into an asphere. */
function aspheric({ shape }: Surface) {
  const { radius, conic } = shapeNumbers(shape);
  return { kind: 'even_asphere', radius: Number.isFinite(radius) ? radius : 'infinity', conic, a4: 0, a6: 0, a8: 0 };
}

/**
 * Surfaces that could be aspheres, those first of which the derivatives promise most: all made so at once, with powers of 0 that change
 * nothing.
 */
function promisedAspheres(
  project: Project,
  lens: Lens,
  evaluate: FormulaEvaluator | null,
): { readonly surface: Surface; readonly index: number }[] {
  const able = lens.surfaces.flatMap((surface, index) => {
    const solid = isSolid(project, surface.after) || isSolid(project, lens.surfaces[index - 1]?.after ?? null);
    return surface.after && (solid || surface.reflects) && (isSphere(surface) || surface.shape.kind === 'conic')
      ? [{ surface, index }]
      : [];
  });
  const surfaces = lens.surfaces.map((surface) =>
    able.some((one) => one.surface === surface)
      ? { ...surface, shape: aspheric(surface) as Surface['shape'] }
      : surface,
  );
  const all = { ...project, lenses: project.lenses.map((one) => (one === lens ? { ...lens, surfaces } : one)) };
  const addresses = able.flatMap(({ surface }) =>
    POWERS.map((power) => `lenses.${lens.id}.surfaces.${surface.id}.${power}`),
  );
  const made = MeritProblem.of(
    {
      ...all,
      parameters: {
        ...project.parameters,
        ...Object.fromEntries(addresses.map((address) => [address, { kind: 'free' as const }])),
      },
    },
    evaluate,
  );
  if (!made.ok) return [];
  const problem = made.value;
  const values = problem.values(problem.start)!;
  for (const i of problem.oneSided) if (values[i] < 0) values[i] = 0;
  const columns = problem
    .columns(problem.start)
    .map((column) => column.map((slope, i) => (problem.oneSided.includes(i) && values[i] === 0 ? 0 : slope)));
  const columnAt = new Map(problem.numbers.map(({ address }, k) => [address, columns[k]]));
  const own = problem.numbers.flatMap(({ address }, k) => (addresses.includes(address) ? [] : [columns[k]]));
  const gains = able.map((one, k) => {
    const more = POWERS.map((_, p) => columnAt.get(addresses[POWERS.length * k + p])!);
    return { ...one, gain: reachableSquare(triangleOf([...own, ...more], values)) };
  });
  return gains.sort((a, b) => b.gain - a.gain);
}
