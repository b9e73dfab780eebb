import { expect } from 'chai';
import type { BarPanel, Curve, CurvePanel, DotPanel } from '@ulvex/core';
import {
  areDots,
  boundsOf,
  columnsFor,
  layoutOf,
  legendOf,
  panelOption,
  shownName,
  type PanelStyle,
} from './panel-option.ts';

const STYLE: PanelStyle = {
  ink: 'ink',
  muted: 'muted',
  grid: 'grid',
  fields: ['blue', 'rust'],
  wave: (nm) => `wave ${nm}`,
};
const SIZE = { width: 600, height: 300 };
const curve = (name: string, y: readonly number[], part: Partial<Curve> = {}): Curve => ({
  name,
  tint: 'ink',
  x: y.map((_, k) => k),
  y,
  ...part,
});
const curves = (...list: Curve[]): CurvePanel => ({
  kind: 'curves',
  title: '',
  x: { title: 'field', unit: '°' },
  y: { title: 'spot', unit: 'µm' },
  curves: list,
});
const AXIS = { title: 'x', unit: 'µm' };
const LABELS = new Map([
  ['edge', '16°'],
  ['l1_front', 'L1 front'],
]);

/** Axes of an option as a list, whatever the library allows. */
function axes(option: ReturnType<typeof panelOption>, which: 'xAxis' | 'yAxis') {
  return option[which] as unknown as readonly {
    min: number;
    max: number;
    interval: number;
    data?: readonly string[];
    axisLabel: { interval?: number; fontSize: number };
  }[];
}

