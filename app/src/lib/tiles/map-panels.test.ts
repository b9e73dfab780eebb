import { expect } from 'chai';
import type { MapPanel } from '@ulvex/core';
import { mapsSvg, resampled, sharedScale, shownMaps } from './map-panels.ts';

function map(
  columns: number,
  reach: number,
  value: (x: number, y: number) => number,
  look: MapPanel['look'] = 'heat',
): MapPanel {
  const at = (k: number) => -reach + (2 * reach * (k + 0.5)) / columns;
  const values = Float64Array.from({ length: columns * columns }, (_, i) =>
    value(at(i % columns), at(Math.floor(i / columns))),
  );
  const axis = (title: string) => ({ title, unit: 'mm', range: [-reach, reach] as const });
  return {
    kind: 'map',
    title: 'map',
    columns,
    rows: columns,
    values,
    x: axis('x'),
    y: axis('y'),
    value: { title: 'value', unit: 'µm' },
    look,
  };
}

describe('maps of tiles', () => {
  it('are taken to the cells of another: straight lines stay what they are, cells of its own too', () => {
    const plane = (x: number, y: number) => 2 * x - y + 0.5;
    const coarse = map(8, 2, plane);
    const onto = map(11, 1.5, plane);
    resampled(coarse, onto).forEach((value, i) => expect(value).to.be.closeTo(onto.values[i], 1e-12));
    resampled(coarse, coarse).forEach((value, i) => expect(value).to.equal(coarse.values[i]));
  });

  it('hold nothing where the other does not reach, or holds nothing', () => {
    const small = map(6, 1, () => 1);
    const wide = resampled(
      small,
      map(12, 2, () => 0),
    );
    expect(wide[0]).to.be.NaN;
    expect(wide[6 * 12 + 6]).to.equal(1);
    const holed = map(6, 1, (x, y) => (Math.hypot(x, y) < 0.4 ? NaN : 1));
    expect(resampled(holed, holed)[2 * 6 + 2]).to.be.NaN;
    expect(resampled(holed, holed)[0]).to.equal(1);
  });

  it('stand beside the reference to one scale that holds both peaks, or are told less the reference', () => {
    const peaked = (peak: number): MapPanel => {
      const made = map(6, 1, (x, y) => peak * Math.max(0, 1 - Math.hypot(x, y)));
      return { ...made, title: 'edge', value: { ...made.value, range: [0, peak] } };
    };
    const [now, before] = [peaked(0.1), peaked(0.4)];
    const labels = new Map([['edge', '16°']]);
    const beside = shownMaps([now], [before], 'beside', labels);
    expect(beside.map(({ name, grey }) => [name, grey])).to.deep.equal([
      ['16°', false],
      ['16°, reference', true],
    ]);
    expect(sharedScale(beside.map(({ panel }) => panel)).high).to.equal(0.4);
    const [left] = shownMaps([now], [before], 'difference', labels);
    expect(left.panel.look).to.equal('signed');
    left.panel.values.forEach((value, i) => expect(value).to.be.closeTo(now.values[i] - before.values[i], 1e-12));
    const angles = { ...before, x: { ...before.x, unit: 'mrad' } };
    expect(shownMaps([now], [angles], 'beside', labels)).to.have.length(1);
  });

  it('share one scale: from what they hold, about 0 where signs count, as asked where a range is', () => {
    const [low, high] = [map(4, 1, (x) => x), map(4, 1, (x) => 5 + x)];
    expect(sharedScale([low, high])).to.deep.include({ low: low.values[0], high: high.values[3] });
    expect(sharedScale([map(4, 1, (x) => x - 2, 'signed')])).to.deep.include({ low: -2.75, high: 2.75 });
    expect(sharedScale([{ ...low, value: { ...low.value, range: [0, 3] } }])).to.deep.include({
      low: 0,
      high: 3,
    });
    expect(sharedScale([map(4, 1, () => 7)])).to.deep.include({ low: 0, high: 1 });
    expect(sharedScale([map(4, 1, (x) => x, 'fringes')])).to.deep.include({ low: 0, high: 1 });
  });

  it('are written cell by cell, those that hold nothing left out', () => {
    const bytes = Uint8ClampedArray.from({ length: 768 }, (_, k) => Math.floor(k / 3));
    const style = { ink: '#111', muted: '#777', ground: '#fff' };
    const written = (value: (x: number, y: number) => number) => {
      const panel = map(5, 1, value);
      return mapsSvg([{ panel, name: 'a & b' }], sharedScale([panel]), bytes, style)!;
    };
    const filled = (svg: string) => svg.match(/fill="rgb/g)!.length;
    const svg = written((x, y) => (x > 0.5 && y > 0.5 ? NaN : x));
    expect(filled(written((x) => x)) - filled(svg)).to.equal(1);
    expect(svg).to.contain('a &amp; b');
    expect(mapsSvg([], { low: 0, high: 1, log: false }, bytes, style)).to.equal(null);
  });
});
