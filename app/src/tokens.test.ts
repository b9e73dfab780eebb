import { expect } from 'chai';
import { readFileSync } from 'node:fs';

type Rgb = readonly [number, number, number];

/** The hexadecimal colours of a theme block of tokens.css. */
function theme(name: 'day' | 'night'): Map<string, Rgb> {
  const css = readFileSync('app/src/tokens.css', 'utf8');
  const block = css.slice(css.indexOf(`[data-theme='${name}']`)).split('}')[0];
  const colours = [...block.matchAll(/--([\w-]+): #([0-9a-f]{6});/g)].map(([, token, hex]) => {
    const parts = [0, 2, 4].map((at) => parseInt(hex.slice(at, at + 2), 16)) as unknown as Rgb;
    return [token, parts] as const;
  });
  return new Map(colours);
}

/** Contrast ratio of WCAG 2.2, from 1 to 21. */
function contrast(a: Rgb, b: Rgb): number {
  const luminance = (colour: Rgb) => {
    const [r, g, blue] = colour.map((part) => {
      const s = part / 255;
      return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * blue;
  };
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (light + 0.05) / (dark + 0.05);
}

describe('the colours', () => {
  it('measure contrast as WCAG does', () => {
    expect(contrast([0, 0, 0], [255, 255, 255])).to.be.closeTo(21, 1e-9);
    expect(contrast([119, 119, 119], [255, 255, 255])).to.be.closeTo(4.48, 0.01);
  });

  const TEXT_ON: readonly (readonly [text: string, ...grounds: string[]])[] = [
    ['ink', 'paper', 'card', 'accent-ground', 'bad-ground', 'glass-1', 'glass-2', 'glass-3'],
    ['muted', 'paper', 'card'],
    ['accent', 'paper', 'card', 'accent-ground'],
    ['ok', 'card', 'paper'],
    ['warn', 'card', 'paper'],
    ['bad', 'card', 'paper', 'bad-ground'],
  ];
  for (const name of ['day', 'night'] as const) {
    it(`let text be read by ${name}: at least 4.5 to 1`, () => {
      const tokens = theme(name);
      for (const [text, ...grounds] of TEXT_ON) {
        for (const ground of grounds) {
          const ratio = contrast(tokens.get(text)!, tokens.get(ground)!);
          expect(ratio, `${text} on ${ground}`).to.be.at.least(4.5);
        }
      }
    });
  }
});
