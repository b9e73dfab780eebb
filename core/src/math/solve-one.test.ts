import { expect } from 'chai';
import fc from 'fast-check';
import { solveOne } from './solve-one.ts';

const tight = (value: number) => Math.abs(value) <= 1e-13;
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('a zero of one number', () => {
  it('of a straight line is met at once', () => {
    fc.assert(
      fc.property(number(-100, 100), number(0.1, 100), number(-50, 50), (zero, slope, start) => {
        let calls = 0;
        const f = (x: number) => (calls++, slope * (x - zero));
        const found = solveOne({ f, start, step: 0.01, enough: (value) => Math.abs(value) <= 1e-11 });
        expect(found).to.be.closeTo(zero, 1e-12 * Math.max(1, Math.abs(zero)));
        expect(calls).to.be.at.most(10); // two for the line, the others for its last digits
      }),
    );
  });

  it('of curves is found from afar, in bounds', () => {
    expect(solveOne({ f: (x) => x * x * x - 8, start: 30, step: 0.1, enough: tight })).to.be.closeTo(2, 1e-13);
    expect(solveOne({ f: Math.cos, start: 0.1, step: 0.01, enough: tight, from: 0, to: 3 })).to.be.closeTo(
      Math.PI / 2,
      1e-13,
    );
    // A hill between the start and the zero.
    const hill = (x: number) => 1 + x - 3 * Math.exp(-((x - 2) ** 2));
    expect(hill(solveOne({ f: hill, start: 4, step: 0.01, enough: tight })!)).to.be.closeTo(0, 1e-13);
  });

  it('is not made up: not where a function jumps through infinity, stays above, or ends', () => {
    expect(solveOne({ f: (x) => 1 / (x - 3), start: 1, step: 0.1, enough: tight })).to.equal(null);
    expect(solveOne({ f: (x) => x * x + 1, start: 1, step: 0.1, enough: tight })).to.equal(null);
    expect(solveOne({ f: () => NaN, start: 1, step: 0.1, enough: tight })).to.equal(null);
    const half = (x: number) => (x < 0 ? NaN : Math.sqrt(x) - 2);
    expect(solveOne({ f: half, start: 0.5, step: 0.1, enough: tight })).to.be.closeTo(4, 1e-12);
  });
});
