import { expect } from 'chai';
import { DRAWN_WHOLE, rowHeight, rowWindow, scrollTo } from './row-window.ts';
import type { SurfaceRow } from './rows.ts';

const rowsOf = (count: number) =>
  Array.from(
    { length: count },
    (_, index) =>
      ({
        surface: { id: `s${index}` },
        index,
        medium: index === count - 1 ? null : { solid: index % 2 === 0 },
      }) as unknown as SurfaceRow,
  );

describe('the rows of a prescription that are drawn', () => {
  it('are all of a short list', () => {
    const rows = rowsOf(DRAWN_WHOLE);
    const { drawn, after } = rowWindow(rows, 500, 300, null);
    expect(drawn.map(({ row }) => row)).to.deep.equal(rows);
    expect(drawn.every(({ before }) => before === 0)).to.equal(true);
    expect(after).to.equal(0);
  });

  it('are few of a long one, and what is not drawn keeps its height', () => {
    const rows = rowsOf(2000);
    const whole = rows.reduce((sum, row) => sum + rowHeight(row), 0);
    for (const top of [0, 777, 40_000, whole - 300]) {
      const { drawn, after } = rowWindow(rows, top, 300, 's1000');
      expect(drawn.length).to.be.within(20, 60);
      const height = drawn.reduce((sum, { row, before }) => sum + before + rowHeight(row), after);
      expect(height).to.equal(whole);
      // Whatever is seen is drawn, and the row that has the focus too.
      let place = 0;
      for (const row of rows) {
        const seen = place + rowHeight(row) > top && place < top + 300;
        const there = drawn.some((one) => one.row === row);
        if (seen || row.surface.id === 's1000') expect(there, row.surface.id).to.equal(true);
        place += rowHeight(row);
      }
    }
  });

  it('come to the middle when a row is gone to', () => {
    const rows = rowsOf(2000);
    const top = scrollTo(rows, 's1500', 300)!;
    const { drawn } = rowWindow(rows, top, 300, null);
    expect(drawn.some(({ row }) => row.surface.id === 's1500')).to.equal(true);
    expect(scrollTo(rows, 'none', 300)).to.equal(null);
    expect(scrollTo(rows, 's0', 300)).to.equal(0);
  });
});
