import { expect } from 'chai';
import { DECADES, paletteBytes, placeOn, scaleOf, smoothed, valueAtPlace } from './light-map.ts';

describe('maps of light', () => {
  it('colours rise or fall in lightness all the way: no two values look the other way round', () => {
    for (const theme of ['day', 'night'] as const)
      for (const palette of ['depth', 'grey'] as const) {
        const bytes = paletteBytes(theme, palette);
        const lightness = Array.from(
          { length: 256 },
          (_, i) => 0.2126 * bytes[3 * i] + 0.7152 * bytes[3 * i + 1] + 0.0722 * bytes[3 * i + 2],
        );
        const sign = theme === 'day' ? -1 : 1;
        for (let i = 1; i < 256; i++) expect(sign * (lightness[i] - lightness[i - 1])).to.be.at.least(-0.8); // a byte’s rounding
        expect(sign * (lightness[255] - lightness[0])).to.be.above(150);
      }
  });

  it('scales go from nothing, or over four decades, to the largest value, and back', () => {
    const values = [0, 3, 12];
    for (const log of [false, true]) {
      const scale = scaleOf(values, log);
      expect(placeOn(scale, 12)).to.equal(1);
      expect(placeOn(scale, 0)).to.equal(0);
      expect(valueAtPlace(scale, placeOn(scale, 3))).to.be.closeTo(3, 1e-12);
    }
    expect(scaleOf(values, true).low).to.be.closeTo(12 / 10 ** DECADES, 1e-15);
    expect(placeOn(scaleOf([0, 0], false), 0)).to.equal(0); // a dark map has no scale
  });

  it('smoothing keeps all the light, at the edges too', () => {
    const values = new Float64Array(20);
    values[0] = 5;
    values[13] = 2;
    const soft = smoothed(values, 5, 4, 1);
    expect(soft.reduce((sum, value) => sum + value, 0)).to.be.closeTo(7, 1e-12);
    expect(Math.max(...soft)).to.be.below(5);
    expect(smoothed(values, 5, 4, 0)).to.equal(values);
  });
});
