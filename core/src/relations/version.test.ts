import { expect } from 'chai';
import { formulaEvaluator, type FormulaEvaluator } from '../math/formula.ts';
import { applyEdits, type Edit } from '../project/edit.ts';
import { quickProject } from '../project/fixtures.ts';
import type { Project } from '../project/model.ts';
import { findParameter } from '../project/parameters.ts';
import { addState, setInState } from '../project/state-edits.ts';
import { changeState } from './change-state.ts';
import { versionOf } from './version.ts';

const at = (rest: string) => `lenses.lens.surfaces.${rest}`;
const [FIRST, SECOND] = [at('s1.radius'), at('s2.radius')];

describe('versions of a project', () => {
  let evaluate: FormulaEvaluator;
  let project: Project;
  before(async () => {
    evaluate = await formulaEvaluator();
    const plain = quickProject([
      { r: 50, t: 5, n: 1.5 },
      { r: -50, t: 90 },
    ]);
    const linked = changeState(plain, [SECOND], { kind: 'linked', formula: `-2 · ${FIRST}` }, evaluate);
    if (!linked.ok) throw new Error(linked.reason);
    const made = versionOf(plain, { edits: linked.value, evaluate });
    if (!made.ok) throw new Error(made.reason);
    const added = applyEdits(made.value, addState(made.value, 'warm').edits).project;
    const warm = setInState(added, 'warm', FIRST, 60);
    if (!warm.ok) throw new Error(warm.reason);
    project = applyEdits(added, warm.value.edits).project;
  });

  const number = (version: Project, address: string) => {
    const found = findParameter(version, address);
    return found.ok ? found.value.value : NaN;
  };
  const radius = (value: number): Edit => ({ kind: 'set', path: at('s1.shape.radius'), value });

  it('have the numbers that are set and what follows from them; the project stays as it is', () => {
    const version = versionOf(project, { edits: [radius(40)], evaluate });
    expect(version.ok && number(version.value, FIRST)).to.equal(40);
    expect(version.ok && number(version.value, SECOND)).to.equal(-80);
    expect(number(project, SECOND)).to.equal(-100);
  });

  it('leave what follows alone without an evaluator', () => {
    const version = versionOf(project, { edits: [radius(40)], evaluate: null });
    expect(version.ok && number(version.value, SECOND)).to.equal(-100);
  });

  it('fail strictly when a link has no value, and keep the value it had otherwise', () => {
    const broken = {
      ...project,
      parameters: { [SECOND]: { kind: 'linked', formula: `1/(${FIRST} − 40 mm) · 1 mm²` } },
    } as const;
    const strict = versionOf(broken, { edits: [radius(40)], evaluate, strict: true });
    expect(strict.ok ? '' : strict.reason).to.contain('s2');
    const lenient = versionOf(broken, { edits: [radius(40)], evaluate });
    expect(lenient.ok && number(lenient.value, SECOND)).to.equal(-100);
  });

  it('are seen in a state, and fail for one that is not there', () => {
    expect(versionOf(project, { evaluate, state: 'cold' }).ok).to.equal(false);
    const designed = versionOf(project, { evaluate, state: 'designed' });
    expect(designed.ok && number(designed.value, FIRST)).to.equal(50);
    const warm = versionOf(project, { evaluate, state: 'warm' });
    expect(warm.ok && number(warm.value, FIRST)).to.equal(60);
    expect(warm.ok && number(warm.value, SECOND), 'what follows there').to.equal(-120);
  });
});
