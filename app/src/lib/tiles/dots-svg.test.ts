import { expect } from 'chai';
import type { DotPanel } from '@ulvex/core';
import { dotsSvg } from './dots-svg.ts';

const STYLE = { ground: 'white', ink: 'ink', muted: 'muted', grid: 'grid', fields: [], wave: (nm: number) => `w${nm}` };
const axis = (title: string) => ({ title, unit: 'µm', range: [-20, 20] as const });
const panel: DotPanel = {
  kind: 'dots',
  title: 'axis',
  x: axis('x'),
  y: axis('y'),
  groups: [{ name: 'd', tint: { nm: 588 }, x: [0, 10], y: [0, -20] }],
  outlines: [{ name: 'Airy', tint: 'limit', x: [5, 0], y: [0, 5] }],
};

describe('pictures of dots as a document', () => {
  const pictures = [
    { panel, name: '0°', figures: 'RMS 3.46 µm' },
    { panel: { ...panel, groups: [], outlines: [] }, name: 'edge no spot', figures: '' },
    { panel, name: '<b> & co', figures: '' },
  ];
  const svg = dotsSvg(pictures, 2, STYLE);

  it('have dots at their places to scale, y upward, in their colour, and outlines over them', () => {
    // The box is 240 wide and 40 µm: 6 a µm about its middle; squares of 1.8 about each dot.
    expect(svg).to.include('<path d="M119.10 119.10h1.8v1.8h-1.8zM179.10 239.10h1.8v1.8h-1.8z" fill="w588"/>');
    expect(svg).to.include('<path d="M150.00 120.00L120.00 90.00" fill="none" stroke="ink"/>');
  });

  it('stand in rows, each with its name and figures, in text that is no markup', () => {
    expect(svg).to.match(/^<svg [^>]*width="528" height="580"/);
    expect(svg).to.include('translate(16 298)');
    expect(svg).to.include('>RMS 3.46 µm</text>');
    expect(svg).to.include('&lt;b&gt; &amp; co');
    expect(svg).not.to.include('<b>');
  });
});
