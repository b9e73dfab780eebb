import { expect } from 'chai';
import fc from 'fast-check';
import { monotoneCubic } from './monotone-cubic.ts';

describe('monotoneCubic', () => {
  it('goes through its points and gives a straight line back', () => {
    const line = monotoneCubic([0, 1, 2.5, 4], [1, 3, 6, 9]);
    for (const x of [0, 0.3, 1, 1.7, 2.5, 3.9, 4]) expect(line(x)).to.be.closeTo(1 + 2 * x, 1e-14);
  });

  it('is a parabola between three of its points where that is monotone', () => {
    const square = monotoneCubic([1, 2, 3, 4], [1, 4, 9, 16]);
    expect(square(2.5)).to.be.closeTo(6.25, 1e-12);
  });

  it('never leaves the values beside it', () => {
    const points = fc.array(
      fc.tuple(fc.double({ min: 0.01, max: 10, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true })),
      {
        minLength: 2,
        maxLength: 12,
      },
    );
    fc.assert(
      fc.property(points, fc.double({ min: 0, max: 1, noNaN: true }), (steps, share) => {
        let at = 0;
        const x = steps.map(([step]) => (at += step));
        const y = steps.map(([, value]) => value);
        const curve = monotoneCubic(x, y);
        for (let i = 0; i + 1 < x.length; i++) {
          const value = curve(x[i] + share * (x[i + 1] - x[i]));
          expect(value).to.be.within(Math.min(y[i], y[i + 1]) - 1e-12, Math.max(y[i], y[i + 1]) + 1e-12);
        }
      }),
    );
  });

  it('refuses places that do not rise', () => {
    expect(() => monotoneCubic([1, 1], [0, 1])).to.throw(RangeError);
    expect(() => monotoneCubic([], [])).to.throw(RangeError);
  });
});
