import { expect } from 'chai';
import { pageSize } from './print-pages.ts';

describe('the pages of a printed board', () => {
  it('are as wide as the board with its margins, and lie', () => {
    const { width, height } = pageSize(1000, 300);
    expect(width).to.equal(1056);
    expect(width / height).to.be.closeTo(Math.SQRT2, 0.01);
  });

  it('hold the highest tile whole', () => {
    expect(pageSize(1000, 900).height).to.be.above(900 + 2 * 28 + 34);
  });
});
