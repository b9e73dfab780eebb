import { expect } from 'chai';
import { failure, success, type SpotDiagram } from '@ulvex/core';
import { spotSvg } from './spot-svg.ts';

const STYLE = { ground: 'white', ink: 'ink', muted: 'muted', line: 'line', wave: (nm: number) => `w${nm}` };

/** Two fields: one of two rays of one colour, one that no ray reaches. */
const diagram = {
  unit: 'µm',
  pictures: [
    {
      field: 'axis',
      spot: success({
        rms: 3.45678,
        airy: [5, 6],
        colours: [{ nm: 588, x: Float64Array.of(0, 10), y: Float64Array.of(0, -20) }],
      }),
    },
    { field: 'edge', spot: failure('rays & <all> of them are lost') },
  ],
} as unknown as SpotDiagram;

describe('the spot diagram as a document', () => {
  const svg = spotSvg(diagram, 20, new Map([['axis', '0°']]), 'F d C · box ±20 µm', STYLE);

  it('has dots at their places to scale, y upward, in the colour of their wavelength', () => {
    // The box is 240 wide and 40 µm: 6 a µm about its middle; squares of 1.8 about each dot.
    expect(svg).to.include('<path d="M119.10 119.10h1.8v1.8h-1.8zM179.10 239.10h1.8v1.8h-1.8z" fill="w588"/>');
    expect(svg).to.include('<ellipse cx="120" cy="120" rx="30.00" ry="36.00"');
  });

  it('tells the RMS, the fields by what they are called, and how it was made', () => {
    expect(svg).to.include('RMS 3.457 µm');
    expect(svg).to.include('>0°</text>');
    expect(svg).to.include('>edge</text>');
    expect(svg).to.include('F d C · box ±20 µm');
  });

  it('says why a field has no spot, in text that is no markup', () => {
    expect(svg).to.include('rays &amp; &lt;all&gt; of them are lost');
    expect(svg).not.to.include('<all>');
  });
});
