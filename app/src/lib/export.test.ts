import { expect } from 'chai';
import { csvText, tableSvg } from './export.ts';
import { svgText } from './svg-text.ts';

describe('exports', () => {
  it('write CSV that a spreadsheet reads back', () => {
    expect(
      csvText([
        ['a', 'b, c', 'say "so"'],
        [1.5, NaN, -2e-7],
      ]),
    ).to.equal('a,"b, c","say ""so"""\r\n1.5,,-2e-7\r\n');
  });

  it('write no word that a spreadsheet takes for a formula, and leave numbers alone', () => {
    expect(csvText([['=1+1', '+x', '-2', '-a', '@b', '−3', '-1.5e3', '=HYPERLINK("http://x")', -4]])).to.equal(
      `'=1+1,'+x,-2,'-a,'@b,−3,-1.5e3,"'=HYPERLINK(""http://x"")",-4\r\n`,
    );
  });

  it('write text that cannot become markup', () => {
    expect(svgText('<b> & "q"')).to.equal('&lt;b&gt; &amp; &quot;q&quot;');
  });

  it('draw a table: a line for each row, words safe, numbers short and with a true minus', () => {
    const style = { ink: '#111', muted: '#777', line: '#ccc', ground: '#fff' };
    const svg = tableSvg(
      [
        ['surface', 'S₁ mm'],
        ['a<b', -0.0123456789],
        ['lens', 1200.00004],
      ],
      style,
    );
    expect(svg.match(/<text/g)).to.have.length(6);
    expect(svg).to.contain('>a&lt;b</text>');
    expect(svg).to.contain('text-anchor="end" fill="#111">−0.01234568</text>');
    expect(tableSvg([['x'], [-0.0123456789]], style, 5)).to.contain('>−0.012346</text>');
    expect(svg).to.contain('>1200</text>');
    const height = (rows: number) =>
      Number(
        /height="(\d+)"/.exec(
          tableSvg(
            Array.from({ length: rows }, () => ['x']),
            style,
          ),
        )![1],
      );
    expect(height(9) - height(4)).to.equal(100);
  });
});
