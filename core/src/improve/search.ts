import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, type Outcome } from '../math/outcome.ts';
import { evenPoints } from '../math/even-points.ts';
import { RandomStream } from '../math/random.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import { indexIn } from '../materials/material.ts';
import { STANDARD } from '../materials/air.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { embedMaterial } from '../project/embed-material.ts';
import { isSolid } from '../project/lens-edits.ts';
import type { Project } from '../project/model.ts';
import { freeNumbers, NumberWriter } from './free-numbers.ts';
import { nearestGlasses } from './nearest-glasses.ts';
import { polishToEnd, type PolishEnd } from './polish.ts';
import { glassShortlist } from './shortlist.ts';

/**
 * How a search gets from one minimum to the next: `hop` by a random step of all free numbers, `deform` by a polish of a merit with other weights of
 * fields, colours and goals and another aperture, in which the minimum is none, `cross` by the difference of two candidates added to a third.
 */
export const SEARCH_WAYS = ['hop', 'deform', 'cross'] as const;
export type SearchWay = (typeof SEARCH_WAYS)[number];

/** How a search goes about it. */
export interface SearchOptions {
  /** The same seed gives the same run. */
  readonly seed: number;
  /** Points in the bounds from which it starts beside the project itself; 0 for hops from there alone. */
  readonly starts: number;
  /** Media that may be exchanged, by the ids of the surfaces in front of them, and the ids of materials that may take their place. */
  readonly glass?: {
    readonly lens: string;
    readonly surfaces: readonly string[];
    readonly shortlist: readonly string[];
  };
  /** Ways that are gone, each as often as the others; all when left out. */
  readonly ways?: readonly SearchWay[];
  /** Candidates that are kept. */
  readonly keep?: number;
}

/** A lens that a search has found. */
export interface Candidate {
  readonly id: number;
  readonly merit: number;
  readonly project: Project;
  /** Glasses of the media that may be exchanged. */
  readonly glasses: readonly string[];
  /** How it was come by. */
  readonly by: SearchWay | 'start' | 'glass' | 'given';
}

/** How a search stands after a trial. */
export interface SearchState {
  readonly trials: number;
  readonly evaluations: number;
  /** Distinct candidates, best first. */
  readonly gallery: readonly Candidate[];
}

const KEEP = 12;
/** Shares of aperture and field through which a start is opened, so that all rays arrive on the way. */
const STAGES = [0.3, 0.55, 0.8, 1];
/** Merits nearer to each other than this share are those of one lens, if its glasses are the same. */
const SAME = 0.004;
/** Share of trials that exchange a glass where any may be. */
const GLASS_SHARE = 0.5;
/** Nearest neighbours among which a glass is exchanged, and how often any other is taken. */
const NEIGHBOURS = 8;
const FAR_SHARE = 0.15;
/** Share of exchanges that exchange two. */
const PAIR_SHARE = 0.25;
const D_LINE = 587.5618;

const QUICK = { gain: 1e-4, slow: 0.15, evaluations: 45 } as const;
const DEEP = { gain: 1e-5, slow: 0.02, evaluations: 220 } as const;

/**
 * Looks for better lenses across minima: polished starts from points spread evenly over the bounds, then on from what was found, by one of the ways
 * or by an exchange of one glass, each polished again. Random steps: D. J. Wales, J. P. K. Doye, J. Phys. Chem. A 101, 5111 (1997); differences:
 * R. Storn, K. Price, J. Global Optim. 11, 341 (1997). It never ends by itself: it yields after every trial, and holds no more than the gallery.
 */
