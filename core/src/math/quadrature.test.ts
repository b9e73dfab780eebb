import { expect } from 'chai';
import { gaussLegendre } from './quadrature.ts';

describe('gaussLegendre', () => {
  it('integrates every polynomial up to its degree exactly', () => {
    for (const count of [1, 2, 3, 6, 12, 24, 40]) {
      const { nodes, weights } = gaussLegendre(count);
      for (let degree = 0; degree < 2 * count; degree++) {
        let sum = 0;
        for (let i = 0; i < count; i++) sum += weights[i] * nodes[i] ** degree;
        const exact = degree % 2 === 1 ? 0 : 2 / (degree + 1);
        expect(sum, `count ${count}, degree ${degree}`).to.be.closeTo(exact, 4e-15);
      }
    }
  });

  it('gives the three-point rule in closed form', () => {
    const { nodes, weights } = gaussLegendre(3);
    expect(nodes[2]).to.be.closeTo(Math.sqrt(0.6), 1e-16);
    expect(weights[1]).to.be.closeTo(8 / 9, 4e-16);
  });

  it('refuses a count that is no positive integer', () => {
    expect(() => gaussLegendre(0)).to.throw(RangeError, 'count is 0');
    expect(() => gaussLegendre(2.5)).to.throw(RangeError, 'count is 2.5');
  });
});
