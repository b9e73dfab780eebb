import { expect } from 'chai';
import { nextPlace } from './grid-walk.ts';

describe('nextPlace', () => {
  const places = [
    { row: 0, col: 0 },
    { row: 0, col: 1 },
    { row: 0, col: 2 },
    { row: 1, col: 1 },
    { row: 2, col: 1 },
    { row: 2, col: 2 },
  ];

  it('goes to the nearest cell of the same column or row', () => {
    expect(nextPlace(places, places[1], 'down')).to.equal(places[3]);
    expect(nextPlace(places, places[5], 'left')).to.equal(places[4]);
    expect(nextPlace(places, places[0], 'right')).to.equal(places[1]);
  });

  it('passes over rows without the column', () => {
    expect(nextPlace(places, places[2], 'down')).to.equal(places[5]);
    expect(nextPlace(places, places[5], 'up')).to.equal(places[2]);
  });

  it('stays at the edge', () => {
    expect(nextPlace(places, places[0], 'up')).to.equal(null);
    expect(nextPlace(places, places[5], 'right')).to.equal(null);
  });
});