describe('charts of analyses', () => {
  it('have round bounds that hold all values, 0 among them where it is near, or in the middle', () => {
    expect(boundsOf({ title: '', unit: '' }, [3.1, 9.7])).to.deep.include({ min: 0, max: 10 });
    const far = boundsOf({ title: '', unit: '' }, [97, 103]);
    expect(far.min).to.be.within(90, 97);
    expect(far.max).to.be.within(103, 110);
    const centred = boundsOf({ title: '', unit: '', centred: true }, [-0.2, 1.3]);
    expect(centred.min).to.equal(-centred.max);
    expect(centred.max).to.be.at.least(1.3);
    expect(boundsOf({ title: '', unit: '', range: [0, 16] }, [40])).to.deep.include({ min: 0, max: 16 });
    expect(boundsOf({ title: '', unit: '' }, [NaN])).to.deep.include({ min: 0 });
  });

  it('move the ends of a range about 0 out to figures that can be read, and keep those that can', () => {
    const ends = (most: number, ticks = 4) => {
      const { min, max, step } = boundsOf({ title: '', unit: '', range: [-most, most] }, [], ticks);
      expect(min).to.equal(-max);
      expect(max / step).to.be.closeTo(Math.round(max / step), 1e-9);
      return [max, step];
    };
    expect(ends(4.509)).to.deep.equal([5, 2.5]);
    expect(ends(15.2)).to.deep.equal([16, 8]);
    expect(ends(0.0076)).to.deep.equal([0.008, 0.004]);
    expect(ends(1)).to.deep.equal([1, 0.5]);
    expect(ends(0.5, 6)).to.deep.equal([0.5, 0.25]);
    expect(ends(0.2, 6)[0]).to.be.closeTo(0.2, 1e-12);
    for (let most = 0.011; most < 40; most *= 1.037) expect(ends(most)[0]).to.be.within(most * 0.999, 1.34 * most);
  });

  it('are small pictures if there are many of dots, or where an analysis says so', () => {
    const dots: DotPanel = { kind: 'dots', title: '', x: AXIS, y: AXIS, groups: [], outlines: [] };
    const many = [dots, dots, dots, dots];
    expect(areDots(many, layoutOf(many, {}))).to.equal(true);
    expect(areDots([dots], layoutOf([dots], {}))).to.equal(false);
    expect(areDots([dots], layoutOf([dots], { compact: true }))).to.equal(true);
    expect(areDots([curves()], layoutOf([curves()], { compact: true }))).to.equal(false);
  });

  it('that are small have their range at the first of each row, and a line through 0', () => {
    const small = {
      ...curves(curve('edge', [1, 2])),
      x: { ...AXIS, range: [-1, 1] as const },
      y: { ...AXIS, range: [-40, 40] as const },
    };
    const option = panelOption([small, small], [], { columns: 2, compact: true }, LABELS, STYLE, SIZE);
    const [first, second] = axes(option, 'yAxis') as unknown as { axisLabel: { show: boolean }; interval: number }[];
    expect([first.axisLabel.show, second.axisLabel.show, first.interval]).to.deep.equal([true, false, 40]);
  });

  it('name limits of one kind by what they have in common', () => {
    const limit = (name: string) => curve(name, [1, 1], { tint: 'limit', stroke: 'dotted' });
    const names = (...list: Curve[]) =>
      legendOf([curves(curve('edge', [0, 1]), ...list)], STYLE, LABELS).map(({ name }) => name);
    expect(names(limit('perfect lens, 25/mm'), limit('perfect lens, 50/mm'))).to.include('perfect lens');
    expect(names(limit('perfect lens, 25/mm'))).to.include('perfect lens, 25/mm');
  });

  it('take the reference into their scales: nothing of it is cut off', () => {
    const now = curves(curve('edge', [1, 2, 3]));
    const before = curves(curve('edge', [4, 30, 5]));
    const [own] = axes(panelOption([now], [], { compact: false }, LABELS, STYLE, SIZE), 'yAxis');
    const [both] = axes(panelOption([now], [before], { compact: false }, LABELS, STYLE, SIZE), 'yAxis');
    expect(own.max).to.be.below(10);
    expect(both.max).to.be.at.least(30);
    // Also where each has a range of its own, that of what is there now being narrower.
    const ranged = (panel: CurvePanel, top: number) => ({ ...panel, y: { ...panel.y, range: [0, top] as const } });
    const drawn = panelOption([ranged(now, 3)], [ranged(before, 30)], { compact: false }, LABELS, STYLE, SIZE);
    expect(axes(drawn, 'yAxis')[0].max).to.equal(30);
    const other = { ...ranged(before, 30), y: { title: 'else', unit: 'lx', range: [0, 30] as const } };
    const apart = panelOption([ranged(now, 3)], [other], { compact: false }, LABELS, STYLE, SIZE);
    expect(axes(apart, 'yAxis')[0].max).to.equal(3);
    const series = panelOption([now], [before], { compact: false }, LABELS, STYLE, SIZE).series as {
      name: string;
      lineStyle: { color: string };
    }[];
    expect(series.map(({ name }) => name)).to.deep.equal(['reference, 16°', '16°']);
    expect(series[0].lineStyle.color).to.equal('muted');
  });

  it('lay no angles over lengths, and draw the reference under what is now', () => {
    const now = curves(curve('edge', [1, 2, 3]));
    const series = (before: CurvePanel) =>
      panelOption([now], [before], { compact: false }, LABELS, STYLE, SIZE).series as unknown as { z?: number }[];
    const [under, over] = series(curves(curve('edge', [2, 3, 4])));
    expect(under.z ?? 2).to.be.below(over.z ?? 2);
    expect(series({ ...now, y: { title: 'spot', unit: 'mrad' } })).to.have.length(1);
  });

  it('name every bar while the names can be read, by what is called on screen', () => {
    const bars = (count: number): BarPanel => ({
      kind: 'bars',
      title: '',
      value: { title: 'share', unit: '%' },
      names: Array.from({ length: count }, (_, k) => (k === 0 ? 'l1_front' : `s${k}`)),
      series: [{ name: 'share', tint: 'ink', values: Array.from({ length: count }, (_, k) => k) }],
    });
    const few = axes(panelOption([bars(8)], [], { compact: false }, LABELS, STYLE, SIZE), 'yAxis')[0];
    expect(few.data![0]).to.equal('L1 front');
    expect(few.axisLabel.interval).to.equal(0);
    const many = axes(panelOption([bars(80)], [], { compact: false }, LABELS, STYLE, SIZE), 'yAxis')[0];
    expect(many.axisLabel.interval).to.equal(undefined);
    expect(many.axisLabel.fontSize).to.equal(8);
  });

  it('stand side by side as they have the most room', () => {
    expect(columnsFor(6, { width: 900, height: 300 }, 1.5)).to.equal(3);
    expect(columnsFor(6, { width: 300, height: 900 }, 1.5)).to.equal(1);
    expect(columnsFor(1, { width: 10, height: 10 }, 1)).to.equal(1);
  });

  it('say what their colours stand for, each once', () => {
    const panel = curves(
      curve('edge tangential', [1], { tint: { field: 1 } }),
      curve('edge sagittal', [1], { tint: { field: 1 }, stroke: 'dashed' }),
      curve('perfect lens', [1, 2], { tint: 'limit', stroke: 'dotted' }),
    );
    expect(legendOf([panel], STYLE, LABELS)).to.deep.equal([
      { name: '16°', colour: 'rust', stroke: 'solid' },
      { name: 'perfect lens', colour: 'muted', stroke: 'dotted' },
    ]);
    expect(legendOf([curves(curve('alone', [1]))], STYLE, LABELS)).to.deep.equal([]);
    expect(shownName('edge across x', LABELS)).to.equal('16° across x');
    expect(shownName('nobody', LABELS)).to.equal('nobody');
  });
});
