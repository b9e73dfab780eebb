import { expect } from 'chai';
import { RandomStream } from '../math/random.ts';
import { correlations, plainCorrelations, type ComplexGrid, type Shift } from './correlation.ts';

function grid(columns: number, rows: number): ComplexGrid {
  const random = new RandomStream(11, columns);
  const numbers = () => Float64Array.from({ length: columns * rows }, () => random.uniform() - 0.5);
  return { columns, rows, re: numbers(), im: numbers() };
}

const SHIFTS: readonly Shift[] = [
  [0, 0],
  [1, 0],
  [0, 1],
  [2, 3],
  [7, 0],
  [0, 5],
  [12, 0],
  [0, 40],
];

describe('the autocorrelation of a grid', () => {
  for (const [columns, rows] of [
    [13, 9],
    [12, 41],
    [1, 1],
    [2, 2],
  ])
    it(`agrees with a plain one for ${columns} × ${rows} numbers`, () => {
      const given = grid(columns, rows);
      const plain = plainCorrelations(given, SHIFTS);
      correlations(given, SHIFTS).forEach(({ re, im }, k) => {
        expect(re, `${SHIFTS[k]}`).to.be.closeTo(plain[k].re, 1e-13 * columns * rows);
        expect(im, `${SHIFTS[k]}`).to.be.closeTo(plain[k].im, 1e-13 * columns * rows);
      });
    });

  it('is the energy without a shift, and nothing where the grids do not overlap', () => {
    const given = grid(20, 30);
    const energy = given.re.reduce((sum, a, i) => sum + a * a + given.im[i] ** 2, 0);
    const [still, beside, above] = correlations(given, [
      [0, 0],
      [20, 0],
      [0, 30],
    ]);
    expect(still.re).to.be.closeTo(energy, 1e-12 * energy);
    expect(still.im).to.be.closeTo(0, 1e-12 * energy);
    expect([beside, above]).to.deep.equal([
      { re: 0, im: 0 },
      { re: 0, im: 0 },
    ]);
  });

  it('turns by the phase that grows from cell to cell', () => {
    const [n, turn] = [32, 0.3];
    const at = (of: (angle: number) => number) => Float64Array.from({ length: n * n }, (_, i) => of(turn * (i % n)));
    const [found] = correlations({ columns: n, rows: n, re: at(Math.cos), im: at(Math.sin) }, [[4, 0]]);
    expect(Math.atan2(found.im, found.re)).to.be.closeTo(4 * turn, 1e-12);
    expect(Math.hypot(found.re, found.im)).to.be.closeTo(n * (n - 4), 1e-9);
  });
});
