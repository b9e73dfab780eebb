import { expect } from 'chai';
import fc from 'fast-check';
import {
  alongZ,
  AT_REST,
  compose,
  foldedAxes,
  inverse,
  keepsX0,
  movePoint,
  rigidOf,
  shifted,
} from './rigid.ts';

const number = (size: number) => fc.double({ min: -size, max: size, noNaN: true });
const motion = fc.record({
  dx: number(50), dy: number(50), dz: number(50), tx: number(180), ty: number(180), tz: number(180),
}); // prettier-ignore
const point = fc.tuple(number(20), number(20), number(20));

function expectSame(actual: readonly number[], expected: readonly number[]) {
  actual.forEach((value, i) => expect(value).to.be.closeTo(expected[i], 1e-12));
}

describe('rigid motions', () => {
  it('shift after they turn', () => {
    expectSame(movePoint(rigidOf({ dx: 1, dy: 2, dz: 3, tx: 90 }), [0, 1, 0]), [1, 2, 4]);
    expect(rigidOf({}).rotation).to.equal(AT_REST.rotation);
  });

  it('undo what they do, and follow one another as their points do', () => {
    fc.assert(
      fc.property(motion, motion, point, (first, second, p) => {
        const [a, b] = [rigidOf(first), rigidOf(second)];
        expectSame(movePoint(inverse(a), movePoint(a, p)), p);
        expectSame(movePoint(compose(b, a), p), movePoint(b, movePoint(a, p)));
      }),
      { seed: 3 },
    );
  });

  it('fold the axis at a mirror by twice its tilt', () => {
    fc.assert(
      fc.property(number(89), (tilt) => {
        const { rotation } = rigidOf({ tx: tilt });
        const folded = foldedAxes([rotation[2], rotation[5], rotation[8]]);
        expectSame([...folded], [...rigidOf({ tx: 2 * tilt }).rotation]);
      }),
      { seed: 4 },
    );
    expectSame([...foldedAxes([0, 0, 1])], [...AT_REST.rotation]);
  });

  it('tell which planes and axes they keep', () => {
    expect(alongZ(shifted(0, 0, 7))).to.equal(true);
    expect(alongZ(compose(rigidOf({ tx: 3 }), shifted(0, 0, 7)))).to.equal(false);
    expect(keepsX0(compose(rigidOf({ tx: 3, dy: 2 }), rigidOf({ tx: -8, dz: 1 })))).to.equal(true);
    expect(keepsX0(rigidOf({ ty: 3 }))).to.equal(false);
    expect(keepsX0(rigidOf({ tz: 3 }))).to.equal(false);
    expect(keepsX0(rigidOf({ dx: 1 }))).to.equal(false);
  });
});
