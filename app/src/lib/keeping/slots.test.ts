import { expect } from 'chai';
import fc from 'fast-check';
import { checksum, makeSlot, readSlot } from './slots.ts';

describe('slots', () => {
  it('come back whole, and not when they are torn', () => {
    const slot = makeSlot('{"a":1}', 4, 1000);
    expect(readSlot(slot)).to.deep.equal(slot);
    expect(readSlot({ ...slot, text: '{"a":' })).to.equal(null);
  });

  it('notice any change of one character', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.nat(), fc.integer({ min: 1, max: 60000 }), (text, at, change) => {
        const i = at % text.length;
        const changed = text.slice(0, i) + String.fromCharCode(text.charCodeAt(i) ^ change) + text.slice(i + 1);
        expect(checksum(changed)).to.not.equal(checksum(text));
      }),
    );
  });

  it('never trust what is in the store', () => {
    fc.assert(fc.property(fc.anything(), (stored) => void expect(readSlot(stored)).to.equal(null)));
  });
});
