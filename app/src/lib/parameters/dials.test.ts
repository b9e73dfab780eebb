import { expect } from 'chai';
import { dialRange, rangeTrouble } from './dials.ts';

const spec = (more: object) => ({ id: 'radius', title: '', meaning: '', unit: 'mm', kind: 'length', transform: 'value', ...more }) as const; // prettier-ignore

describe('the range of a dial', () => {
  it('lies about the present value, in round steps', () => {
    const { from, to, step } = dialRange({ spec: spec({}), value: -50 });
    expect([from, to, step]).to.deep.equal([-60, -40, 0.05]);
    expect(dialRange({ spec: spec({ id: 'thickness' }), value: 4 })).to.deep.equal({
      from: 2,
      to: 6,
      step: 0.01,
    });
    expect(dialRange({ spec: spec({ kind: 'angle' }), value: 0 })).to.deep.include({ from: -5, to: 5 });
  });

  it('keeps to what is legal', () => {
    const { from, to } = dialRange({ spec: spec({ above: 0, most: 1.05 }), value: 1 });
    expect(from).to.be.above(0);
    expect(to).to.be.closeTo(1.05, 0.01);
    expect(dialRange({ spec: spec({ min: 0 }), value: 0 }).from).to.equal(0);
  });

  it('is told where it makes no sense', () => {
    expect(rangeTrouble({ from: 1, to: 2, step: 0.1 })).to.equal(null);
    expect(rangeTrouble({ from: 2, to: 1, step: 0.1 })).to.match(/left end/);
    expect(rangeTrouble({ from: 1, to: 2, step: 5 })).to.match(/step/);
    expect(rangeTrouble({ from: NaN, to: 2, step: 5 })).to.match(/number/);
  });
});
