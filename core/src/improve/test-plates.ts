import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { Edit } from '../project/edit.ts';
import type { TestPlate } from '../project/improve.ts';
import { surfaceTitle } from '../project/lens-edits.ts';
import type { Lens, Project } from '../project/model.ts';
import { versionOf } from '../relations/version.ts';
import { freeNumbers } from './free-numbers.ts';
import { squareSum } from './image-rows.ts';
import { followsOthers, radiusAddress, toldRadius, withoutState, type MakingCheck } from './making-checks.ts';
import { polishToEnd } from './polish.ts';
import { MeritProblem } from './problem.ts';
import { meritStand } from './stand.ts';

/** Radii nearer to a plate than this share are its own: what is left are digits. */
export const ON_PLATE = 2e-6;
const QUICK = { gain: 1e-4, slow: 0.05, evaluations: 40 } as const;
const DEEP = { gain: 1e-5, slow: 0.02, evaluations: 200 } as const;

/** A radius that was given to a plate. */
export interface FittedPlate {
  readonly surface: string;
  readonly title: string;
  readonly from: number;
  readonly to: number;
  readonly plate: TestPlate;
  /** The merit behind it, all that is still free polished again. */
  readonly merit: number;
}

/** How a fit stands. */
export interface PlateFit {
  readonly done: number;
  readonly of: number;
  /** The merit before, polished. */
  readonly before: number;
  readonly merit: number;
  readonly fitted: readonly FittedPlate[];
  readonly project: Project;
}

/** The plate next to a radius by the share that it is off; null where the list is empty. */
export function nearestPlate(plates: readonly TestPlate[], radius: number): TestPlate | null {
  const wanted = Math.abs(radius);
  let [low, high] = [0, plates.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (plates[middle].radius < wanted) low = middle + 1;
    else high = middle;
  }
  const [below, above] = [plates[low - 1], plates[low]];
  if (!below || !above) return below ?? above ?? null;
  return wanted / below.radius <= above.radius / wanted ? below : above;
}

/** Radii of spheres that a plate tests, by surface: those that follow from others are of the one they follow. */
function testedRadii(
  project: Project,
  lens: Lens,
): { readonly surface: string; readonly title: string; readonly radius: number }[] {
  return lens.surfaces.flatMap(({ id, shape }, j) => {
    if (shape.kind !== 'sphere' || shape.radius === 'infinity' || followsOthers(project, lens.id, id)) return [];
    return [{ surface: id, title: surfaceTitle(lens, j), radius: shape.radius }];
  });
}

/** A radius set to a plate, and free no more. */
function taken(project: Project, lens: string, surface: string, value: number): Edit[] {
  const path = `lenses.${lens}.surfaces.${surface}.shape.radius`;
  return [{ kind: 'set', path, value }, ...withoutState(project, radiusAddress(lens, surface))];
}

/** Radii that no plate of the project's list tests, each with the next one as its remedy. */
export function plateChecks(project: Project, { model: { lens } }: LensEvaluation): MakingCheck[] {
  const plates = project.testPlates?.plates ?? [];
  return testedRadii(project, lens).flatMap(({ surface, title, radius }): MakingCheck[] => {
    const plate = nearestPlate(plates, radius);
    const off = plate && plate.radius / Math.abs(radius) - 1;
    if (!plate || Math.abs(off!) < ON_PLATE) return [];
    const share = `${off! > 0 ? '+' : '−'}${Math.abs(100 * off!).toPrecision(2)} %`;
    return [
      {
        kind: 'no plate',
        surface,
        text: `${title}, ${toldRadius(radius, 6)} mm: next test plate ${plate.name ? `${plate.name}, ` : ''}${plate.radius} mm, ${share}.`,
        remedy: {
          label: `Give ${title} that plate`,
          edits: taken(project, lens.id, surface, Math.sign(radius) * plate.radius),
        },
      },
    ];
  });
}

/** A radius with the plate next to it. */
interface Place {
  readonly surface: string;
  readonly title: string;
  readonly radius: number;
  readonly plate: TestPlate;
}

/**
 * The radius whose turn it is: near to its plate for how much the merit depends on it. What the merit depends on most
 * goes first, while the others can still make good for it; taking the nearest ones first instead leaves it to the
 * end, where nothing can. Those that are not free go before all.
 */
function dearest(project: Project, evaluate: FormulaEvaluator | null, lens: string, places: readonly Place[]): Place {
  const problem = MeritProblem.of(project, evaluate);
  const columns = problem.ok ? problem.value.columns(problem.value.start) : [];
  const order = ({ surface, radius, plate }: Place) => {
    const k = problem.ok
      ? problem.value.numbers.findIndex(({ address }) => address === radiusAddress(lens, surface))
      : -1;
    // Of the merit, by the share that the radius changes.
    const slope = k < 0 ? Infinity : Math.sqrt(squareSum(columns[k])) / Math.abs(radius);
    return Math.abs(Math.log(plate.radius / Math.abs(radius))) / (slope || 1e-12);
  };
  return places.reduce((best, one) => (order(one) < order(best) ? one : best));
}

/**
 * Gives every radius of a lens to a test plate, one after another: it is then free no more, while all that is still
 * free is polished again to win back what it cost. Yields after each. Fails where there is no list, no radius, or no
 * way to polish at the start.
 */
export function* fitPlates(
  project: Project,
  evaluate: FormulaEvaluator | null,
  lensId: string,
): Generator<PlateFit, Outcome<PlateFit>, void> {
  const plates = project.testPlates?.plates ?? [];
  if (plates.length === 0) return failure('There is no list of test plates: take one in first.');
  const lensOf = (of: Project) => of.lenses.find(({ id }) => id === lensId);
  const lens = lensOf(project);
  if (!lens) return failure('There is no such lens.');
  const left = new Set(testedRadii(project, lens).map(({ surface }) => surface));
  const of = left.size;
  if (of === 0) return failure('No radius of this lens is a sphere of its own.');
  const started = polishToEnd(project, evaluate, DEEP);
  if (!started.ok) return started;
  let now = started.value.project;
  let merit = started.value.merit;
  const fitted: FittedPlate[] = [];
  const state = (): PlateFit => ({
    done: fitted.length,
    of,
    before: started.value.merit,
    merit,
    fitted: [...fitted],
    project: now,
  });
  yield state();
  while (left.size > 0) {
    const open = testedRadii(now, lensOf(now)!).filter(({ surface }) => left.has(surface));
    const next = dearest(
      now,
      evaluate,
      lensId,
      open.map((one) => ({ ...one, plate: nearestPlate(plates, one.radius)! })),
    );
    left.delete(next.surface);
    const to = Math.sign(next.radius) * next.plate.radius;
    const version = versionOf(now, { edits: taken(now, lensId, next.surface, to), evaluate });
    if (!version.ok) return version;
    now = version.value;
    if (freeNumbers(now).length > 0) {
      const polished = polishToEnd(now, evaluate, left.size > 0 ? QUICK : DEEP);
      if (!polished.ok) return failure(`With ${next.title} on its plate: ${polished.reason}`);
      [now, merit] = [polished.value.project, polished.value.merit];
    } else ({ merit } = meritStand(new Evaluation(now)));
    fitted.push({ surface: next.surface, title: next.title, from: next.radius, to, plate: next.plate, merit });
    yield state();
  }
  return success(state());
}
