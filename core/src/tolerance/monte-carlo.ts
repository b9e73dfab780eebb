import { success, type Outcome } from '../math/outcome.ts';
import { RandomStream } from '../math/random.ts';
import type { Project } from '../project/model.ts';
import type { Tolerance } from '../project/tolerances.ts';
import { DepartureDraws, drawnTolerances, type DrawnTolerance } from '../tolerances/drawn.ts';
import type { Departure } from '../tolerances/perturb.ts';
import type { LotTrial } from './lot-summary.ts';
import { madeAndSet } from './compensate.ts';
import { tryOut, valueOf, type DesignStand, type StudyInput, type Trial } from './one-by-one.ts';

/** What is made at random. */
export interface Lot extends StudyInput {
  readonly seed: number;
}

/** Draws the departures of any trial of a lot. Those of a trial do not depend on which others are drawn. */
export class LotDraws {
  readonly #drawn: readonly DrawnTolerance[];
  readonly #draws: DepartureDraws;
  readonly #seed: number;

  private constructor(drawn: readonly DrawnTolerance[], seed: number) {
    this.#drawn = drawn;
    this.#draws = new DepartureDraws(drawn);
    this.#seed = seed;
  }

  /** Fails for limits and distributions that cannot be, with the id of the tolerance. Those that are off are not drawn. */
  static of(tolerances: readonly Tolerance[], seed: number): Outcome<LotDraws> {
    const drawn = drawnTolerances(tolerances);
    return drawn.ok ? success(new LotDraws(drawn.value, seed)) : drawn;
  }

  /** The departures of a trial, a whole number from 0. */
  of(trial: number): Departure[] {
    const departures: Departure[] = [];
    this.#draws.draw(new RandomStream(this.#seed, trial), (i, by) =>
      departures.push({ of: this.#drawn[i].tolerance, by }),
    );
    return departures;
  }
}

/**
 * Makes and evaluates trials of a lot, one after another; each is compensated. The same seed gives the same trials, whichever of them are made
 * where. Yields each trial, and returns the values of the design, compensated, by watched measure.
 *
 * Fails for tolerances that cannot be drawn, or where the design itself cannot be compensated.
 *
 * @param from - number of the first trial
 * @param to - number after the last one
 */
export function* makeTrials(lot: Lot, from: number, to: number): Generator<LotTrial, Outcome<DesignStand>, void> {
  const { project, tolerances, compensators, watched, seed } = lot;
  const draws = LotDraws.of(tolerances, seed);
  if (!draws.ok) return draws;
  const design = tryOut(project, [], compensators, watched);
  if (!design.ok) return design;
  for (let trial = from; trial < to; trial++) {
    const version = withRaysOf(project, seed, trial);
    yield lotTrial(
      trial,
      tryOut(version, draws.value.of(trial), compensators, watched, design.value.evaluation),
      design.value,
      watched.length,
    );
  }
  const { values, units } = design.value;
  return success({ values, units });
}

/** The project of a trial, as it is made and set: the one that its values are of. */
export function trialProject({ project, tolerances, compensators, seed }: Lot, trial: number): Outcome<Project> {
  const draws = LotDraws.of(tolerances, seed);
  if (!draws.ok) return draws;
  const made = madeAndSet(withRaysOf(project, seed, trial), draws.value.of(trial), compensators);
  return made.ok ? success(made.value.project) : made;
}

/**
 * A project whose scenes are traced with rays of their own in a trial, so that the noise of a lot is that of independent samples and can be
 * separated from what tolerances do. Without scenes it is the project itself.
 */
function withRaysOf(project: Project, seed: number, trial: number): Project {
  if (!project.scenes?.length) return project;
  const own = Math.floor(new RandomStream((seed ^ RAYS) >>> 0, trial).uniform() * 2 ** 31);
  return {
    ...project,
    scenes: project.scenes.map((scene) => ({ ...scene, sampling: { ...scene.sampling, seed: own } })),
  };
}

/** What tells the streams of rays from those of departures. */
const RAYS = 0x9e3779b9;

function lotTrial(trial: number, made: Outcome<Trial>, design: Trial, count: number): LotTrial {
  const values = Array.from({ length: count }, (_, k) => valueOf(made, k, design));
  const lost = values.find((value) => !value.ok);
  return {
    trial,
    values: values.map((value) => (value.ok ? value.value : null)),
    ...(lost && !lost.ok && { reason: lost.reason }),
    moved: made.ok ? made.value.moved : [],
    ...(made.ok && made.value.errors.some((error) => error !== null) && { errors: made.value.errors }),
  };
}
