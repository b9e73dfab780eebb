import { expect } from 'chai';
import { failure, success } from '../math/outcome.ts';
import type { Project, Requirement } from '../project/model.ts';
import type { Measured } from './measure.ts';
import { requirementStates, standing, worstAnswer } from './requirement.ts';

const required = (part: Partial<Requirement> = {}): Requirement =>
  ({ id: 'r', measure: 'effective_focal_length', settings: {}, ...part }) as Requirement;
const values = (...list: readonly number[]) => list.map((value) => success({ value } as Measured));

describe('a requirement', () => {
  const project = { states: [{ id: 'near' }, { id: 'cold' }] } as unknown as Project;

  it('counts in the model as designed, in one state, or in every one', () => {
    expect(requirementStates(project, {})).to.deep.equal(['designed']);
    expect(requirementStates(project, { state: 'cold' })).to.deep.equal(['cold']);
    expect(requirementStates(project, { state: 'every' })).to.deep.equal(['designed', 'near', 'cold']);
    expect(requirementStates({} as Project, { state: 'every' })).to.deep.equal(['designed']);
  });

  it('stands as its worst state does: the one furthest beyond a limit, or nearest to one', () => {
    expect(worstAnswer(required({ min: 35, max: 37 }), values(36, 36.9, 35.4))).to.equal(1);
    expect(worstAnswer(required({ max: 10 }), values(9, 14, 12))).to.equal(1);
    expect(worstAnswer(required({ min: 0 }), values(2, 1, 3))).to.equal(1);
    expect(worstAnswer(required({ max: 10 }), [])).to.equal(null);
  });

  it('stands worst where there is no value at all', () => {
    const answers = [...values(99), failure('no ray arrives'), ...values(5)];
    expect(worstAnswer(required({ max: 10 }), answers)).to.equal(1);
  });

  it('is met without a doubt where nothing is asked', () => {
    expect(standing(5, {})).to.deep.include({
      verdict: 'met',
      margin: Infinity,
      minPlace: null,
      maxPlace: null,
    });
  });

  it('has its one limit at three quarters or one quarter of the bar, also where it is 0', () => {
    expect(standing(4, { max: 8 })).to.deep.include({ maxPlace: 0.75, place: 0.5 });
    expect(standing(8, { min: 8 })).to.deep.include({ minPlace: 0.25, margin: 0, verdict: 'close' });
    expect(standing(-1, { max: 0 }).maxPlace).to.equal(0.75);
    expect(standing(1e9, { max: 8 }).place).to.equal(1);
    expect(standing(-1e9, { max: 8 }).place).to.equal(0);
  });
});
