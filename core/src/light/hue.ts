/**
 * Piecewise-linear hue (degrees, HSL) of a wavelength for telling lines apart on screen: violet at 400 nm to red at 680 nm.
 * It is a label, not colorimetry; near-infrared and ultraviolet keep the hue of their end of the spectrum.
 */
export function wavelengthHue(nm: number): number {
  const knots: readonly (readonly [number, number])[] = [
    [400, 275],
    [440, 245],
    [480, 215],
    [510, 150],
    [545, 110],
    [588, 42],
    [620, 18],
    [660, 4],
    [680, 0],
  ];
  if (!(nm > knots[0][0])) return knots[0][1];
  for (let i = 1; i < knots.length; i++) {
    const [lowNm, lowHue] = knots[i - 1];
    const [highNm, highHue] = knots[i];
    if (nm <= highNm) return lowHue + ((highHue - lowHue) * (nm - lowNm)) / (highNm - lowNm);
  }
  return 0;
}
