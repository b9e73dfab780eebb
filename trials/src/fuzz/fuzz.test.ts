import { expect } from 'chai';
import { fuzz, type Tally } from './fuzz.ts';
import { mutated, mutatedText } from './mutate.ts';
import { Random } from './random.ts';

describe('mutated files, tables, meshes, formulas, typing and requests', () => {
  it('are read or refused: without an exception, in time, and nothing is taken that cannot be read back', async () => {
    const tallies: Tally[] = [];
    for await (const tally of fuzz(22, 60)) tallies.push(tally);
    expect(tallies.flatMap(({ kind, wrong }) => wrong.map((one) => `${kind}: ${one}`))).to.deep.equal([]);
    expect(tallies).to.have.length.above(7);
    // Of each kind some are read, and some are not: else nothing is tried.
    for (const { kind, accepted, cases } of tallies) {
      expect(accepted, kind).to.be.above(0);
      expect(accepted, kind).to.be.below(cases);
    }
  });

  it('are the same for the same seed, leave what they are made of alone, and change it', () => {
    const document = { a: [1, 2, { b: 'c' }], d: null };
    const before = JSON.stringify(document);
    const made = (seed: number) => JSON.stringify(mutated(document, new Random(seed)).document);
    expect(made(5)).to.equal(made(5));
    expect(JSON.stringify(document)).to.equal(before);
    expect(new Set(Array.from({ length: 40 }, (_, i) => made(i))).size).to.be.above(25);
    expect(mutatedText('abc', new Random(1))).to.equal(mutatedText('abc', new Random(1)));
  });
});
