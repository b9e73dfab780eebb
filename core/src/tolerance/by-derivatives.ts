import type { LensEvaluation } from '../imaging/evaluation/evaluation.ts';
import { exactDerivatives } from '../improve/exact-measures.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import { linearChanges, VariableList, type LinearChange } from '../tolerances/linear-changes.ts';
import { spotResponse, type FocusRule, type SpotResponse } from '../tolerances/spot-response.ts';
import { perturbed } from '../tolerances/perturb.ts';
import { compileLens } from '../sequence/lens-model.ts';
import { firstOrder } from '../sequence/paraxial.ts';
import type { SolverVariable } from '../sequence/solver-variable.ts';
import { componentsOf, type Component } from './components.ts';
import { tryOut, type StudyInput, type Tried } from './one-by-one.ts';
import type { Response } from './response.ts';

/**
 * Responses by derivatives at the design alone, no trial made: squares of spots with all products of tolerances, measures whose derivatives are
 * exact by their slopes. Others, and those in states, are not known.
 *
 * Fails for tolerances that cannot be drawn or made, or where the design cannot be compensated.
 */
export function responseByDerivatives(study: StudyInput): Outcome<Response> {
  const drawn = drawnTolerances(study.tolerances);
  if (!drawn.ok) return drawn;
  const tolerances = drawn.value.map(({ tolerance }) => tolerance);
  const parts = componentsOf(study.project, study.watched);
  const watched = [...study.watched, ...parts.components.map(({ request }) => request)];
  const design = tryOut(study.project, [], study.compensators, watched);
  if (!design.ok) return design;
  const { values, units } = design.value;
  const count = study.watched.length;
  const lenses = new Map<string, Outcome<LensSlopes>>();
  const quadratics = parts.components.map((one, k) => {
    const value = values[count + k];
    const { lens: id, state = 'designed' } = one.request;
    if (!value.ok || state !== 'designed') return null;
    let lens = lenses.get(id);
    if (!lens)
      lenses.set(id, (lens = LensSlopes.of(design.value.project, tolerances, study.compensators, design.value, id)));
    return lens.ok ? lens.value.response(one, value.value) : null;
  });
  return success({
    ...parts,
    tolerances,
    design: { values: values.slice(0, count), units: units.slice(0, count) },
    quadratics,
  });
}

/** Derivatives of one lens by all tolerances. */
class LensSlopes {
  readonly #lens: LensEvaluation;
  readonly #changes: readonly (readonly LinearChange[])[];
  readonly #rule: FocusRule;
  #spots: Outcome<SpotResponse> | null = null;

  private constructor(lens: LensEvaluation, changes: readonly (readonly LinearChange[])[], rule: FocusRule) {
    this.#lens = lens;
    this.#changes = changes;
    this.#rule = rule;
  }

  /** Fails where there is no such lens, or a tolerance changes what rays are not differentiated by. */
  static of(
    project: Project,
    tolerances: readonly Tolerance[],
    compensators: readonly Compensator[],
    design: Tried,
    id: string,
  ): Outcome<LensSlopes> {
    const lens = design.evaluation.lens(id);
    if (!lens.ok) return lens;
    const { model } = lens.value;
    const changes: (readonly LinearChange[])[] = [];
    for (const tolerance of tolerances) {
      const found = linearChanges(project, model, tolerance, Math.max(-tolerance.lower, tolerance.upper));
      if (!found.ok) return found;
      changes.push(found.value);
    }
    const criterion = compensators.findLast(({ lens: set }) => set === id)?.criterion;
    if (criterion !== 'paraxial') return success(new LensSlopes(lens.value, changes, criterion ? 'best' : 'fixed'));
    const shifts = paraxialShifts(project, lens.value, tolerances);
    return shifts.ok ? success(new LensSlopes(lens.value, changes, shifts.value)) : shifts;
  }

  /** The response of a component that has this value in the design; null where it is not known. */
  response(component: Component, value: number): QuadraticResponse | null {
    return component.squared ? this.#spotSquare(component, value) : this.#line(component, value);
  }

  #found(): Outcome<SpotResponse> {
    return (this.#spots ??= spotResponse(this.#lens, this.#changes, this.#rule));
  }

  /** Derivatives are sampled more coarsely than the spot of the design: they are scaled to it. */
  #spotSquare({ request }: Component, value: number): QuadraticResponse | null {
    const settings = request.settings as Readonly<Record<string, unknown>>;
    const { model } = this.#lens;
    const clips = model.surfaces.some(({ open, mask }) => open !== null || mask !== null);
    if (request.measure !== 'rms_spot_radius' || settings.reference === 'chief') return null;
    if (clips && settings.pupil !== 'full') return null;
    const spots = this.#found();
    const found = spots.ok ? spots.value.fields.find(({ field }) => field.id === settings.field) : undefined;
    if (!found) return null;
    // In the unit of the measure, squared: µm².
    const { square } = found;
    const scale = 1e6;
    return {
      value: value ** 2,
      slopes: square.slopes.map((slope) => scale * slope),
      curvatures: square.curvatures.map((row) => row.map((entry) => scale * entry)),
    };
  }

  #line({ request }: Component, value: number): QuadraticResponse | null {
    const { model } = this.#lens;
    const focus: SolverVariable = { kind: 'thickness', surface: model.surfaces.length - 2 };
    const variables = new VariableList();
    const byFocusAt = variables.numberOf(focus);
    const numbers = this.#changes.map((changes) => changes.map(({ variable }) => variables.numberOf(variable)));
    const slopes = exactDerivatives(
      this.#lens,
      { measure: request.measure, settings: request.settings as Readonly<Record<string, string | number>> },
      variables.all,
    );
    const shifts = this.#rule === 'fixed' ? this.#changes.map(() => 0) : this.#shifts();
    if (!slopes || !shifts) return null;
    const by = this.#changes.map((changes, t) =>
      changes.reduce(
        (sum, change, k) => sum + change.by[model.primary] * slopes[numbers[t][k]],
        shifts[t] * slopes[byFocusAt],
      ),
    );
    return { value, slopes: by, curvatures: by.map(() => by.map(() => 0)) };
  }

  /** Change of the last distance by each tolerance; null where it is not known. */
  #shifts(): readonly number[] | null {
    if (typeof this.#rule !== 'string') return this.#rule;
    const spots = this.#found();
    return spots.ok ? spots.value.focus : null;
  }
}

/** By how much the last distance is set after each departure, to the paraxial image, by differences of first-order data. */
function paraxialShifts(project: Project, lens: LensEvaluation, tolerances: readonly Tolerance[]): Outcome<number[]> {
  const { id } = lens.model.lens;
  const distances: number[] = [];
  for (const tolerance of tolerances) {
    const step = Math.max(-tolerance.lower, tolerance.upper) / 100;
    const ends: number[] = [];
    for (const by of [-step, step]) {
      const made = perturbed(project, [{ of: tolerance, by }]);
      if (!made.ok) return made;
      const model = compileLens(
        made.value,
        made.value.lenses.find((one) => one.id === id)!,
      );
      const data = firstOrder(model, model.primary);
      if (!data.ok) return data;
      if (!Number.isFinite(data.value.imageDistance)) return failure('The paraxial image lies at infinity.');
      ends.push(data.value.imageDistance - model.surfaces[model.surfaces.length - 2].gap);
    }
    distances.push(step > 0 ? (ends[1] - ends[0]) / (2 * step) : 0);
  }
  return success(distances);
}
