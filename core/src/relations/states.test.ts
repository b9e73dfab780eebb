import { expect } from 'chai';
import { Evaluation } from '../imaging/evaluation/evaluation.ts';
import { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
import { evaluateMeasure } from '../measures/registry.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { ParameterStates, Project } from '../project/model.ts';
import { addState, setInState, type StateGesture } from '../project/state-edits.ts';
import { inState } from '../project/states.ts';
import { changeState } from './change-state.ts';
import { settle } from './settle.ts';

let evaluate: FormulaEvaluator;
before(async () => (evaluate = await formulaEvaluator()));

const at = (rest: string) => `lenses.lens.surfaces.${rest}`;
const FOCUSED = {
  kind: 'derived',
  measure: 'paraxial_ray',
  of: 'lens',
  settings: { ray: 'marginal', surface: 'image', quantity: 'height' },
  equals: '0 mm',
} as const;

/** A singlet of f = 75 mm with a state `near`, in which the object stands at 600 mm. */
function project(parameters: ParameterStates): Project {
  const made = {
    ...quickProject([
      { r: 60, t: 5, n: 1.6 },
      { r: -180, t: 70 },
    ]),
    parameters,
  };
  const near = applyEdits(made, addState(made, 'near').edits).project;
  return { ...done(near, setInState(near, 'near', 'lenses.lens.object.distance', 600)) };
}

function done(before: Project, gesture: ReturnType<typeof setInState>): Project {
  if (!gesture.ok) throw new Error(gesture.reason);
  return applyEdits(before, (gesture.value satisfies StateGesture).edits).project;
}

const near = (of: Project) => {
  const seen = inState(of, 'near');
  if (!seen.ok) throw new Error(seen.reason);
  return seen.value;
};
const backOf = (of: Project) => of.lenses[0].surfaces[1].after!.thickness;
function height(of: Project, state?: string): number {
  const found = evaluateMeasure(new Evaluation(of), {
    measure: 'paraxial_ray',
    lens: 'lens',
    settings: FOCUSED.settings,
    ...(state && { state }),
  });
  if (!found.ok) throw new Error(found.reason);
  return found.value.value;
}

describe('relations in states', () => {
  it('hold in each: a distance that focuses is another one for a near object', () => {
    const { project: settled, broken } = settle(project({ [at('s2.thickness')]: FOCUSED }), evaluate);
    expect(broken).to.deep.equal([]);
    expect(height(settled)).to.be.closeTo(0, 1e-12);
    expect(height(settled, 'near')).to.be.closeTo(0, 1e-12);
    // Newton's z z′ = f², the object 600 mm before the lens and so some 527 mm before its front focus.
    expect(backOf(near(settled)) - backOf(settled)).to.be.closeTo(75 ** 2 / 527, 0.4);
    const follower = settled.states![0].overrides.find(({ follows }) => follows);
    expect(follower).to.deep.include({ address: at('s2.thickness'), value: backOf(near(settled)) });
    expect(settle(settled, evaluate).edits).to.deep.equal([]);
  });

  it('are taken back with what made them differ', () => {
    const { project: settled } = settle(project({ [at('s2.thickness')]: FOCUSED }), evaluate);
    const far = done(settled, setInState(settled, 'near', 'lenses.lens.object.distance', Infinity));
    const same = settle(far, evaluate).project;
    expect(same.states![0].overrides.map(({ address }) => address)).to.deep.equal(['lenses.lens.object.distance']);
    const fixed = { ...settled, parameters: {} };
    expect(
      settle({ ...fixed, parameters: { [at('s1.radius')]: { kind: 'free' } } }, evaluate).project.states![0].overrides,
    ).to.have.length(1);
  });

  it('give way to what a state sets by hand, and may be of a state alone', () => {
    const made = project({ [at('s2.thickness')]: FOCUSED });
    const byHand = done(made, setInState(made, 'near', at('s2.thickness'), 90));
    const { project: settled } = settle(byHand, evaluate);
    expect(backOf(near(settled))).to.equal(90);
    expect(Math.abs(height(settled, 'near'))).to.be.above(0.01);
    const own = changeState(settled, [`states.near.${at('s2.thickness')}`], FOCUSED, evaluate);
    if (!own.ok) throw new Error(own.reason);
    const then = settle(applyEdits(settled, own.value).project, evaluate).project;
    expect(height(then, 'near')).to.be.closeTo(0, 1e-12);
    expect(backOf(near(then))).to.not.equal(90);
    expect(then.states![0].overrides.some(({ follows }) => follows)).to.equal(false);
  });

  it('that have no solution in one of them alone are told for it', () => {
    const made = project({ [at('s2.thickness')]: FOCUSED });
    const inside = done(made, setInState(made, 'near', 'lenses.lens.aperture.value', 5));
    const flat = done(inside, setInState(inside, 'near', at('s1.radius'), Infinity));
    const both = done(flat, setInState(flat, 'near', at('s2.radius'), Infinity));
    const { broken, project: settled } = settle(
      done(both, setInState(both, 'near', 'lenses.lens.object.distance', Infinity)),
      evaluate,
    );
    expect(broken.map(({ address }) => address)).to.deep.equal([`states.near.${at('s2.thickness')}`]);
    expect(height(settled)).to.be.closeTo(0, 1e-12);
  });

  it('cannot name a number of one state', () => {
    const made = project({});
    const link = { kind: 'linked', formula: '2 * states.near.lenses.lens.object.distance' } as const;
    expect(changeState(made, [at('s2.thickness')], link, evaluate)).to.have.property('ok', false);
  });
});
