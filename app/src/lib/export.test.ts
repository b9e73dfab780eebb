import { expect } from 'chai';
import { csvText, svgText } from './export.ts';

describe('exports', () => {
  it('write CSV that a spreadsheet reads back', () => {
    expect(
      csvText([
        ['a', 'b, c', 'say "so"'],
        [1.5, NaN, -2e-7],
      ]),
    ).to.equal('a,"b, c","say ""so"""\r\n1.5,,-2e-7\r\n');
  });

  it('write text that cannot become markup', () => {
    expect(svgText('<b> & "q"')).to.equal('&lt;b&gt; &amp; &quot;q&quot;');
  });
});
