import { expect } from 'chai';
import { evenPoints } from './even-points.ts';
import { RandomStream } from './random.ts';

/** By how much the share of points in boxes from the corner differs from the boxes' volumes, at most. */
function discrepancy(points: readonly (readonly number[])[]): number {
  let worst = 0;
  for (const corner of points) {
    const inside = points.filter((point) => point.every((value, j) => value < corner[j])).length;
    worst = Math.max(worst, Math.abs(inside / points.length - corner.reduce((all, one) => all * one, 1)));
  }
  return worst;
}

describe('even points', () => {
  it('are the golden ratio in one dimension', () => {
    const golden = (Math.sqrt(5) - 1) / 2;
    const at = evenPoints(0.5, 1);
    for (let k = 0; k < 20; k++) expect(at(k)[0]).to.be.closeTo((0.5 + (k + 1) * golden) % 1, 1e-12);
  });

  it('fill a cube of any dimensions more evenly than random ones, in each of its coordinates, too', () => {
    const stream = new RandomStream(3, 0);
    for (const size of [2, 3, 5]) {
      const at = evenPoints(0.13, size);
      const even = Array.from({ length: 400 }, (_, k) => at(k));
      const random = even.map((point) => point.map(() => stream.uniform()));
      expect(discrepancy(even), `${size}`).to.be.below(0.6 * discrepancy(random));
      for (let j = 0; j < size; j++) expect(discrepancy(even.map((point) => [point[j]]))).to.be.below(0.02);
      expect(even.flat().every((value) => value >= 0 && value < 1)).to.equal(true);
    }
  });
});
