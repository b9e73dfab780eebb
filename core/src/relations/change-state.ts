import type { FormulaEvaluator } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { evaluateMeasure, findMeasure, isOfScene, type MeasureRequest } from '../measures/registry.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import type { ParameterState, Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import { splitStateAddress } from '../project/states.ts';
import { storedFormula } from './relation-formula.ts';
import { settle } from './settle.ts';

/**
 * The edits that give numbers another state; null makes them fixed. Fails, and nothing is to be changed, where a formula cannot be read, a
 * number would follow from itself (the way round is named), units do not fit, or a condition has no solution.
 *
 * @param addresses - of the numbers, those of a state with its prefix; a link or a condition is for one at a time, free and fixed for any number
 * @param state - a formula in it is as it was typed: names within the lens count, see `storedFormula`
 * @param outOfTime - see `settle`
 */
export function changeState(
  project: Project,
  addresses: readonly string[],
  state: ParameterState | null,
  evaluate: FormulaEvaluator,
  outOfTime?: () => boolean,
): Outcome<readonly Edit[]> {
  // A plane has no radius of its own; as a sphere that is flat it has one.
  const rounded: Edit[] = state === null ? [] : addresses.flatMap((address) => roundedPlane(project, address));
  const round = applyEdits(project, rounded).project;
  const states = new Map(Object.entries(project.parameters ?? {}));
  for (const address of addresses) {
    const parameter = findParameter(round, address);
    if (!parameter.ok) return parameter;
    const ready = state && readyState(round, address, state);
    if (ready?.ok) states.set(address, ready.value);
    else if (ready) return ready;
    else states.delete(address);
  }
  const value = states.size > 0 ? Object.fromEntries(states) : undefined;
  const edits: Edit[] = [...rounded, { kind: 'set', path: 'parameters', value }];
  if (state === null || state.kind === 'free') return success(edits);
  const { broken, unfinished } = settle(applyEdits(project, edits).project, evaluate, outOfTime);
  if (unfinished) return failure('No value that meets the condition was found in time. Nothing was changed.');
  const wrong = broken.find(({ address }) => addresses.includes(address));
  return wrong ? failure(wrong.reason) : success(edits);
}

function roundedPlane({ lenses }: Project, address: string): Edit[] {
  const [root, lens, , surface, kind] = address.split('.');
  const found = lenses.find(({ id }) => id === lens)?.surfaces.find(({ id }) => id === surface);
  if (root !== 'lenses' || kind !== 'radius' || found?.shape.kind !== 'plane') return [];
  const path = `lenses.${lens}.surfaces.${surface}.shape`;
  return [{ kind: 'set', path, value: { kind: 'sphere', radius: 'infinity' } }];
}

function readyState(project: Project, address: string, state: ParameterState): Outcome<ParameterState> {
  const [root, lens] = (splitStateAddress(address)?.address ?? address).split('.');
  const within = root === 'lenses' ? lens : (project.lenses[0]?.id ?? '');
  switch (state.kind) {
    case 'free': {
      const { min, max } = state;
      if (min !== undefined && max !== undefined && !(min < max))
        return failure('The lower bound must be below the upper one.');
      return success({ kind: 'free', ...(min !== undefined && { min }), ...(max !== undefined && { max }) });
    }
    case 'linked': {
      const formula = storedFormula(project, within, state.formula, false);
      return formula.ok ? success({ kind: 'linked', formula: formula.value }) : formula;
    }
    case 'derived': {
      const measure = findMeasure(state.measure);
      if (!measure) return failure(`There is no measure “${state.measure}”.`);
      if (isOfScene(measure) || measure.slow)
        return failure(
          `${measure.title} takes too long to be held with every change: refocus by it, or make it a goal.`,
        );
      const equals = storedFormula(project, state.of, state.equals, true);
      return equals.ok ? success({ ...state, equals: equals.value }) : equals;
    }
  }
}

/** What a measure is now, as a text that a condition takes; null where it has no value. */
function valueNow(evaluation: Evaluation, request: MeasureRequest): string | null {
  const now = evaluateMeasure(evaluation, request);
  if (!now.ok) return null;
  const { value, unit = findMeasure(request.measure)!.unit } = now.value;
  return `${Number(value.toPrecision(8))}${unit === '' ? '' : ` ${unit}`}`;
}

/** The same for a project. */
export function measureNow(project: Project, request: MeasureRequest): string | null {
  return valueNow(new Evaluation(project), request);
}

/** A condition that is often asked of a number, with the value it has now. */
export interface DailyCondition {
  readonly title: string;
  readonly measure: string;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly equals: string;
}

/** Conditions that are of daily use for a number: what holds now, to be kept, and what is often wanted. */
export function dailyConditions(project: Project, address: string): DailyCondition[] {
  const [root, lensId, list, surface, kind] = address.split('.');
  const lens = project.lenses.find(({ id }) => id === lensId);
  if (root !== 'lenses' || list !== 'surfaces' || !lens) return [];
  const index = lens.surfaces.findIndex(({ id }) => id === surface);
  const next = lens.surfaces[index + 1]?.id;
  const evaluation = new Evaluation(project);
  const keep = (title: string, measure: string, settings: Readonly<Record<string, unknown>> = {}): DailyCondition[] => {
    const equals = valueNow(evaluation, { measure, lens: lensId, settings });
    return equals === null ? [] : [{ title, measure, settings, equals }];
  };
  const ray = (which: 'marginal' | 'chief', at: string, quantity: string) => ({ ray: which, surface: at, quantity });
  if (kind === 'thickness' && next)
    return [
      {
        title: 'the paraxial image lies on the next surface',
        measure: 'paraxial_ray',
        settings: ray('marginal', next, 'height'),
        equals: '0 mm',
      },
      ...keep('marginal ray height on the next surface', 'paraxial_ray', ray('marginal', next, 'height')),
      {
        title: 'the chief ray crosses the axis on the next surface',
        measure: 'paraxial_ray',
        settings: ray('chief', next, 'height'),
        equals: '0 mm',
      },
      ...(index === lens.surfaces.length - 2
        ? [
            {
              title: 'best focus by the RMS spot',
              measure: 'best_focus',
              settings: { by: 'RMS spot' },
              equals: '0 mm',
            },
            {
              title: 'best focus by the MTF at 50/mm',
              measure: 'best_focus',
              settings: { by: 'MTF', frequency: 50 },
              equals: '0 mm',
            },
          ]
        : []),
      ...keep('edge thickness', 'edge_thickness', { surface }),
      ...keep('total length', 'total_length'),
      // The distance of the image changes nothing of it.
      ...(index < lens.surfaces.length - 2 ? keep('focal length', 'effective_focal_length') : []),
    ];
  if (kind === 'radius')
    return [
      ...keep('focal length', 'effective_focal_length'),
      ...keep('F-number', 'image_f_number'),
      ...keep('working F-number', 'working_f_number'),
      ...keep('slope of the marginal ray after it', 'paraxial_ray', ray('marginal', surface, 'slope behind')),
      {
        title: 'the chief ray leaves it parallel to the axis',
        measure: 'paraxial_ray',
        settings: ray('chief', surface, 'slope behind'),
        equals: '0',
      },
      ...keep('incidence of the marginal ray', 'paraxial_ray', ray('marginal', surface, 'incidence')),
      ...keep('magnification', 'magnification'),
    ];
  return keep('focal length', 'effective_focal_length');
}
