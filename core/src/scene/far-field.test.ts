import { expect } from 'chai';
import { fallAngle, halfAngle } from './far-field.ts';

describe('Half-angles', () => {
  const angles = [-20, -10, 0, 10, 20];
  const errors = [0.1, 0.1, 0.1, 0.1, 0.1];

  it('are read between points, with the error of the values there over the slope', () => {
    const curve = { angles, errors, values: [0, 1, 2, 1, 0] };
    expect(halfAngle(curve, 0.5).value).to.be.closeTo(10, 1e-12);
    expect(halfAngle(curve, 0.25).value).to.be.closeTo(15, 1e-12);
    // Both edges by 0.1/(0.1 a degree) = 1°: half of their sum by √2/2.
    expect(halfAngle(curve, 0.25).standardError).to.be.closeTo(Math.SQRT1_2, 1e-12);
  });

  it('are none where a curve does not fall so far', () => {
    expect(halfAngle({ angles, errors, values: [1.5, 2, 2, 2, 1.5] }, 0.5).value).to.be.NaN;
  });

  it('over rings count the peak by a parabola, and stand where it falls to the share', () => {
    const rings = Array.from({ length: 40 }, (_, k) => k + 0.5);
    const curve = {
      angles: rings,
      values: rings.map((angle) => 8 - 0.01 * angle * angle),
      errors: rings.map((angle) => 0.1 / Math.sqrt(angle)),
    };
    const { value, standardError } = fallAngle(curve, 0.5);
    expect(value).to.be.closeTo(20, 1e-2); // straight between rings
    expect(standardError).to.be.within(0.02, 0.2);
    expect(fallAngle(curve, 0.9).value).to.be.closeTo(Math.sqrt(80), 2e-2);
  });

  it('of a hollow beam fall outside of its ring', () => {
    const angles = [1, 2, 3, 4, 5, 6, 7];
    const curve = { angles, values: [0, 0, 1, 4, 2, 0, 0], errors: angles.map(() => 0.1) };
    expect(fallAngle(curve, 0.5).value).to.be.closeTo(5, 1e-12);
    expect(fallAngle({ ...curve, values: [0, 0, 1, 4, 4, 3, 3] }, 0.5).value).to.be.NaN;
  });
});
