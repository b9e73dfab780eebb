import { expect } from 'chai';
import { namedOf } from './colours.ts';

describe('names beside a picture', () => {
  it('are all of a few, and some of many: the first and the last among them, none twice', () => {
    expect(namedOf(0)).to.deep.equal([]);
    expect(namedOf(3)).to.deep.equal([0, 1, 2]);
    expect(namedOf(10)).to.have.length(10);
    for (const count of [11, 12, 500]) {
      const named = namedOf(count);
      expect(named).to.have.length(10);
      expect(new Set(named).size).to.equal(10);
      expect([named[0], named.at(-1)]).to.deep.equal([0, count - 1]);
    }
  });
});
