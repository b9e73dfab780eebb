import { expect } from 'chai';
import fc from 'fast-check';
import { minimumNear } from './minimum.ts';

describe('a minimum of one number', () => {
  it('of a parabola is found from any side, in few steps', () => {
    const number = fc.double({ min: -50, max: 50, noNaN: true });
    fc.assert(
      fc.property(number, number, (least, start) => {
        let calls = 0;
        const found = minimumNear((x) => (calls++, 3 + (x - least) ** 2), start, 0.1, 1e-4)!;
        expect(found.x).to.be.closeTo(least, 1e-4);
        expect(found.value).to.be.closeTo(3, 1e-7);
        expect(calls).to.be.below(60);
      }),
    );
  });

  it('stays before walls, and says where there is none', () => {
    const walled = minimumNear((x) => (x > 2 ? NaN : (x - 3) ** 2), 0, 0.1)!;
    expect(walled.x).to.be.closeTo(2, 0.01);
    expect(minimumNear((x) => -x, 0, 1)).to.equal(null);
    expect(minimumNear(() => NaN, 0, 1)).to.equal(null);
  });
});
