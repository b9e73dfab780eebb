import type { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { formulaEvaluator, readFormula, type FormulaValue } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { settingOptions, type SettingSpec, type SettingSpecs } from '../measures/measure.ts';
import { evaluateMeasure, isOfScene, MEASURES, subjectOf } from '../measures/registry.ts';
import type { Lens, Project } from '../project/model.ts';
import { listParameters, type Parameter } from '../project/parameters.ts';

/** What a name in a formula stands for. */
export type NamedNumber =
  | { readonly kind: 'measure'; readonly measure: (typeof MEASURES)[number] }
  | { readonly kind: 'parameter'; readonly parameter: Parameter };

/** The answer to a question, with what each name in it was. */
export interface AskAnswer extends FormulaValue {
  readonly parts: readonly (FormulaValue & { readonly title: string; readonly how?: string })[];
}

/** All names that a question about a lens may use, in lower case: measures by title and id, parameters by address. */
export function askNames(project: Project, lensId: string): ReadonlyMap<string, NamedNumber> {
  const names = new Map<string, NamedNumber>();
  for (const parameter of listParameters(project)) {
    const { address } = parameter;
    names.set(address, { kind: 'parameter', parameter });
    // Within the lens at hand the beginning of an address goes without saying.
    const short = `lenses.${lensId}.`;
    if (address.startsWith(short)) {
      const inLens = address.slice(short.length);
      names.set(inLens, { kind: 'parameter', parameter });
      if (inLens.startsWith('surfaces.')) names.set(inLens.slice('surfaces.'.length), { kind: 'parameter', parameter });
    }
  }
  for (const measure of MEASURES) {
    names.set(measure.title.toLowerCase(), { kind: 'measure', measure });
    names.set(measure.id, { kind: 'measure', measure });
  }
  return names;
}

/**
 * Answers a question: a measure or parameter by name, or arithmetic on them with units, such as
 * `effective focal length / entrance pupil diameter`. Choices of a measure follow it in square brackets: `RMS spot radius[worst]`,
 * `distortion[field=edge]`. Fails with a sentence that says what does not go together.
 */
export async function ask(evaluation: Evaluation, lensId: string, text: string): Promise<Outcome<AskAnswer>> {
  const lens = evaluation.project.lenses.find(({ id }) => id === lensId);
  if (!lens && (evaluation.project.scenes ?? []).length === 0) return failure('There is no lens to ask about.');
  const formula = readFormula(text, askNames(evaluation.project, lensId));
  if (!formula.ok) return formula;
  const parts: AskAnswer['parts'][number][] = [];
  for (const { target, choice } of formula.value.names) {
    const part = valueOfName(evaluation, lensId, target, choice);
    if (!part.ok) return part;
    parts.push(part.value);
  }
  const evaluate = await formulaEvaluator();
  const result = evaluate(formula.value.expression, parts);
  return result.ok ? success({ ...result.value, parts }) : result;
}

/** What a name in a formula is worth. Fails with a sentence where it has no value, or its choices in brackets are none. */
export function valueOfName(
  evaluation: Evaluation,
  lensId: string,
  target: NamedNumber,
  choice: string | null,
): Outcome<AskAnswer['parts'][number]> {
  const lens = evaluation.project.lenses.find(({ id }) => id === lensId);
  if (target.kind === 'parameter') {
    const { spec, value, address } = target.parameter;
    if (choice !== null) return failure(`${address} is a parameter and has no choices in brackets.`);
    if (!Number.isFinite(value)) return failure(`${address} is infinite.`);
    return success({ title: `${spec.title}, ${address}`, value, unit: formulaUnit(spec.unit) });
  }
  const { measure } = target;
  const subject = isOfScene(measure) ? subjectOf(evaluation.project, measure) : lens ? lensId : null;
  if (subject === null)
    return failure(`${measure.title}: there is no ${isOfScene(measure) ? 'scene' : 'lens'} to ask about.`);
  const settings = readChoice(measure.title, measure.settings, lens, choice);
  if (!settings.ok) return settings;
  const measured = evaluateMeasure(evaluation, {
    measure: measure.id,
    lens: subject,
    settings: settings.value,
  });
  if (!measured.ok) return failure(`${measure.title}: ${measured.reason}`);
  const { value, how, unit = measure.unit } = measured.value;
  return success({ title: measure.title, value, unit, ...(how && { how }) });
}

/** The unit of a parameter as formulas know it: coefficients of powers count as pure numbers. */
export function formulaUnit(unit: string): string {
  return unit.startsWith('mm^') ? '' : unit;
}

/** Choices as typed in brackets, `name=value` or a value alone where one setting takes it. */
function readChoice(
  title: string,
  specs: SettingSpecs,
  lens: Lens | undefined,
  choice: string | null,
): Outcome<Readonly<Record<string, string | number>>> {
  const settings: Record<string, string | number> = {};
  const fields = lens?.fields.points.map(({ id }) => id) ?? [];
  for (const part of choice === null || choice === '' ? [] : choice.split(',')) {
    const named = /^\s*(\w+)\s*=\s*(.*?)\s*$/.exec(part);
    const value = named ? named[2] : part.trim();
    const id = named?.[1] ?? Object.keys(specs).find((key) => takes(specs[key], value, fields));
    const spec = id === undefined ? undefined : specs[id];
    if (id === undefined || !spec) {
      const known = Object.entries(specs).map(([key, one]) => `${key} (${options(one, fields)})`);
      return failure(`${title} takes no “${part.trim()}”; it takes ${known.join(', ') || 'no choices'}.`);
    }
    settings[id] = spec.kind === 'integer' || spec.kind === 'number' ? Number(value) : value;
  }
  for (const [id, spec] of Object.entries(specs)) {
    if (spec.kind === 'field' && spec.fallback === null && settings[id] === undefined)
      return failure(`${title} of which field? Add one in brackets: ${options(spec, fields)}.`);
  }
  return success(settings);
}

function takes(spec: SettingSpec, value: string, fields: readonly string[]): boolean {
  if (spec.kind === 'field') return fields.includes(value) || spec.also.includes(value);
  return spec.kind === 'choice' && spec.options.includes(value);
}

function options(spec: SettingSpec, fields: readonly string[]): string {
  return settingOptions(spec, fields).join(', ');
}
