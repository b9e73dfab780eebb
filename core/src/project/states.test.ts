import { expect } from 'chai';
import { applyEdits, type Edit } from './edit.ts';
import { singletLens } from './fixtures.ts';
import { catalogueMaterial } from '../materials/catalogue.ts';
import type { Project } from './model.ts';
import { findParameter, listParameters, setParameter } from './parameters.ts';
import { projectText, readProjectText } from './read.ts';
import { addState, differIn, removeState, sameIn, setInState, type StateGesture } from './state-edits.ts';
import { inState, prunedStates, redirected } from './states.ts';
import type { Outcome } from '../math/outcome.ts';

const GAP = 'lenses.single.surfaces.back.thickness';
const GLASS = 'lenses.single.surfaces.front.material';

function project(): Project {
  const materials = ['air', 'g517642', 'g620364'].map((id) => catalogueMaterial(id)!);
  return {
    format: 'ulvex-project',
    version: 3,
    name: '',
    notes: '',
    lenses: [singletLens()],
    materials,
    requirements: [],
  };
}

const done = (before: Project, gesture: StateGesture | Outcome<StateGesture>): Project => {
  if ('ok' in gesture && !gesture.ok) throw new Error(gesture.reason);
  return applyEdits(before, ('ok' in gesture ? gesture.value : gesture).edits).project;
};
const near = () => done(project(), addState(project(), 'Near'));
const inNear = (of: Project) => {
  const seen = inState(of, 'near');
  if (!seen.ok) throw new Error(seen.reason);
  return seen.value;
};
const gapOf = (of: Project) => of.lenses[0].surfaces[1].after!.thickness;

describe('states', () => {
  it('are sets of values that stand in the place of those of the design', () => {
    const made = done(near(), setInState(near(), 'near', GAP, 101));
    expect(gapOf(made)).to.equal(94);
    expect(gapOf(inNear(made))).to.equal(101);
    expect(readProjectText(projectText(made))).to.deep.include({ ok: true, project: made });
  });

  it('name glasses too, and refuse what is no number, no glass and no legal value', () => {
    const made = done(near(), setInState(near(), 'near', GLASS, 'g620364'));
    expect(inNear(made).lenses[0].surfaces[0].after!.material).to.equal('g620364');
    expect(made.lenses[0].surfaces[0].after!.material).to.equal('g517642');
    expect(setInState(made, 'near', GLASS, 'nothing'))
      .to.have.property('reason')
      .that.matches(/no material/);
    expect(setInState(made, 'near', 'lenses.single.surfaces.gone.thickness', 1)).to.have.property('ok', false);
    expect(setInState(made, 'near', 'lenses.single.aperture.value', -1))
      .to.have.property('reason')
      .that.matches(/above 0/);
    expect(inState(made, 'far')).to.have.property('reason', 'There is no state “far”; there are near.');
  });

  it('have parameters of their own, with the limits of the design', () => {
    const made = done(near(), setInState(near(), 'near', GAP, 101));
    const found = findParameter(made, `states.near.${GAP}`);
    if (!found.ok) throw new Error(found.reason);
    expect(found.value.value).to.equal(101);
    expect(found.value.spec.id).to.equal('thickness');
    const set = setParameter(found.value, 99);
    if (!set.ok) throw new Error(set.reason);
    expect(gapOf(inNear(applyEdits(made, [set.value]).project))).to.equal(99);
    expect(listParameters(made).map(({ address }) => address)).to.include(`states.near.${GAP}`);
  });

  it('take frames that the design has none of', () => {
    const made = done(near(), setInState(near(), 'near', 'lenses.single.surfaces.back.dy', 0.2));
    expect(inNear(made).lenses[0].surfaces[1].frame).to.deep.equal({ dy: 0.2 });
    expect(made.lenses[0].surfaces[1].frame).to.deep.equal({ dy: 0 });
  });

  it('take the edits of who looks at them where they differ, and give all others to the design', () => {
    const made = done(near(), setInState(near(), 'near', GAP, 101));
    const path = 'lenses.single.surfaces.back.after.thickness';
    const edits: Edit[] = [
      { kind: 'set', path, value: 94 },
      { kind: 'set', path: 'lenses.single.surfaces.front.shape.radius', value: 60 },
    ];
    const after = applyEdits(made, redirected(made, 'near', edits)).project;
    expect([gapOf(after), gapOf(inNear(after))]).to.deep.equal([94, 94]);
    expect(after.lenses[0].surfaces[0].shape).to.have.property('radius', 60);
    expect(after.states![0].overrides[0].value).to.equal(94);
    // A whole medium that is set: its thickness is the state's, its glass the design's.
    const whole: Edit[] = [
      {
        kind: 'set',
        path: 'lenses.single.surfaces.back.after',
        value: { thickness: 101, material: 'g620364' },
      },
    ];
    const then = applyEdits(made, redirected(made, 'near', whole)).project;
    expect([gapOf(then), gapOf(inNear(then))]).to.deep.equal([94, 101]);
    expect(then.lenses[0].surfaces[1].after!.material).to.equal('g620364');
    expect(redirected(made, null, edits)).to.equal(edits);
  });

  it('come and go in one step each, and leave nothing behind', () => {
    const one = done(near(), setInState(near(), 'near', GAP, 101));
    const like = addState(one, 'Near', 'near');
    const two = done(one, like);
    expect(like.state).to.equal('near_1');
    expect(two.states![1].overrides).to.have.length(1);
    expect(done(two, differIn(two, 'near', GAP))).to.deep.equal(two);
    expect(done(two, sameIn(two, 'near', GAP)).states![0].overrides).to.deep.equal([]);
    const told: Project = {
      ...two,
      requirements: [{ id: 'r', measure: 'total_length', lens: 'single', settings: {}, state: 'near' }],
      parameters: { [`states.near.${GAP}`]: { kind: 'free' } },
    };
    const left = done(told, removeState(told, 'near'));
    expect(left.states!.map(({ id }) => id)).to.deep.equal(['near_1']);
    expect(left.requirements[0]).not.to.have.property('state');
    expect(left).not.to.have.property('parameters');
    expect(done(left, removeState(left, 'near_1'))).not.to.have.property('states');
    expect(addState(one, 'Every').state).to.equal('every_1');
  });

  it('say nothing about what is gone, and are rid of it', () => {
    const made = done(near(), setInState(near(), 'near', GAP, 101));
    const gone = applyEdits(made, [{ kind: 'remove', list: 'lenses.single.surfaces', id: 'back' }]).project;
    expect(inNear(gone).lenses).to.deep.equal(gone.lenses);
    expect(applyEdits(gone, prunedStates(gone)).project.states![0].overrides).to.deep.equal([]);
    expect(prunedStates(made)).to.deep.equal([]);
  });

  it('refuse in files what cannot be read', () => {
    const wrong = {
      ...near(),
      states: [{ id: 'every', name: 'x', overrides: [{ id: 'o1', address: GAP, value: null }] }],
    };
    const read = readProjectText(JSON.stringify(wrong));
    expect(read.ok ? [] : read.problems.map(({ place }) => place)).to.have.members([
      'states.every.id',
      'states.every.overrides.o1.value',
    ]);
  });
});
