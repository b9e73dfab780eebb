import { expect } from 'chai';
import fc from 'fast-check';
import { readPlateList } from './plate-list.ts';

function radii(text: string): number[] {
  const read = readPlateList(text);
  if (!read.ok) throw new Error(read.reason);
  return read.value.map(({ radius }) => radius);
}

const refused = (text: string) => {
  const read = readPlateList(text);
  return read.ok ? '' : read.reason;
};

describe('a list of test plates', () => {
  it('takes radii with names, in rising order, each once', () => {
    const read = readPlateList('\uFEFFplate;radius (mm)\n# spring list\nA7;25.4\n\nA1;-10.05\nA9;25.40\n');
    expect(read.ok && read.value).to.deep.equal([
      { radius: 10.05, name: 'A1' },
      { radius: 25.4, name: 'A7' },
    ]);
  });

  it('takes a bare column of numbers, names on either side, and inches where the heading says so', () => {
    expect(radii('20.5\n10\n')).to.deep.equal([10, 20.5]);
    expect(radii('P3,20.5\nP1,10')).to.deep.equal([10, 20.5]);
    expect(radii('Radius in inch,No\n1,a\n0.5,b')).to.deep.equal([12.7, 25.4]);
  });

  it('says in which line what is wrong', () => {
    expect(refused('plate,curvature\nA,0.1')).to.match(/Line 1: no column is called radius/);
    expect(refused('radius\n10\nabout 12')).to.match(/Line 3: “about 12” is not a number/);
    expect(refused('radius;name\n"10,5";A')).to.match(/Line 2.*Use a point for decimals/);
    expect(refused('radius\n10\n0')).to.match(/Line 3: a radius of 0 is none of a test plate/);
    expect(refused('# nothing\n')).to.match(/holds no radius/);
    expect(refused('1'.repeat(5_000_001))).to.match(/no list of test plates/);
  });

  it('gives back any list that was written, and breaks at no text', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.double({ min: 1, max: 5000, noNaN: true }), { minLength: 1, maxLength: 30 }),
        (list) => {
          const rounded = [...new Set(list.map((one) => Number(one.toPrecision(12))))].sort((a, b) => a - b);
          expect(radii(`radius\n${rounded.join('\n')}`)).to.deep.equal(rounded);
        },
      ),
    );
    fc.assert(fc.property(fc.string(), (text) => typeof readPlateList(text).ok === 'boolean'));
  });
});
