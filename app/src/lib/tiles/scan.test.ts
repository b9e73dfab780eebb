import { success, type Panel, type ScanRow } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { readProjectText } from '@ulvex/core';
import { strFromU8, unzipSync } from 'fflate';
import { xlsxFile } from '../export.ts';
import { scanPanels } from './scan-panels.ts';
import { rangeAbout, rangeTrouble, scanAxis, scanRequests, scanSettings } from './scan-settings.ts';

const project = (() => {
  const read = readProjectText(
    readFileSync(new URL('../../../../samples/tide-camera.ulvex.json', import.meta.url), 'utf8'),
  );
  if (!read.ok) throw new Error('the sample cannot be read');
  return read.project;
})();
const lens = project.lenses[0];
const radius = 'lenses.tide.surfaces.l1_front.radius';
const row = (at: readonly number[], ...values: number[]): ScanRow => ({
  at,
  measured: values.map((value) => success({ value })),
});

describe('the settings of a scan', () => {
  it('turn the last distance over the RMS spot where nothing else is said', () => {
    const { axes, measures } = scanSettings(undefined, project, lens);
    expect(axes[0].address).to.equal('lenses.tide.surfaces.l4_back.thickness');
    expect(measures).to.deep.equal([{ measure: 'rms_spot_radius', settings: {} }]);
  });

  it('are kept where they are legal, and fall away where they are not', () => {
    const stored = {
      axes: [
        { address: radius, from: 13, to: 14, points: 5 },
        { address: 'moon.radius', from: 1, to: 2, points: 3 },
      ],
      measures: [{ measure: 'effective_focal_length', settings: {} }, { measure: 'wishes' }, 7],
    };
    const { axes, measures } = scanSettings(stored, project, lens);
    expect(axes).to.deep.equal([stored.axes[0]]);
    expect(measures).to.have.length(1);
    expect(scanAxis(axes[0]).values).to.deep.equal([13, 13.25, 13.5, 13.75, 14]);
    expect(scanRequests({ axes, measures }, project, lens)[0]).to.deep.include({ lens: 'tide' });
    expect(rangeTrouble({ address: radius, from: 1, to: 1, points: 3 })).to.match(/differ/);
    expect(rangeTrouble({ address: radius, from: 1, to: 2, points: 1 })).to.match(/from 2 to/);
    expect(rangeAbout(radius, 10)).to.deep.include({ from: 9, to: 11 });
  });
});

describe('the pictures of a scan', () => {
  const range = (from: number, to: number, points: number) => ({ address: radius, from, to, points });
  const words = [
    { title: 'a', unit: 'mm' },
    { title: 'b', unit: 'mm' },
  ];
  const measures = [{ measure: 'rms_spot_radius', settings: { field: 'edge' } }];

  it('over one number are a line with its least place, gaps where nothing is known yet', () => {
    const found = [row([1], 5), row([2], 3), undefined];
    const [curve, table] = scanPanels({ axes: [range(1, 3, 3)], measures }, found, words) as [
      Extract<Panel, { kind: 'curves' }>,
      Extract<Panel, { kind: 'table' }>,
    ];
    expect(curve.curves[0].x).to.deep.equal([1, 2, 3]);
    expect(curve.curves[0].y).to.deep.equal([5, 3, NaN]);
    expect(curve.title).to.equal('RMS spot radius [edge]');
    expect(curve.figures!.map(({ name, value }) => [name, value])).to.deep.equal([
      ['least', 3],
      ['at a', 2],
      ['largest', 5],
    ]);
    expect(table.rows).to.deep.equal([
      [1, 5],
      [2, 3],
    ]);
  });

  it('of what is sampled show a standard error to both sides', () => {
    const found: ScanRow[] = [{ at: [1], measured: [success({ value: 5, standardError: 0.5 })] }, row([2], 3)];
    const [curve] = scanPanels({ axes: [range(1, 2, 2)], measures }, found, words) as [
      Extract<Panel, { kind: 'curves' }>,
    ];
    expect(curve.curves.map(({ y }) => y[0])).to.deep.equal([5, 5.5, 4.5]);
  });

  it('over two numbers are a map with values in the middles of cells, rising both ways', () => {
    const axes = [range(2, 1, 2), range(10, 30, 3)]; // the first one runs downward
    const found = [0, 1, 2, 3, 4, 5].map((k) => row([2 - Math.floor(k / 3), 10 * ((k % 3) + 1)], k));
    const [map] = scanPanels({ axes, measures }, found, words) as [Extract<Panel, { kind: 'map' }>];
    expect([map.columns, map.rows]).to.deep.equal([3, 2]);
    expect([...map.values]).to.deep.equal([3, 4, 5, 0, 1, 2]);
    expect(map.y.range).to.deep.equal([0.5, 2.5]);
    expect(map.x.range).to.deep.equal([5, 35]);
  });
});

describe('a table as XLSX', () => {
  it('has every number with every digit, and nothing where there is none', async () => {
    const file = await xlsxFile('a/scan', [
      ['x mm', '=spot'],
      [1 / 3, NaN],
      [2, 0.1 + 0.2],
    ]);
    const parts = unzipSync(new Uint8Array(await file.arrayBuffer()));
    const part = (name: string) => strFromU8(parts[name]);
    expect(part('xl/workbook.xml')).to.contain('name="a scan"');
    const sheet = part('xl/worksheets/sheet1.xml');
    const cell = (place: string) => new RegExp(`<c r="${place}"[^>]*>(.*?)</c>`).exec(sheet)?.[1];
    const value = (place: string) => Number(/<v>(.*)<\/v>/.exec(cell(place) ?? '')?.[1]);
    expect(value('A2')).to.equal(1 / 3);
    expect(cell('B2')).to.equal(undefined);
    expect(value('B3')).to.equal(0.1 + 0.2);
    expect(sheet, 'words that look like a formula').not.to.contain('<f>');
    expect(part('xl/sharedStrings.xml')).to.contain('=spot');
  });
});
