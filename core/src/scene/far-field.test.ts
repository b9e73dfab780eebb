import { expect } from 'chai';
import { halfAngle } from './far-field.ts';

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
});
