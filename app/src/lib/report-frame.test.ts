import { expect } from 'chai';
import { framedSvg, printScale, sizeOf, wrapped } from './report-frame.ts';

const WORDS = {
  title: 'MTF <edge>',
  subject: 'Tide camera · Staff at 4 m',
  about: 'pupil on the reference sphere · all colours by weight',
  legend: [
    { name: '0°', colour: 'rgb(1,2,3)' },
    { name: 'limit', colour: 'grey', stroke: 'dotted' as const },
  ],
  date: '2026-12-01',
};
const STYLE = { ink: 'ink', muted: 'muted', ground: 'white' };
const PICTURE = '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200"><circle cx="7"/></svg>';

describe('a picture for a report', () => {
  const framed = framedSvg(PICTURE, WORDS, STYLE);

  it('says what it is, of what, how it was made and when, in text that is no markup', () => {
    expect(framed).to.include('MTF &lt;edge&gt;</text>').and.not.include('<edge>');
    for (const said of [
      'Tide camera · Staff at 4 m',
      'pupil on the reference sphere',
      '2026-12-01',
      '>0°</text>',
      '>limit</text>',
    ])
      expect(framed).to.include(said);
    expect(framed).to.match(/stroke="grey" stroke-width="2" stroke-dasharray="2 3"/);
  });

  it('holds the picture whole, in its own coordinates, and is larger than it', () => {
    expect(framed).to.match(
      /<svg overflow="visible" x="14" y="[\d.]+" width="400" height="200" viewBox="0 0 400 200"[^>]*><circle cx="7"\/><\/svg>/,
    );
    const { width, height } = sizeOf(framed)!;
    expect(width).to.equal(428);
    expect(height).to.be.above(280);
    // A document of its own box keeps it.
    const boxed = framedSvg('<svg width="40" height="20" viewBox="0 0 4 2"><g/></svg>', WORDS, STYLE);
    expect(boxed).to.include('viewBox="0 0 4 2"').and.not.include('viewBox="0 0 40 20"');
    expect(framedSvg('<svg><g/></svg>', WORDS, STYLE)).to.equal('<svg><g/></svg>');
  });

  it('breaks its lines within its width, and prints at 300 dots an inch', () => {
    const lines = wrapped('one two three four five six seven eight nine ten', 120);
    expect(lines.length).to.be.above(2);
    expect(lines.every((line) => line.length * 11 * 0.54 <= 121)).to.equal(true);
    expect(lines.join(' ')).to.equal('one two three four five six seven eight nine ten');
    expect(428 * printScale(428)).to.be.closeTo(1890, 1);
    expect(printScale(5000)).to.equal(2);
  });
});
