import { expect } from 'chai';
import fc from 'fast-check';
import { checksum, makeSlot, newestSlot, readSlot } from './slots.ts';

describe('slots', () => {
  it('come back whole, newest first', () => {
    const old = makeSlot('{"a":1}', 4, 1000);
    const young = makeSlot('{"a":2}', 5, 2000);
    expect(newestSlot([old, young])).to.deep.equal(young);
    expect(newestSlot([young, undefined])).to.deep.equal(young);
    expect(newestSlot([null, undefined])).to.equal(null);
  });

  it('fall back to the older one when the newer is torn', () => {
    const old = makeSlot('{"a":1}', 4, 1000);
    const torn = { ...makeSlot('{"a":2}', 5, 2000), text: '{"a":' };
    expect(newestSlot([torn, old])).to.deep.equal(old);
  });

  it('notice any change of one character', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 1 }),
        fc.nat(),
        fc.integer({ min: 1, max: 60000 }),
        (text, at, change) => {
          const i = at % text.length;
          const changed =
            text.slice(0, i) + String.fromCharCode(text.charCodeAt(i) ^ change) + text.slice(i + 1);
          expect(checksum(changed)).to.not.equal(checksum(text));
        },
      ),
    );
  });

  it('never trust what is in the store', () => {
    fc.assert(fc.property(fc.anything(), (stored) => void expect(readSlot(stored)).to.equal(null)));
  });
});
