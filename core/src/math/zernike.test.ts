import { expect } from 'chai';
import { gaussLegendre } from './quadrature.ts';
import { addPolynomial } from './polynomial2d.ts';
import { fringeIndex, nollIndex, zernikeTerms } from './zernike.ts';

/** Mean of a product of two polynomials over the unit disk. */
function meanProduct(order: 'noll' | 'fringe', a: number, b: number): number {
  const { nodes, weights } = gaussLegendre(16);
  const ARMS = 40;
  let mean = 0;
  nodes.forEach((node, i) => {
    const rho = Math.sqrt((1 + node) / 2);
    for (let k = 0; k < ARMS; k++) {
      const angle = (2 * Math.PI * (k + 0.3)) / ARMS;
      const value = (j: number) => {
        const out = new Float64Array(3);
        addPolynomial(zernikeTerms(order, j), rho * Math.cos(angle), rho * Math.sin(angle), 1, out);
        return out[0];
      };
      mean += ((weights[i] / 2) * value(a) * value(b)) / ARMS;
    }
  });
  return mean;
}

describe('Zernike polynomials', () => {
  it('are numbered as Noll numbers them', () => {
    const rows = [
      [1, 0, 0],
      [2, 1, 1],
      [3, 1, -1],
      [4, 2, 0],
      [5, 2, -2],
      [6, 2, 2],
      [7, 3, -1],
      [8, 3, 1],
      [9, 3, -3],
      [10, 3, 3],
      [11, 4, 0],
      [12, 4, 2],
      [13, 4, -2],
      [22, 6, 0],
      [37, 8, 0],
    ];
    for (const [j, n, m] of rows) expect(nollIndex(j), String(j)).to.deep.equal({ n, m });
  });

  it('are numbered as fringe order has them', () => {
    const rows = [
      [1, 0, 0],
      [2, 1, 1],
      [3, 1, -1],
      [4, 2, 0],
      [5, 2, 2],
      [6, 2, -2],
      [7, 3, 1],
      [8, 3, -1],
      [9, 4, 0],
      [10, 3, 3],
      [16, 6, 0],
      [25, 8, 0],
      [36, 10, 0],
      [37, 6, 6],
    ];
    for (const [j, n, m] of rows) expect(fringeIndex(j), String(j)).to.deep.equal({ n, m });
  });

  it('are orthonormal in Noll’s order', () => {
    for (let a = 1; a <= 22; a++)
      for (let b = 1; b <= a; b++) expect(meanProduct('noll', a, b), `${a} ${b}`).to.be.closeTo(a === b ? 1 : 0, 1e-11);
  });

  it('are 1 at the rim in fringe order', () => {
    for (let j = 1; j <= 37; j++) {
      const { m } = fringeIndex(j);
      const angle = m < 0 ? Math.PI / 2 / -m : 0;
      const out = new Float64Array(3);
      addPolynomial(zernikeTerms('fringe', j), Math.cos(angle), Math.sin(angle), 1, out);
      expect(out[0], String(j)).to.be.closeTo(1, 1e-11);
    }
  });
});
