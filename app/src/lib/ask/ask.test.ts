import { expect } from 'chai';
import { askedBefore, rememberAsked } from './asked.ts';

describe('the ask bar', () => {
  /** A store as the browser's, which may be full or hold anything. */
  function store(kept: string | null = null, full = false) {
    const values = new Map(kept === null ? [] : [['ulvex-asked', kept]]);
    return {
      getItem: (key: string) => values.get(key) ?? null,
      setItem: (key: string, value: string) => {
        if (full) throw new Error('full');
        values.set(key, value);
      },
    };
  }

  it('remembers questions, newest first and each once', () => {
    const kept = store();
    for (const question of ['a', 'b', 'a']) rememberAsked(question, kept);
    expect(askedBefore(kept)).to.deep.equal(['a', 'b']);
    for (let i = 0; i < 50; i++) rememberAsked(`q${i}`, kept);
    expect(askedBefore(kept)).to.have.length(30);
    expect(askedBefore(kept)[0]).to.equal('q49');
  });

  it('begins anew where the store holds nothing of use', () => {
    expect(askedBefore(store('{"a":'))).to.deep.equal([]);
    expect(askedBefore(store('[1, "a", null]'))).to.deep.equal(['a']);
    expect(() => rememberAsked('a', store(null, true))).to.not.throw();
  });
});
