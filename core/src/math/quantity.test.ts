import { expect } from 'chai';
import fc from 'fast-check';
import { parseQuantity, type QuantityOptions } from './quantity.ts';

function value(text: string, options: Partial<QuantityOptions> = {}): number {
  const read = parseQuantity(text, { kind: 'length', ...options });
  if (!read.ok) throw new Error(`${text}: ${read.reason}`);
  return read.value;
}

function reason(text: string, options: Partial<QuantityOptions> = {}): string {
  const read = parseQuantity(text, { kind: 'length', ...options });
  return read.ok ? `read as ${read.value}` : read.reason;
}

describe('parseQuantity', () => {
  it('reads numbers, units and arithmetic', () => {
    expect(value('12.5')).to.equal(12.5);
    expect(value('−3')).to.equal(-3);
    expect(value('.5e-3')).to.equal(0.0005);
    expect(value('1in')).to.equal(25.4);
    expect(value('25.4/2')).to.equal(12.7);
    expect(value('1in - 2 mm')).to.be.closeTo(23.4, 1e-14);
    expect(value('2*(3+4)^2')).to.equal(98);
    expect(value('-2^2')).to.equal(-4);
    expect(value('0.55um', { kind: 'wavelength' })).to.be.closeTo(550, 1e-12);
    expect(value('30arcmin', { kind: 'angle' })).to.equal(0.5);
  });

  it('changes the present value', () => {
    expect(value('*1.02', { current: 50 })).to.equal(51);
    expect(value('/4', { current: 50 })).to.equal(12.5);
    expect(value('+= 1in', { current: 1 })).to.equal(26.4);
    expect(value('-= 2', { current: 1 })).to.equal(-1);
    expect(reason('*2', { current: Infinity })).to.match(/no finite/);
  });

  it('takes infinity only where it is legal', () => {
    for (const word of ['inf', 'Infinity', '∞', 'flat'])
      expect(value(word, { allowInfinity: true })).to.equal(Infinity);
    expect(reason('inf')).to.match(/finite/);
  });

  it('says what is wrong', () => {
    expect(reason('')).to.equal('Type a number.');
    expect(reason('1,5')).to.match(/point for decimals/);
    expect(reason('5 furlongs')).to.match(/“furlongs” is no unit here; use nm/);
    expect(reason('1/0')).to.match(/divides by zero/);
    expect(reason('(1+2')).to.match(/closing bracket/);
    expect(reason('2 3')).to.match(/“3” is not expected/);
    expect(reason('1e999')).to.match(/not a finite number/);
    expect(reason('5 constructor')).to.match(/no unit/);
    expect(reason('('.repeat(5000))).to.match(/brackets|missing/);
  });

  it('reads back any double it is shown, and never throws', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (x) => {
        expect(value(String(x)) === x || x === 0).to.equal(true);
      }),
    );
    fc.assert(fc.property(fc.string(), (text) => void parseQuantity(text, { kind: 'length', current: 2 })));
  });
});
