import { formulaUnit, valueOfName } from '../ask/ask.ts';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import type { FormulaEvaluator, FormulaValue } from '../math/formula.ts';
import { failure, success, type Outcome } from '../math/outcome.ts';
import { objection, type Extent } from '../math/parameter.ts';
import { solveMany } from '../math/solve-many.ts';
import { solveOne } from '../math/solve-one.ts';
import { evaluateMeasure, findMeasure } from '../measures/registry.ts';
import { applyEdit, valueAt, type Edit } from '../project/edit.ts';
import type { ParameterState, ParameterStates, Project } from '../project/model.ts';
import { freshId } from '../project/fresh-id.ts';
import { findParameter, setParameter, type Parameter } from '../project/parameters.ts';
import { inState, overridablePath, splitStateAddress, stateAddress } from '../project/states.ts';
import type { BrokenRelation, Settled } from './broken.ts';
import { closedForm } from './closed-forms.ts';
import { inOrder, type Follower } from './order.ts';
import { readRelationFormula, type RelationFormula } from './relation-formula.ts';

type Linked = Extract<ParameterState, { kind: 'linked' }>;
type Derived = Extract<ParameterState, { kind: 'derived' }>;

type Measured = ReturnType<typeof evaluateMeasure>;

interface Relation extends Follower {
  readonly parameter: Parameter;
  readonly state: Linked | Derived;
  readonly formula: RelationFormula;
}

/** Rounds in which numbers that are derived from each other may come to rest. */
const ROUNDS = 12;
/** Relative difference that a closed form leaves, and a search. */
const EXACT = 2e-13;
const SEARCHED = 2e-11;
/** Relative difference with which a condition counts as holding: what others that were searched after it may have left. */
const HOLDS = 1e-9;

/**
 * Brings all linked and derived numbers to where their relations want them. States of numbers that are no longer there are taken out.
 *
 * Numbers derived from each other are gone through in rounds, in the order of the surfaces, until none moves. What has no value or no
 * solution keeps the value it had and is told in `broken`.
 *
 * @param evaluate - of `formulaEvaluator`
 * @param outOfTime - asked before each evaluation of the lens; true ends the work, which is `unfinished` then
 */
export function settle(project: Project, evaluate: FormulaEvaluator, outOfTime: () => boolean = () => false): Settled {
  const states = project.parameters;
  if (!states || Object.keys(states).length === 0) return { project, edits: [], broken: [] };
  try {
    const settler = new Settler(project, evaluate, outOfTime);
    settler.run(states);
    const designed = { project: settler.project, edits: settler.edits, broken: [...settler.broken.values()] };
    return settleStates(designed, evaluate, outOfTime);
  } catch (error) {
    if (!(error instanceof OutOfTime)) throw error;
    return { project, edits: [], broken: [], unfinished: true };
  }
}

/** Ends the work from wherever it is. */
class OutOfTime extends Error {}

/**
 * Brings linked and derived numbers to where their relations want them in every state. What differs there from the design is written
 * beside what was chosen, so that whoever looks at a state needs no formula.
 */
function settleStates(designed: Settled, evaluate: FormulaEvaluator, outOfTime: () => boolean): Settled {
  let { project } = designed;
  const edits = [...designed.edits];
  const broken = [...designed.broken];
  const apply = (edit: Edit) => {
    edits.push(edit);
    project = applyEdit(project, edit).project;
  };
  for (const { id, overrides } of project.states ?? []) {
    const seen = inState(project, id);
    if (!seen.ok) continue;
    const followers = Object.entries(seen.value.parameters ?? {}).flatMap(([address, { kind }]) =>
      kind === 'free' ? [] : [address],
    );
    const stale = overrides.filter(({ address, follows }) => follows && !followers.includes(address));
    for (const one of stale) apply({ kind: 'remove', list: `states.${id}.overrides`, id: one.id });
    if (followers.length === 0) continue;
    const settler = new Settler(seen.value, evaluate, outOfTime);
    settler.run(seen.value.parameters!);
    for (const one of settler.broken.values()) {
      // What does not hold in the design need not be told again for every state.
      if (designed.broken.some(({ address, reason }) => address === one.address && reason === one.reason)) continue;
      broken.push({ ...one, address: stateAddress(id, one.address) });
    }
    for (const address of followers) {
      const path = overridablePath(settler.project, address);
      const value = path === null ? undefined : valueAt(settler.project, path);
      if (value === undefined) continue;
      const list = project.states!.find((state) => state.id === id)!.overrides;
      const known = list.find((one) => one.address === address);
      const same = valueAt(project, path!) === value;
      if (known?.follows && same) apply({ kind: 'remove', list: `states.${id}.overrides`, id: known.id });
      else if (known && known.value !== value)
        apply({ kind: 'set', path: `states.${id}.overrides.${known.id}.value`, value });
      else if (!known && !same)
        apply({
          kind: 'insert',
          list: `states.${id}.overrides`,
          after: list.at(-1)?.id ?? null,
          item: { id: freshId('o', list), address, value, follows: true } as { id: string },
        });
    }
  }
  return { project, edits, broken };
}

