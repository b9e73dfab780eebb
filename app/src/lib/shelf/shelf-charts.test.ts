import { expect } from 'chai';
import { catalogueMaterial, refractiveIndex, type Material, type Project } from '@ulvex/core';
import { dispersionOption, mapOption, type ShelfStyle } from './shelf-charts.ts';
import { stockOf, type Stock } from './stock.ts';

const STYLE: ShelfStyle = {
  ink: 'ink',
  muted: 'muted',
  grid: 'grid',
  accent: 'accent',
  tint: (vd) => `tint ${vd.toFixed(0)}`,
  edge: 'edge',
  wave: (nm) => `wave ${nm}`,
};

interface Drawn {
  readonly data: readonly {
    readonly name: string;
    readonly value: readonly [number, number];
    readonly symbol: string;
    readonly symbolSize: number;
    readonly itemStyle: { readonly color: string; readonly borderWidth: number };
    readonly label?: { readonly formatter: string };
  }[];
}

const bounds = (axis: unknown) => axis as { readonly min: number; readonly max: number; inverse?: boolean };

describe('the map of glasses', () => {
  const stock = stockOf({ materials: [], lenses: [] } as unknown as Project);
  const option = mapOption(stock, new Set(['g517642', 'g648338']), 'g648338', STYLE);
  const [{ data }] = option.series as unknown as readonly Drawn[];

  it('has every glass at its Abbe number and index, high Abbe numbers at the left', () => {
    const crown = data.find(({ name }) => name === 'g517642')!;
    expect(crown.value[0]).to.be.closeTo(64.2, 0.06);
    expect(crown.value[1]).to.be.closeTo(1.517, 5e-4);
    expect(crown.itemStyle.color).to.equal('tint 64');
    expect(bounds(option.xAxis).inverse).to.equal(true);
  });

  it('lets what is chosen and what the lens is made of stand out, drawn last and named', () => {
    expect(data.at(-1)!).to.deep.include({ name: 'g648338', symbolSize: 13 });
    expect(data.at(-2)!).to.deep.include({ name: 'g517642', symbolSize: 11 });
    expect(data.filter(({ label }) => label).map(({ label }) => label!.formatter)).to.have.members([
      catalogueMaterial('g517642')!.label,
      catalogueMaterial('g648338')!.label,
    ]);
    expect(data[0].itemStyle.borderWidth).to.equal(1);
  });

  it('holds all that it shows between round ends, and leaves out what would squeeze the rest', () => {
    const [x, y] = [bounds(option.xAxis), bounds(option.yAxis)];
    for (const { value } of data) {
      expect(value[0]).to.be.within(x.min, x.max);
      expect(value[1]).to.be.within(y.min, y.max);
    }
    const far: Stock = { ...stock[0], material: { ...stock[0].material, id: 'far' }, nd: 4.0, vd: 900 };
    const [{ data: more }] = mapOption([...stock, far], new Set(), null, STYLE).series as unknown as Drawn[];
    expect(more).to.have.length(data.length);
  });

  it('writes names as text, whatever a project calls its glass', () => {
    const named: Stock = { ...stock[0], material: { ...stock[0].material, label: '<img src=x>' } };
    const { tooltip } = mapOption([named], new Set(), null, STYLE) as unknown as {
      tooltip: { formatter: (at: { dataIndex: number }) => string };
    };
    expect(tooltip.formatter({ dataIndex: 0 })).to.match(/^&#60;img src=x&#62;/);
  });

  it('is empty, not broken, where nothing is left to show', () => {
    const empty = mapOption([], new Set(), null, STYLE);
    expect((empty.series as unknown as Drawn[])[0].data).to.have.length(0);
    expect(bounds(empty.xAxis)).to.deep.include({ min: 0, max: 1 });
  });
});

describe('the dispersion of a material', () => {
  const crown: Material = catalogueMaterial('g517642')!;

  it('is its index over the whole of its range, and no further', () => {
    const option = dispersionOption(crown, [], STYLE);
    const [{ data }] = option.series as unknown as { data: readonly (readonly [number, number])[] }[];
    expect(data[0][0]).to.be.closeTo(crown.range[0], 1e-9);
    expect(data.at(-1)![0]).to.be.closeTo(crown.range[1], 1e-6);
    for (const [nm, n] of data) expect(n).to.equal(refractiveIndex(crown.dispersion, nm));
    // Normal dispersion: towards the blue the index rises.
    expect(data[0][1]).to.be.above(data.at(-1)![1]);
    const { min, max } = bounds(option.yAxis);
    expect(data.every(([, n]) => n >= min && n <= max)).to.equal(true);
  });

  it('marks the wavelengths of the lens where the material is defined', () => {
    const outside = crown.range[1] + 100;
    const series = dispersionOption(crown, [{ nm: 486.1327 }, { nm: outside }], STYLE).series as unknown as Drawn[];
    expect(series[1].data).to.have.length(1);
    expect(series[1].data[0].value).to.deep.equal([486.1327, refractiveIndex(crown.dispersion, 486.1327)]);
    expect(series[1].data[0].itemStyle.color).to.equal('wave 486.1327');
  });
});
