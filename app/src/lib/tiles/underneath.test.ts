import { expect } from 'chai';
import { comparable, referenceWords } from './underneath.ts';

describe('the reference under a chart', () => {
  const [now, like, other] = [{ unit: 'µm' }, { unit: 'µm' }, { unit: 'mrad' }];

  it('is laid there only where it is told in the same unit', () => {
    expect(comparable(now, like)).to.equal(like);
    expect(comparable(now, other)).to.equal(null);
    expect(comparable(null, like)).to.equal(null);
    expect(comparable(now, undefined)).to.equal(null);
  });

  it('is told, and why it is not laid there', () => {
    expect(referenceWords(now, like)).to.deep.equal(['reference in grey']);
    expect(referenceWords(now, other)).to.deep.equal(['the reference is in mrad and is not laid under']);
    expect(referenceWords(now, null)).to.deep.equal([]);
  });
});
