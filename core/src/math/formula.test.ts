import { expect } from 'chai';
import fc from 'fast-check';
import { formulaEvaluator, readFormula, type FormulaEvaluator, type FormulaValue } from './formula.ts';

const NAMES = new Map(
  ['length', 'focal length', 'f-number', 'tilt', 'lens.front.radius', 'e2e'].map((name) => [name, name]),
);
const VALUES: Readonly<Record<string, FormulaValue>> = {
  length: { value: 40, unit: 'mm' },
  'focal length': { value: 36, unit: 'mm' },
  'f-number': { value: 4, unit: '' },
  tilt: { value: 30, unit: '°' },
  'lens.front.radius': { value: 500, unit: 'µm' },
  e2e: { value: 50, unit: '%' },
};

describe('formulas', () => {
  let evaluate: FormulaEvaluator;
  before(async function () {
    this.timeout(20_000); // the evaluator is loaded when it is first needed
    evaluate = await formulaEvaluator();
  });

  const answer = (text: string): FormulaValue | string => {
    const read = readFormula(text, NAMES);
    if (!read.ok) return read.reason;
    const result = evaluate(
      read.value.expression,
      read.value.names.map(({ target }) => VALUES[target]),
    );
    return result.ok ? result.value : result.reason;
  };
  const close = (text: string, value: number, unit: string) => {
    const found = answer(text);
    if (typeof found === 'string') throw new Error(`${text}: ${found}`);
    expect(found.unit, text).to.equal(unit);
    expect(found.value, text).to.be.closeTo(value, 1e-12 * Math.max(1, Math.abs(value)));
  };

  it('know the longest name, in any case, with hyphens, blanks and dots', () => {
    close('Focal Length / F-Number', 9, 'mm');
    close('length - focal length', 4, 'mm');
    close('length-focal length', 4, 'mm');
    close('lens.front.radius * 2', 1, 'mm');
    close('1 + e2e', 1.5, '');
  });

  it('reckon with units', () => {
    close('2 in + 3 mm', 53.8, 'mm');
    close('1/2 in', 1 / 50.8, '1/mm'); // a unit belongs to its number
    close('(1 + 2) mm', 3, 'mm');
    close('10 µm * 2', 0.02, 'mm');
    close('focal length²', 1296, 'mm²');
    close('sqrt(focal length^2)', 36, 'mm');
    close('focal length * sin(tilt)', 18, 'mm');
    close('tan(45°)', 1, '');
    close('10 arcmin * 6', 1, '°');
    close('tilt / length', 0.75, '°/mm');
    close('max(3 mm, 1 cm)', 10, 'mm');
    close('5 % × 200', 10, '');
    close('588 nm·f-number', 2.352e-3, 'mm');
  });

  it('tell a name alone to the last digit', () => {
    expect(answer('e2e')).to.deep.equal({ value: 50, unit: '%' });
    expect(answer(' tilt ')).to.deep.equal({ value: 30, unit: '°' });
  });

  it('refuse what means nothing or does not go together, and say what', () => {
    const refusals: readonly (readonly [string, RegExp])[] = [
      ['', /^Type a measure/],
      ['2 length', /sign such as \* is missing before “length”/],
      ['(1+2)(3)', /missing before “\(”/],
      ['2 3', /missing before “3”/],
      ['focal length mm', /has a unit already/],
      ['5 mm + 2°', /cannot be/],
      ['focal length + 1', /cannot be/],
      ['sin(focal length)', /does not take numbers with this unit/],
      ['focal', /“focal” is no measure.* Did you mean “focal length”\?/],
      ['1,5 mm', /decimals with a point/],
      ['(1', /not complete/],
      ['3 +', /not complete/],
      ['1/0', /not a finite number/],
      ['sqrt(0-1)', /not a real number/],
      ['length[2', /A “\]” is missing after length/],
      ['constructor', /is no measure/],
      ['2 # 3', /“#” has no meaning/],
      ['import("x")', /is no measure/],
      ['length * tilt * tilt', /no meaning here/],
    ];
    for (const [text, reason] of refusals) expect(answer(text), text).to.match(reason);
  });

  it('hand on what stands in brackets behind a name', () => {
    const read = readFormula('length[worst] + f-number [a=1, b] * tilt', NAMES);
    expect(read.ok && read.value.names.map(({ choice }) => choice)).to.deep.equal(['worst', 'a=1, b', null]);
  });

  it('never throw, whatever is typed', () => {
    const piece = fc.constantFrom(
      'length',
      'tilt',
      '2',
      '.5',
      'mm',
      '°',
      '(',
      ')',
      '+',
      '-',
      '*',
      '/',
      '^',
      '[',
      ']',
      ',',
      'sin',
      'pi',
      ' ',
      '²',
      'x',
      '%',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
        const found = answer(pieces.join(''));
        if (typeof found !== 'string') expect(Number.isFinite(found.value)).to.equal(true);
      }),
      { numRuns: 2000, seed: 5 },
    );
  });
});
