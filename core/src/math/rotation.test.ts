import { expect } from 'chai';
import fc from 'fast-check';
import { rotationXYZ } from './rotation.ts';

/** Column `column` of the matrix, rounded: the image of a unit vector. */
function imageOf(matrix: Float64Array, column: number): number[] {
  return [0, 3, 6].map((row) => Math.round(matrix[row + column]) + 0);
}

const angle = fc.double({ min: -180, max: 180, noNaN: true });

describe('rotationXYZ', () => {
  it('is right-handed about each axis', () => {
    const aboutX = rotationXYZ(90, 0, 0); // y goes to z
    expect(imageOf(aboutX, 1)).to.deep.equal([0, 0, 1]);
    const aboutY = rotationXYZ(0, 90, 0); // z goes to x
    expect(imageOf(aboutY, 2)).to.deep.equal([1, 0, 0]);
    const aboutZ = rotationXYZ(0, 0, 90); // x goes to y
    expect(imageOf(aboutZ, 0)).to.deep.equal([0, 1, 0]);
  });

  it('applies z first, x last', () => {
    const both = rotationXYZ(90, 0, 90); // x → y about z, then y → z about x
    expect(imageOf(both, 0)).to.deep.equal([0, 0, 1]);
  });

  it('is orthonormal with determinant one', () => {
    fc.assert(
      fc.property(angle, angle, angle, (a, b, c) => {
        const r = rotationXYZ(a, b, c);
        for (let i = 0; i < 3; i++) {
          for (let j = 0; j < 3; j++) {
            const dot = r[3 * i] * r[3 * j] + r[3 * i + 1] * r[3 * j + 1] + r[3 * i + 2] * r[3 * j + 2];
            expect(dot).to.be.closeTo(i === j ? 1 : 0, 1e-14);
          }
        }
        const det =
          r[0] * (r[4] * r[8] - r[5] * r[7]) - r[1] * (r[3] * r[8] - r[5] * r[6]) + r[2] * (r[3] * r[7] - r[4] * r[6]);
        expect(det).to.be.closeTo(1, 1e-14);
      }),
    );
  });
});
