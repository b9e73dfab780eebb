import { expect } from 'chai';
import { RandomStream } from '../math/random.ts';
import { fourierSquare, plainSquare, type Fourier } from './fourier.ts';

/** Fills a square with numbers, the rows from `from` to `to` alone. */
function fill({ n, re, im }: Fourier, from = 0, to = n): void {
  const random = new RandomStream(7, 0);
  for (let i = 0; i < n * n; i++) {
    const inside = i >= from * n && i < to * n;
    re[i] = inside ? random.uniform() - 0.5 : 0;
    im[i] = inside ? random.uniform() - 0.5 : 0;
  }
}

describe('the Fourier transform of a square', () => {
  for (const n of [8, 16, 32, 64, 128, 256, 512])
    it(`agrees with a plain one for ${n} × ${n} numbers`, () => {
      const [kernel, plain] = [fourierSquare(n), plainSquare(n)];
      fill(kernel);
      fill(plain);
      kernel.transform();
      plain.transform();
      let worst = 0;
      for (let i = 0; i < n * n; i++)
        worst = Math.max(worst, Math.hypot(kernel.re[i] - plain.re[i], kernel.im[i] - plain.im[i]));
      expect(worst).to.be.below(1e-12 * n);
    });

  it('is the sum that it stands for, and leaves out rows of zeros', () => {
    const square = fourierSquare(16);
    fill(square, 4, 12);
    const given = { re: square.re.slice(), im: square.im.slice() };
    square.transform(4, 12);
    for (const [k, m] of [
      [0, 0],
      [3, 5],
      [15, 9],
    ]) {
      let [re, im] = [0, 0];
      for (let l = 0; l < 16; l++)
        for (let j = 0; j < 16; j++) {
          const turn = (-2 * Math.PI * (j * k + l * m)) / 16;
          const [a, b] = [given.re[l * 16 + j], given.im[l * 16 + j]];
          re += a * Math.cos(turn) - b * Math.sin(turn);
          im += a * Math.sin(turn) + b * Math.cos(turn);
        }
      expect(square.re[m * 16 + k]).to.be.closeTo(re, 1e-12);
      expect(square.im[m * 16 + k]).to.be.closeTo(im, 1e-12);
    }
  });

  it('keeps the energy and refuses other sizes', () => {
    const square = fourierSquare(128);
    fill(square);
    const energy = () => square.re.reduce((sum, a, i) => sum + a * a + square.im[i] ** 2, 0);
    const before = energy();
    square.transform();
    expect(energy() / before / 128 ** 2).to.be.closeTo(1, 1e-13);
    expect(() => fourierSquare(100)).to.throw(RangeError);
  });
});