class Settler {
  project: Project;
  readonly edits: Edit[] = [];
  readonly broken = new Map<string, BrokenRelation>();
  readonly #evaluate: FormulaEvaluator;
  readonly #evaluations = new WeakMap<Project, Evaluation>();
  #links: readonly Relation[] = [];
  /** The trial that was made last: where its number is taken, what was found of it counts for the project. */
  #tried: { readonly from: Project; readonly one: Relation; readonly value: number; readonly trial: Project } | null =
    null;

  readonly #outOfTime: () => boolean;

  constructor(project: Project, evaluate: FormulaEvaluator, outOfTime: () => boolean) {
    this.project = project;
    this.#evaluate = evaluate;
    this.#outOfTime = outOfTime;
  }

  run(states: ParameterStates): void {
    const { order, cycles } = inOrder(this.#relations(states));
    for (const cycle of cycles) {
      const reason = `It follows from itself: ${cycle.join(' ← ')}. Make one of them fixed.`;
      for (const address of cycle.slice(1)) this.broken.set(address, { address, reason, cycle });
    }
    this.#links = order.filter(({ state }) => state.kind === 'linked');
    const derived = order.filter(({ state }) => state.kind === 'derived');
    const before = new Map(derived.map((one) => [one.address, this.#valueIn(this.project, one)]));
    this.#follow(null);
    let moving: Relation[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      moving = derived.filter((one) => !this.broken.has(one.address) && this.#derive(one));
      if (moving.length === 0) return this.#judge(derived);
    }
    const open = derived.filter(({ address }) => !this.broken.has(address));
    if (this.#together(open, before)) return this.#judge(derived);
    for (const one of moving) {
      this.#break(one, 'It pulls against another number that is derived: no values were found that hold both.');
      this.#write(one, before.get(one.address)!);
    }
    this.#follow(null);
  }

  /** What does not hold in the end is told, however it came about: nothing is shown as holding that was not measured to hold. */
  #judge(derived: readonly Relation[]): void {
    for (const one of derived) {
      if (this.broken.has(one.address)) continue;
      const state = one.state as Derived;
      const measured = this.#measured(this.project, state);
      const target = this.#target(one, measured);
      const title = findMeasure(state.measure)?.title ?? state.measure;
      if (!target.ok) this.#break(one, target.reason);
      else if (!measured.ok) this.#break(one, `${title} has no value any more: ${measured.reason}`);
      else if (
        !(
          Math.abs(measured.value.value - target.value) <=
          Math.max(
            HOLDS * Math.max(Math.abs(target.value), LEAST_SCALE),
            2 * (findMeasure(state.measure)?.precision ?? 0),
          )
        )
      )
        this.#break(one, `${title} is ${told(measured.value.value)} in place of ${told(target.value)}.`);
    }
  }

  /** Relations that can be read; the states of numbers that are gone are taken out. */
  #relations(states: ParameterStates): Relation[] {
    const relations: Relation[] = [];
    const kept: Record<string, ParameterState> = {};
    for (const [address, state] of Object.entries(states)) {
      const parameter = findParameter(this.project, address);
      if (!parameter.ok) continue;
      kept[address] = state;
      // What a state says of its own is brought to hold where the project is looked at in that state.
      if (state.kind === 'free' || splitStateAddress(address)) continue;
      const formula = readRelationFormula(this.project, state.kind === 'linked' ? state.formula : state.equals);
      if (!formula.ok) {
        this.broken.set(address, { address, reason: formula.reason });
        continue;
      }
      relations.push({
        address,
        parameter: parameter.value,
        state,
        formula: formula.value,
        needs: formula.value.addresses,
      });
    }
    if (Object.keys(kept).length < Object.keys(states).length)
      this.#apply({ kind: 'set', path: 'parameters', value: Object.keys(kept).length > 0 ? kept : undefined });
    const place = new Map(
      this.project.lenses.flatMap(({ id, surfaces }) =>
        surfaces.map((surface, k) => [`lenses.${id}.surfaces.${surface.id}`, k]),
      ),
    );
    const rank = ({ address }: Relation) => place.get(address.split('.').slice(0, 4).join('.')) ?? -1;
    return relations.sort((a, b) => rank(a) - rank(b));
  }

  #evaluationOf(project: Project): Evaluation {
    if (this.#outOfTime()) throw new OutOfTime();
    let found = this.#evaluations.get(project);
    if (!found) this.#evaluations.set(project, (found = new Evaluation(project)));
    return found;
  }

  #valueIn(project: Project, { parameter }: Relation): number {
    const stored = valueAt(project, parameter.path) as Extent | undefined;
    return stored === 'infinity' ? Infinity : (stored ?? parameter.spec.fallback ?? NaN);
  }

  /** What a formula gives in a version of the project. */
  #formulaIn(project: Project, { formula, state }: Relation): Outcome<FormulaValue> {
    const values: FormulaValue[] = [];
    const lens = state.kind === 'derived' ? state.of : '';
    let infinite = false;
    for (const { target, choice } of formula.names) {
      if (target.kind === 'parameter') {
        const { path, spec } = target.parameter;
        const stored = valueAt(project, path) as Extent | undefined;
        if (stored === 'infinity') infinite = true;
        const value = stored === 'infinity' ? HUGE : (stored ?? spec.fallback ?? NaN);
        values.push({ value, unit: formulaUnit(spec.unit) });
        continue;
      }
      const value = valueOfName(this.#evaluationOf(project), lens, target, choice);
      if (!value.ok) return value;
      values.push(value.value);
    }
    const result = this.#valueOf(state, formula.expression, values);
    // A flat is the limit of a long radius: what grows with it is infinite, too.
    if (result.ok && infinite && Math.abs(result.value.value) > HUGE * 1e-9)
      return success({ ...result.value, value: Infinity });
    return result;
  }

  /** What an expression gives: worked out anew only where a value has changed. */
  #valueOf(state: ParameterState, expression: string, values: readonly FormulaValue[]): Outcome<FormulaValue> {
    const last = LAST_VALUES.get(state);
    if (
      last?.expression === expression &&
      last.values.every((one, k) => one.value === values[k].value && one.unit === values[k].unit)
    )
      return last.result;
    const result = this.#evaluate(expression, values);
    LAST_VALUES.set(state, { expression, values, result });
    return result;
  }

  /** Links after a change, in a version of the project; `tell` null for the project itself, whose broken links are told. */
  #follow(trial: Project | null): Project {
    let project = trial ?? this.project;
    for (const link of this.#links) {
      const value = this.#linked(project, link);
      if (!value.ok) {
        if (!trial) this.#break(link, value.reason);
        continue;
      }
      if (!trial) this.broken.delete(link.address);
      if (value.value === this.#valueIn(project, link)) continue;
      const edit = setParameter(this.#presentIn(project, link), value.value);
      if (!edit.ok) {
        if (!trial) this.#break(link, edit.reason);
        continue;
      }
      if (trial) project = applyEdit(project, edit.value).project;
      else project = this.#apply(edit.value);
    }
    return project;
  }

  #linked(project: Project, link: Relation): Outcome<number> {
    const result = this.#formulaIn(project, link);
    if (!result.ok) return result;
    const value = inUnit(result.value, link.parameter.spec.unit, link.formula);
    if (!value.ok) return value;
    const wrong = objection(link.parameter.spec, value.value);
    return wrong ? failure(wrong) : value;
  }

  /** Brings a derived number to its condition; true where it moved. */
  #derive(one: Relation): boolean {
    const state = one.state as Derived;
    const measured = this.#measured(this.project, state);
    const target = this.#target(one, measured);
    if (!target.ok) {
      this.#break(one, target.reason);
      return false;
    }
    const now = this.#valueIn(this.project, one);
    const scale = Math.max(
      Math.abs(target.value),
      measured.ok ? Math.min(Math.abs(measured.value.value), 1) : 0,
      LEAST_SCALE,
    );
    const precision = findMeasure(state.measure)?.precision ?? 0;
    if (measured.ok && Math.abs(measured.value.value - target.value) <= Math.max(EXACT * scale, precision))
      return false;
    const { spec } = one.parameter;
    const misses = (value: number): number => {
      if (objection(spec, value)) return NaN;
      const trial = this.#trial(one, value);
      const found = this.#measured(trial, state);
      return found.ok ? found.value.value - target.value : NaN;
    };
    const closed = this.#closed(one, state, target.value);
    if (closed !== null && Math.abs(misses(closed)) <= 1e-12 * scale) return this.#moveTo(one, closed, now);
    if (measured.ok && Math.abs(measured.value.value - target.value) <= SEARCHED * scale) return false;
    // Solvers see curvature, so that a flat is a number like any other.
    const turned = spec.transform === 'reciprocal';
    const seen = turned ? 1 / now : now;
    const back = (x: number) => (turned ? 1 / x : x);
    const found = solveOne({
      f: (x) => misses(back(x)),
      start: seen,
      step: turned ? 1e-5 : 1e-3 * Math.max(1, Math.abs(seen)),
      enough: (value) => Math.abs(value) <= Math.max(SEARCHED * scale, precision),
    });
    if (found === null) {
      const title = findMeasure(state.measure)?.title ?? state.measure;
      const why = measured.ok ? '' : ` ${measured.reason}`;
      this.#break(one, `No value was found for which ${title} is ${told(target.value)}.${why} It keeps ${told(now)}.`);
      return false;
    }
    return this.#moveTo(one, back(found), now);
  }

  /** Looks for all numbers that are derived from each other at once, from where they were; true where they are found. */
  #together(all: readonly Relation[], before: ReadonlyMap<string, number>): boolean {
    const turned = (one: Relation, value: number) =>
      one.parameter.spec.transform === 'reciprocal' ? 1 / value : value;
    const project = this.project;
    const misses = (x: readonly number[]): number[] | null => {
      let trial = project;
      for (const [k, one] of all.entries()) {
        const edit = setParameter(this.#presentIn(trial, one), turned(one, x[k]));
        if (!edit.ok) return null;
        trial = applyEdit(trial, edit.value).project;
      }
      trial = this.#follow(trial);
      const values = all.map((one) => {
        const state = one.state as Derived;
        const found = this.#measured(trial, state);
        const target = this.#target(one, found, trial);
        return target.ok && found.ok
          ? (found.value.value - target.value) / Math.max(Math.abs(target.value), LEAST_SCALE)
          : NaN;
      });
      return values.some(Number.isNaN) ? null : values;
    };
    const start = all.map((one) => turned(one, before.get(one.address)!));
    const steps = all.map((one, k) =>
      one.parameter.spec.transform === 'reciprocal' ? 1e-7 : 1e-5 * Math.max(1, Math.abs(start[k])),
    );
    const found = solveMany(misses, start, steps, SEARCHED);
    if (!found) return false;
    all.forEach((one, k) => this.#write(one, turned(one, found[k])));
    this.#follow(null);
    return true;
  }

  #closed(one: Relation, state: Derived, target: number): number | null {
    const [root, lensId, list, surface, ...rest] = one.address.split('.');
    if (root !== 'lenses' || list !== 'surfaces' || lensId !== state.of || rest.length !== 1) return null;
    const [kind] = rest;
    if (kind !== 'radius' && kind !== 'thickness') return null;
    const lens = this.#evaluationOf(this.project).lens(lensId);
    if (!lens.ok) return null;
    const index = lens.value.model.surfaces.findIndex(({ id }) => id === surface);
    const value = closedForm(
      lens.value,
      { surface: index, kind },
      { measure: state.measure, settings: state.settings, target },
    );
    return value === null || Number.isNaN(value) || objection(one.parameter.spec, value) ? null : value;
  }

  /** What a condition asks for, in the unit of what is measured now. */
  #target(one: Relation, now: Measured, project = this.project): Outcome<number> {
    const measure = findMeasure((one.state as Derived).measure);
    if (!measure) return failure(`There is no measure “${(one.state as Derived).measure}”.`);
    const result = this.#formulaIn(project, one);
    if (!result.ok) return result;
    const unit = (now.ok ? now.value.unit : undefined) ?? measure.unit;
    return inUnit(result.value, unit, one.formula);
  }

