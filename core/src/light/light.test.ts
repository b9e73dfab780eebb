import { expect } from 'chai';
import { wavelengthHue } from './hue.ts';
import { SPECTRAL_LINES, lineSymbol, wavelengthLabel, wavelengthName } from './spectral-lines.ts';

describe('spectral lines', () => {
  it('are in the order of wavelength and recognised by it', () => {
    for (let i = 1; i < SPECTRAL_LINES.length; i++) {
      expect(SPECTRAL_LINES[i].nm).to.be.greaterThan(SPECTRAL_LINES[i - 1].nm);
    }
    expect(lineSymbol(587.56)).to.equal('d');
    expect(lineSymbol(590)).to.equal(null);
    expect(wavelengthLabel(632.8)).to.equal('633 nm');
    expect(wavelengthName(632.8)).to.equal('633 nm');
    expect(wavelengthName(587.5618)).to.equal('d 588 nm');
  });
});

describe('wavelengthHue', () => {
  it('falls from violet to red without a jump', () => {
    for (let nm = 380; nm < 1100; nm++) {
      const [here, next] = [wavelengthHue(nm), wavelengthHue(nm + 1)];
      expect(next).to.be.at.most(here);
      expect(here - next).to.be.lessThan(3);
    }
    expect(wavelengthHue(300)).to.equal(275);
    expect(wavelengthHue(1064)).to.equal(0);
  });
});
