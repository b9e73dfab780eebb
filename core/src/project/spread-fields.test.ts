import { expect } from 'chai';
import { spreadFields } from './spread-fields.ts';

describe('spreading field points', () => {
  it('steps evenly from the axis outwards', () => {
    const points = spreadFields({ count: 5, largest: 20, along: 'x', spacing: 'even' });
    expect(points.map(({ x }) => x)).to.deep.equal([0, 5, 10, 15, 20]);
    expect(points.every(({ y, weight }) => y === 0 && weight === 1)).to.equal(true);
    expect(new Set(points.map(({ id }) => id)).size).to.equal(5);
  });

  it('gives rings of equal area', () => {
    const radii = spreadFields({ count: 4, largest: 3, along: 'y', spacing: 'area' }).map(({ y }) => y);
    const areas = radii.slice(1).map((radius, i) => radius ** 2 - radii[i] ** 2);
    areas.forEach((area) => expect(area).to.be.closeTo(3, 1e-10));
  });

  it('covers a grid from corner to corner, and one point is the axis', () => {
    const grid = spreadFields({ count: 3, largest: 2, along: 'grid', spacing: 'even' });
    expect(grid).to.have.length(9);
    expect(grid[0]).to.deep.include({ x: -2, y: -2 });
    expect(grid[4]).to.deep.include({ x: 0, y: 0 });
    expect(spreadFields({ count: 1, largest: 2, along: 'y', spacing: 'even' })[0].y).to.equal(0);
  });
});