export function* search(
  project: Project,
  evaluate: FormulaEvaluator | null,
  options: SearchOptions,
): Generator<SearchState, Outcome<never>, void> {
  const stream = new RandomStream(options.seed, 0);
  const random = () => stream.uniform();
  const gallery = new Gallery(options.keep ?? KEEP);
  const spread = evenPoints(random(), freeNumbers(project).length);
  const ways = options.ways && options.ways.length > 0 ? options.ways : SEARCH_WAYS;
  let [trials, evaluations] = [0, 0];
  const state = (): SearchState => ({ trials, evaluations, gallery: gallery.candidates });
  const take = (made: Outcome<PolishEnd>, by: Candidate['by']) => {
    trials++;
    if (!made.ok) return false;
    evaluations += made.value.evaluations;
    return gallery.add(made.value, glassesOf(made.value.project, options), by);
  };
  const given = polishToEnd(project, evaluate, DEEP);
  take(given, 'given');
  if (!given.ok && options.starts === 0) return failure(given.reason);
  yield state();
  for (let start = 0; start < options.starts; start++) {
    let made = startFrom(project, evaluate, spread(start));
    if (made.ok && made.value.merit < 3 * (gallery.best ?? Infinity))
      made = polishToEnd(made.value.project, evaluate, DEEP);
    take(made, 'start');
    yield state();
  }
  for (;;) {
    const from = gallery.pick(random());
    if (!from) return failure('No start was found from which all rays arrive: give bounds, or a better start.');
    const byGlass = (options.glass?.surfaces.length ?? 0) > 0 && random() < GLASS_SHARE;
    const way = ways[Math.floor(random() * ways.length)];
    const moved = byGlass
      ? exchanged(from.project, options.glass!, random)
      : WAYS[way](from, gallery, evaluate, random);
    let made = moved && polishToEnd(moved, evaluate, QUICK);
    if (made?.ok && made.value.merit < 1.15 * from.merit) made = polishToEnd(made.value.project, evaluate, DEEP);
    if (made) take(made, byGlass ? 'glass' : way);
    else trials++;
    yield state();
  }
}

/** Whether two candidates are one lens, as far as their merits and glasses say. */
export function isSameLens(
  one: Pick<Candidate, 'merit' | 'glasses'>,
  other: Pick<Candidate, 'merit' | 'glasses'>,
): boolean {
  return Math.abs(one.merit / other.merit - 1) < SAME && one.glasses.join() === other.glasses.join();
}

/** Distinct candidates, best first. */
class Gallery {
  readonly #keep: number;
  #next = 1;
  candidates: readonly Candidate[] = [];

  constructor(keep: number) {
    this.#keep = keep;
  }

  get best(): number | null {
    return this.candidates[0]?.merit ?? null;
  }

