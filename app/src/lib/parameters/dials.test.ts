import { expect } from 'chai';
import { dialRange, probeValues, rangeTrouble, sensitiveRange } from './dials.ts';

const spec = (more: object) =>
  ({ id: 'radius', title: '', meaning: '', unit: 'mm', kind: 'length', transform: 'value', ...more }) as const;

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

  it('reaches as far as a change is worth seeing: to where the spot is two and a half times as large', () => {
    const distance = { spec: spec({ id: 'thickness' }), value: 30 };
    const values = probeValues(distance);
    expect(values[0]).to.equal(30);
    expect(values).to.have.length(19);
    // A defocus: √(5² + (100 d)²) µm passes 12.5 at d = 0.115.
    const found = sensitiveRange(
      distance,
      values,
      values.map((one) => Math.hypot(5, 100 * (one - 30))),
    )!;
    expect(found.to - 30).to.be.within(0.115, 0.35);
    expect(30 - found.from).to.be.within(0.115, 0.35);
    expect(found.step).to.be.within(2e-4, 2e-3);
    // What nothing depends on, and what has no spot, is left to its size.
    expect(
      sensitiveRange(
        distance,
        values,
        values.map(() => 5),
      ),
    ).to.equal(null);
    expect(
      sensitiveRange(
        distance,
        values,
        values.map(() => NaN),
      ),
    ).to.equal(null);
    expect(probeValues({ spec: spec({}), value: Infinity })).to.deep.equal([]);
    expect(Math.min(...probeValues({ spec: spec({ min: 1 }), value: 1.01 }))).to.be.at.least(1);
  });
});