  #measured(project: Project, { measure, of, settings }: Derived): Measured {
    return evaluateMeasure(this.#evaluationOf(project), { measure, lens: of, settings });
  }

  /** The project with a number tried, and what is linked to it. */
  #trial(one: Relation, value: number): Project {
    const edit = setParameter(this.#presentIn(this.project, one), value);
    if (!edit.ok) return this.project;
    const changed = applyEdit(this.project, edit.value).project;
    const trial = this.#links.length > 0 ? this.#follow(changed) : changed;
    this.#tried = { from: this.project, one, value, trial };
    return trial;
  }

  #moveTo(one: Relation, value: number, now: number): boolean {
    // The last digits of a number that is written anew every round must not keep the others moving. A flat has none: it moves or it stays.
    const same = value === now || (Number.isFinite(now) && Math.abs(value - now) <= 4 * Number.EPSILON * Math.abs(now));
    if (same) return false;
    const tried = this.#tried;
    const known = tried !== null && tried.from === this.project && tried.one === one && tried.value === value;
    this.#write(one, value);
    this.#follow(null);
    if (known) this.#evaluations.set(this.project, this.#evaluationOf(tried.trial));
    return true;
  }

  #write(one: Relation, value: number): void {
    const edit = setParameter(this.#presentIn(this.project, one), value);
    if (edit.ok) this.#apply(edit.value);
  }

  /** The parameter as a version of the project has it: a frame that was not there may have come. */
  #presentIn(project: Project, { parameter }: Relation): Parameter {
    if (!parameter.absent || valueAt(project, parameter.absent) === undefined) return parameter;
    const { absent: _absent, ...present } = parameter;
    return present;
  }

  #apply(edit: Edit): Project {
    this.edits.push(edit);
    return (this.project = applyEdit(this.project, edit).project);
  }

  #break({ address }: Relation, reason: string): void {
    this.broken.set(address, { address, reason });
  }
}

