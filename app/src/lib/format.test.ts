import { expect } from 'chai';
import { exactText, fixed, lengthText, niceStep, plain, radiusText, significant } from './format.ts';

describe('number formats', () => {
  it('round for the eye, with a true minus and no minus zero', () => {
    expect(fixed(-1.256, 2)).to.equal('−1.26');
    expect(fixed(-0.001, 2)).to.equal('0.00');
    expect(fixed(Infinity, 2)).to.equal('∞');
    expect(fixed(NaN, 2)).to.equal('–');
  });

  it('keep significant digits', () => {
    expect(significant(0.00123456, 3)).to.equal('0.00123');
    expect(significant(123456, 3)).to.equal('123456');
    expect(significant(1.5e-9, 3)).to.equal('1.50e−9');
    expect(significant(-8.2087, 2)).to.equal('−8.2');
  });

  it('show lengths as the column needs them, and every digit while editing', () => {
    expect(lengthText(13.8165)).to.equal('13.8165');
    expect(lengthText(970.198)).to.equal('970.198');
    expect(lengthText(-23.65551234)).to.equal('−23.6555');
    expect(lengthText(Infinity)).to.equal('∞');
    expect(plain(486.1327)).to.equal('486.1327');
    expect(plain(-1)).to.equal('−1');
    expect(plain(Infinity)).to.equal('∞');
    expect(exactText(0.1 + 0.2)).to.equal('0.30000000000000004');
  });

  it('keep radii readable at every size', () => {
    expect(radiusText(8.2087)).to.equal('8.21 µm');
    expect(radiusText(17383.9)).to.equal('17.4 mm');
    expect(radiusText(1.8e-5)).to.equal('<0.001 µm');
  });

  it('choose steps of 1, 2 and 5', () => {
    expect(niceStep(50, 10)).to.equal(5);
    expect(niceStep(23, 10)).to.equal(2);
    expect(niceStep(0.9, 9)).to.be.closeTo(0.1, 1e-15);
  });
});