  /** Takes a lens in, if it is new or better than its like; true where it did. */
  add({ merit, project }: PolishEnd, glasses: readonly string[], by: Candidate['by']): boolean {
    if (!Number.isFinite(merit)) return false;
    const like = this.candidates.find((one) => isSameLens(one, { merit, glasses }));
    if (like && like.merit <= merit) return false;
    const rest = this.candidates.filter((one) => one !== like);
    const all = [...rest, { id: this.#next++, merit, project, glasses, by }].sort((a, b) => a.merit - b.merit);
    const before = this.candidates;
    this.candidates = all.slice(0, this.#keep);
    return this.candidates.some((one) => !before.includes(one));
  }

  /** One of them, the better the likelier, by a number from 0 to 1. */
  pick(at: number): Candidate | null {
    return this.candidates[Math.floor(this.candidates.length * at * at * at)] ?? null;
  }
}

/** A project with all free numbers somewhere in their bounds, opened step by step. */
function startFrom(project: Project, evaluate: FormulaEvaluator | null, point: readonly number[]): Outcome<PolishEnd> {
  const numbers = freeNumbers(project);
  const writer = new NumberWriter(project, numbers);
  const x = numbers.map(({ start, lower, upper, spec }, j) => {
    if (Number.isFinite(lower) && Number.isFinite(upper)) return lower + (upper - lower) * point[j];
    const reach = spec.transform === 'reciprocal' ? Math.max(Math.abs(start), 0.02) : 0.4 * Math.abs(start);
    return Math.min(upper, Math.max(lower, start + reach * (2 * point[j] - 1)));
  });
  const written = writer.write(project, x);
  if (!written.ok) return written;
  let now = written.value;
  let made: Outcome<PolishEnd> = failure('nothing was tried');
  for (const share of STAGES) {
    made = polishToEnd(opened(now, share, project), evaluate, QUICK);
    if (!made.ok) return made;
    now = opened(made.value.project, 1, project);
  }
  return made;
}

/** A project with its lenses at a share of the apertures and fields that another version has. */
function opened(project: Project, share: number, full: Project): Project {
  return {
    ...project,
    lenses: project.lenses.map((lens, k) => {
      const { aperture, fields } = full.lenses[k];
      const inverse = aperture.kind.includes('f_number');
      const points = fields.points.map((point) => ({ ...point, x: point.x * share, y: point.y * share }));
      return {
        ...lens,
        aperture: { ...aperture, value: inverse ? aperture.value / share : aperture.value * share },
        fields: { ...fields, points },
      };
    }),
  };
}

type Way = (
  from: Candidate,
  gallery: Gallery,
  evaluate: FormulaEvaluator | null,
  random: () => number,
) => Project | null;

const WAYS: Readonly<Record<SearchWay, Way>> = {
  hop: ({ project }, _gallery, _evaluate, random) => hopped(project, random),
  deform: ({ project }, _gallery, evaluate, random) => deformed(project, evaluate, random),
  cross: ({ project }, gallery, _evaluate, random) =>
    crossed(project, gallery.candidates, random) ?? hopped(project, random),
};

/** How far weights and apertures are moved where the merit is deformed: by factors up to these, up or down. */
const WEIGHTS = 6;
const APERTURES = 1.25;

/** Where a polish of another merit leads: weights of fields, colours and goals, and the aperture, are drawn anew, and put back behind it. */
function deformed(project: Project, evaluate: FormulaEvaluator | null, random: () => number): Project | null {
  const factor = (most: number) => most ** (2 * random() - 1);
  const other: Project = {
    ...project,
    goals: (project.goals ?? []).map((goal) => ({ ...goal, weight: goal.weight * factor(WEIGHTS) })),
    lenses: project.lenses.map((lens) => ({
      ...lens,
      aperture: { ...lens.aperture, value: lens.aperture.value * factor(APERTURES) },
      fields: {
        ...lens.fields,
        points: lens.fields.points.map((point) => ({ ...point, weight: point.weight * factor(WEIGHTS) })),
      },
      wavelengths: lens.wavelengths.map((one) => ({ ...one, weight: one.weight * factor(WEIGHTS) })),
    })),
  };
  const made = polishToEnd(other, evaluate, QUICK);
  if (!made.ok) return null;
  const lenses = made.value.project.lenses.map((lens, k) => {
    const { aperture, fields, wavelengths } = project.lenses[k];
    return { ...lens, aperture, fields, wavelengths };
  });
  return { ...made.value.project, goals: project.goals ?? [], lenses };
}

/** A candidate with the difference of two others added to some of its free numbers; null where there are too few. */
function crossed(project: Project, candidates: readonly Candidate[], random: () => number): Project | null {
  const others = candidates.filter((one) => one.project !== project);
  if (others.length < 3) return null;
  const [one, other] = [others, others].map((list) => freeNumbers(list[Math.floor(random() * list.length)].project));
  const numbers = freeNumbers(project);
  const share = 0.4 + 0.5 * random();
  const x = numbers.map(({ start, lower, upper }, j) => {
    const step = random() < 0.8 ? share * (one[j].start - other[j].start) : 0;
    return Math.min(upper, Math.max(lower, start + step));
  });
  if (x.every((value, j) => value === numbers[j].start)) return null;
  const written = new NumberWriter(project, numbers).write(project, x);
  return written.ok ? written.value : null;
}

/** A random step of all free numbers, of a size that is itself drawn. */
function hopped(project: Project, random: () => number): Project | null {
  const numbers = freeNumbers(project);
  const size = 0.02 * 15 ** random();
  const typical = Math.max(
    ...numbers.map(({ spec, start }) => (spec.transform === 'reciprocal' ? Math.abs(start) : 0)),
    1e-4,
  );
  const x = numbers.map(({ start, lower, upper, spec }) => {
    const scale =
      spec.transform === 'reciprocal' ? Math.max(Math.abs(start), 0.3 * typical) : Math.max(Math.abs(start), 0.2);
    const gauss = Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    return Math.min(upper, Math.max(lower, start + size * scale * gauss));
  });
  const written = new NumberWriter(project, numbers).write(project, x);
  return written.ok ? written.value : null;
}

/** One medium, or now and then two, filled with a neighbour of its glass in the map, or now and then with any other of the shortlist. */
function exchanged(
  project: Project,
  choice: NonNullable<SearchOptions['glass']>,
  random: () => number,
): Project | null {
  const { lens, surfaces } = choice;
  const first = surfaces[Math.floor(random() * surfaces.length)];
  const once = exchangedAt(project, lens, first, choice.shortlist, random);
  if (!once || surfaces.length < 2 || random() >= PAIR_SHARE) return once;
  const others = surfaces.filter((id) => id !== first);
  return exchangedAt(once, lens, others[Math.floor(random() * others.length)], choice.shortlist, random) ?? once;
}

/** A medium filled with another glass; its free faces toward air are bent so that its power stays. */
function exchangedAt(
  project: Project,
  lensId: string,
  id: string,
  shortlist: readonly string[],
  random: () => number,
): Project | null {
  const lens = project.lenses.find((one) => one.id === lensId);
  const j = lens?.surfaces.findIndex((one) => one.id === id) ?? -1;
  const surface = lens?.surfaces[j];
  const now = project.materials.find((one) => one.id === surface?.after?.material);
  if (!lens || !surface?.after || !now) return null;
  const known = shortlist.flatMap(
    (one) => catalogueMaterial(one) ?? project.materials.find((own) => own.id === one) ?? [],
  );
  const others = nearestGlasses(
    now,
    known.filter((one) => one.id !== now.id),
  );
  if (others.length === 0) return null;
  const among = random() < FAR_SHARE ? others.length : Math.min(NEIGHBOURS, others.length);
  const glass = others[Math.floor(random() * among)];
  const bend = (indexIn(glass, D_LINE, STANDARD) - 1) / (indexIn(now, D_LINE, STANDARD) - 1);
  const back = lens.surfaces[j + 1];
  const faces = [
    ...(isSolid(project, lens.surfaces[j - 1]?.after ?? null) ? [] : [surface]),
    ...(back && !isSolid(project, back.after) ? [back] : []),
  ];
  const edits: Edit[] = [
    ...embedMaterial(project, glass),
    { kind: 'set', path: `lenses.${lensId}.surfaces.${id}.after.material`, value: glass.id },
    ...faces.flatMap(({ id: face, shape }): Edit[] => {
      const free = project.parameters?.[`lenses.${lensId}.surfaces.${face}.radius`]?.kind === 'free';
      if (!free || !('radius' in shape) || shape.radius === 'infinity') return [];
      return [{ kind: 'set', path: `lenses.${lensId}.surfaces.${face}.shape.radius`, value: shape.radius * bend }];
    }),
  ];
  return applyEdits(project, edits).project;
}

function glassesOf(project: Project, { glass }: SearchOptions): string[] {
  const lens = project.lenses.find(({ id }) => id === glass?.lens);
  return (glass?.surfaces ?? []).map((id) => lens?.surfaces.find((one) => one.id === id)?.after?.material ?? '');
}

/** Glasses of the catalogue, for a shortlist that leaves none out. */
export const allGlasses = (): readonly string[] => glassShortlist({});
