import { expect } from 'chai';
import fc from 'fast-check';
import {
  alongZ,
  AT_REST,
  compose,
  composeChanging,
  foldedAxes,
  foldedChange,
  inverse,
  inverseChanging,
  keepsX0,
  movePoint,
  rigidChange,
  rigidOf,
  shifted,
  turnDirection,
  type Rigid,
} from './rigid.ts';

const number = (size: number) => fc.double({ min: -size, max: size, noNaN: true });
const motion = fc.record({
  dx: number(50),
  dy: number(50),
  dz: number(50),
  tx: number(180),
  ty: number(180),
  tz: number(180),
});
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

  describe('that depend on a number', () => {
    const STEP = 1e-5;
    const names = ['dx', 'dy', 'dz', 'tx', 'ty', 'tz'] as const;
    type Given = Readonly<Record<(typeof names)[number], number>>;
    const all = ({ shift, rotation }: Rigid) => [...shift, ...rotation];

    /** What a central difference says of the derivative of a motion made from six numbers, by one of them. */
    function difference(made: (given: Given) => Rigid, given: Given, by: keyof Given): number[] {
      const [up, down] = [STEP, -STEP].map((step) => all(made({ ...given, [by]: given[by] + step })));
      return up.map((value, i) => (value - down[i]) / (2 * STEP));
    }
    const near = (actual: readonly number[], expected: readonly number[]) =>
      actual.forEach((value, i) => expect(value).to.be.closeTo(expected[i], 2e-7));

    it('change by shifts per mm and by tilts per degree, as differences say', () => {
      fc.assert(
        fc.property(motion, fc.constantFrom(...names), (given, by) => {
          near(all(rigidChange(given, by)), difference(rigidOf, given, by));
        }),
        { seed: 5, numRuns: 60 },
      );
    });

    it('change one after another and backwards', () => {
      fc.assert(
        fc.property(motion, motion, fc.constantFrom(...names), (given, other, by) => {
          const [moving, still] = [
            { value: rigidOf(given), change: rigidChange(given, by) },
            { value: rigidOf(other), change: null },
          ];
          const inverted = inverseChanging(moving);
          near(
            all(inverted.change!),
            difference((at) => inverse(rigidOf(at)), given, by),
          );
          near(
            all(composeChanging(moving, still).change!),
            difference((at) => compose(rigidOf(at), rigidOf(other)), given, by),
          );
          near(
            all(composeChanging(still, moving).change!),
            difference((at) => compose(rigidOf(other), rigidOf(at)), given, by),
          );
          // Together with its inverse a motion stays at rest, whatever the number is.
          near(all(composeChanging(moving, inverted).change!), new Array<number>(12).fill(0));
          expect(composeChanging(still, still).change).to.equal(null);
          expect(inverseChanging(still).change).to.equal(null);
        }),
        { seed: 6, numRuns: 40 },
      );
    });

    it('fold the axis along with the normal of a mirror', () => {
      fc.assert(
        fc.property(number(60), number(60), (tx, ty) => {
          const normal = (tilt: number) => turnDirection(rigidOf({ tx: tilt, ty }), [0, 0, 1]);
          const [up, down] = [normal(tx + STEP), normal(tx - STEP)];
          const change = up.map((value, i) => (value - down[i]) / (2 * STEP)) as [number, number, number];
          const folded = [up, down].map((one) => foldedAxes(one));
          const expected = [...folded[0]].map((value, i) => (value - folded[1][i]) / (2 * STEP));
          near([...foldedChange(normal(tx), change)], expected);
        }),
        { seed: 7, numRuns: 40 },
      );
    });
  });
});