/** Of each relation, what its formula was worked out from last: it is asked for many times between two changes. */
const LAST_VALUES = new WeakMap<
  ParameterState,
  { readonly expression: string; readonly values: readonly FormulaValue[]; readonly result: Outcome<FormulaValue> }
>();

/** Stands for infinity in formulas. */
const HUGE = 1e30;
/** Residuals of conditions that ask for 0 are counted against this, in the unit of the measure. */
const LEAST_SCALE = 0.1;

const told = (value: number) => (Number.isFinite(value) ? String(Number(value.toPrecision(6))) : 'flat');

/** The value of a formula in the unit that is asked for; a number without a unit and without names counts in it. */
export function inUnit({ value, unit }: FormulaValue, asked: string, formula: RelationFormula): Outcome<number> {
  const wanted = formulaUnit(asked);
  if (unit === wanted) return success(value);
  if (unit === 'mm' && wanted === 'µm') return success(value * 1000);
  if (unit === 'µm' && wanted === 'mm') return success(value / 1000);
  if (unit === '' && wanted === '%') return success(/\* 0\.01\)/.test(formula.expression) ? value * 100 : value);
  if (unit === '' && formula.names.length === 0) return success(value);
  const name = (one: string) => (one === '' ? 'a pure number' : one);
  return failure(`The formula gives ${name(unit)}, but ${name(wanted)} is asked for.`);
}
