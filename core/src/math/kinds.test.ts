import { expect } from 'chai';
import { illegalEntry, Kinds, tableProblem, type TableSpec } from './kinds.ts';
import { readTableText, tableText } from './table-text.ts';

const SPEC: TableSpec = {
  columns: [
    { id: 'degrees', title: 'Angle', unit: '°', min: 0, most: 180, rises: true },
    { id: 'intensity', title: 'Intensity', unit: '', min: 0 },
    { id: 'width', title: 'Width', unit: 'mm', above: 0 },
  ],
  least: 2,
};

describe('kinds of things', () => {
  it('are found by their word, and two of one word are a mistake', () => {
    const kinds = new Kinds<{ kind: string; size: number }>('hat', [
      { kind: 'cap', size: 1 },
      { kind: 'topper', size: 3 },
    ] as { kind: string; size: number }[]);
    expect(kinds.of('topper').size).to.equal(3);
    expect(kinds.find('bonnet')).to.equal(undefined);
    expect(() => kinds.of('bonnet')).to.throw('There is no hat called bonnet');
    expect(() => new Kinds('hat', [{ kind: 'cap' }, { kind: 'cap' }])).to.throw(/two/);
  });
});

describe('tables of numbers', () => {
  const good = { degrees: [0, 30], intensity: [1, 0.5], width: [2, 3] };

  it('have legal entries, said in words where they are not', () => {
    const words = SPEC.columns.map((column) => illegalEntry(column, -1));
    expect(words).to.deep.equal(['must be from 0 to 180', 'must not be negative', 'must be above 0']);
    for (const value of ['1', NaN, Infinity, null, 181]) expect(illegalEntry(SPEC.columns[0], value)).to.be.a('string');
    expect(illegalEntry(SPEC.columns[0], 180)).to.equal(null);
  });

  it('have columns of one length that rise where they must', () => {
    expect(tableProblem(SPEC, good)).to.equal(null);
    const wrong = 'degrees must rise and have as many entries as intensity and width, at least two';
    expect(tableProblem(SPEC, { ...good, degrees: [30, 30] })).to.equal(wrong);
    expect(tableProblem(SPEC, { ...good, width: [1] })).to.equal(wrong);
    expect(tableProblem(SPEC, { ...good, width: undefined })).to.equal(wrong);
    expect(tableProblem(SPEC, { degrees: [0], intensity: [1], width: [1] })).to.equal(wrong);
  });

  it('are written as a line, and read back', () => {
    const text = tableText(SPEC, good);
    expect(text).to.equal('0:1:2 30:0.5:3');
    // Every digit: a row that is not touched stays as it is.
    const third = { ...good, degrees: [1 / 3, 30] };
    expect(readTableText(SPEC, tableText(SPEC, third))).to.deep.equal({ ok: true, value: third });
    const read = readTableText(SPEC, ` ${text.replace(' ', ';  ')}, `);
    expect(read).to.deep.equal({ ok: true, value: good });
  });

  it('are refused with the row that is wrong', () => {
    const reason = (text: string) => {
      const read = readTableText(SPEC, text);
      return read.ok ? '' : read.reason;
    };
    expect(reason('0:1:1 30:1')).to.equal('Row 2 is not angle:intensity:width.');
    expect(reason('0:1:1 200:1:1')).to.equal('Row 2: Angle must be from 0 to 180.');
    expect(reason('0:1:1 10::1')).to.equal('Row 2: Intensity must not be negative.');
    expect(reason('0:1:1 10:−1:1')).to.equal('Row 2: Intensity must not be negative.');
    expect(reason('10:1:1 10:1:1')).to.equal('Row 2: Angle must be above that of the row before.');
    expect(reason('10:1:1')).to.equal('Give at least 2 rows angle:intensity:width.');
    expect(reason('')).to.equal('Give at least 2 rows angle:intensity:width.');
    expect(reason('x:1:1 2:1:1')).to.match(/^Row 1: Angle/);
  });
});
