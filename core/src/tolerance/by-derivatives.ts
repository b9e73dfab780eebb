import type { LensEvaluation } from '../imaging/evaluation/lens-evaluation.ts';
import { exactDerivatives, hasExactDerivatives } from '../improve/exact-measures.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import type { QuadraticResponse } from '../math/quadratic-response.ts';
import type { Project } from '../project/model.ts';
import type { Compensator, Tolerance } from '../project/tolerances.ts';
import { drawnTolerances } from '../tolerances/drawn.ts';
import { lensDepartures, withFigures, type LensDepartures } from '../tolerances/lens-departures.ts';
import { VariableList, type LinearChange } from '../tolerances/linear-changes.ts';
import { spotResponse, type Settings, type SpotResponse } from '../tolerances/spot-response.ts';
import { componentsOf, composed, type Component, type Components } from './components.ts';
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
  const carrying = withFigures(study.project, tolerances);
  if (!carrying.ok) return carrying;
  const project = carrying.value;
  const parts = componentsOf(project, study.watched);
  const asked = parts.components.filter(isDifferentiated);
  const design = asked.length > 0 ? designOf({ ...study, project }, asked) : null;
  if (design && !design.ok) return design;
  const values = parts.components.map((one) => design?.value.values[asked.indexOf(one)] ?? UNKNOWN);
  const lenses = new Map<string, Outcome<LensSlopes>>();
  const quadratics = parts.components.map((one, c) => {
    const value = values[c];
    if (!design || !value.ok) return null;
    const { lens: id } = one.request;
    const known = lenses.get(id);
    const lens = known ?? LensSlopes.of(design.value.project, tolerances, study.compensators, design.value, id);
    if (!known) lenses.set(id, lens);
    return lens.ok ? lens.value.response(one, one.squared ? value.value ** 2 : value.value) : null;
  });
  const reasons = [...new Set([...lenses.values()].flatMap((lens) => (lens.ok ? [] : [lens.reason])))];
  return success({ ...parts, tolerances, design: composedDesign(parts, values), quadratics, reasons });
}

const UNKNOWN = failure('It is not known by derivatives.');

/** Measures of lenses as designed, of those kinds that are differentiated. */
function isDifferentiated({ request: { measure, state = 'designed' } }: Component): boolean {
  return state === 'designed' && hasExactDerivatives(measure);
}

function designOf({ project, compensators }: StudyInput, components: readonly Component[]): Outcome<Tried> {
  return tryOut(
    project,
    [],
    compensators,
    components.map(({ request }) => request),
  );
}

/** Values of the watched measures, of those of their components. */
function composedDesign(
  { components, compositions }: Components,
  values: readonly Outcome<number>[],
): Outcome<number>[] {
  const numbers = values.map((value, c) => (!value.ok ? NaN : components[c].squared ? value.value ** 2 : value.value));
  return compositions.map((one) => {
    const lost = one.of.find((c) => !values[c].ok);
    return one.of.length > 0 && lost === undefined ? success(composed(one, numbers)) : UNKNOWN;
  });
}

/** Derivatives of one lens by all tolerances. */
class LensSlopes {
  readonly #lens: LensEvaluation;
  readonly #parts: LensDepartures;
  #spots: Outcome<SpotResponse> | null = null;

  private constructor(lens: LensEvaluation, parts: LensDepartures) {
    this.#lens = lens;
    this.#parts = parts;
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
    const departures = lensDepartures(project, lens.value.model, tolerances, compensators);
    return departures.ok ? success(new LensSlopes(lens.value, departures.value)) : departures;
  }

  /** The response of a component that has this value in the design, squared where it is; null where it is not known. */
  response(component: Component, value: number): QuadraticResponse | null {
    return component.squared ? this.#spotSquare(component, value) : this.#line(component, value);
  }

  #found(): Outcome<SpotResponse> {
    const { changes, rule, adjusting } = this.#parts;
    return (this.#spots ??= spotResponse(this.#lens, changes, rule, adjusting));
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
      value,
      slopes: square.slopes.map((slope) => scale * slope),
      curvatures: square.curvatures.map((row) => row.map((entry) => scale * entry)),
    };
  }

  #line({ request }: Component, value: number): QuadraticResponse | null {
    const { model } = this.#lens;
    const { changes, adjusting } = this.#parts;
    const sets = this.#sets();
    if (!sets) return null;
    const variables = new VariableList();
    const focus: LinearChange = {
      variable: { kind: 'thickness', surface: model.surfaces.length - 2 },
      by: model.wavelengths.map(() => 1),
    };
    const numbered = [[focus], ...adjusting, ...changes].map((parts) =>
      parts.map(({ variable, by }) => ({ at: variables.numberOf(variable), by: by[model.primary] })),
    );
    const slopes = exactDerivatives(
      this.#lens,
      { measure: request.measure, settings: request.settings as Readonly<Record<string, string | number>> },
      variables.all,
    );
    if (!slopes) return null;
    const slopeOf = numbered.map((parts) => parts.reduce((sum, { at, by }) => sum + by * slopes[at], 0));
    const by = changes.map((_, t) =>
      sets.reduce((sum, { departures }, k) => sum + departures[t] * slopeOf[k], slopeOf[sets.length + t]),
    );
    return { value, slopes: by, curvatures: by.map(() => by.map(() => 0)) };
  }

  /** How far the last distance and then each adjustment is set by each tolerance; null where it is not known. */
  #sets(): readonly Settings[] | null {
    const { changes, rule, adjusting } = this.#parts;
    if (rule === 'fixed' && adjusting.length === 0) return [{ design: 0, departures: changes.map(() => 0) }];
    if (typeof rule !== 'string' && adjusting.length === 0) return [rule];
    const spots = this.#found();
    return spots.ok ? [spots.value.focus, ...spots.value.adjusted] : null;
  }
}
