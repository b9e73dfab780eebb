import { expect } from 'chai';
import { failure, success, type MtfChart } from '@ulvex/core';
import { mtfOption } from './mtf-option.ts';

const STYLE = { muted: 'muted', grid: 'grid', fields: ['blue', 'rust'] };
const LABELS = new Map([
  ['axis', '0°'],
  ['edge', '16°'],
]);
const LIMIT = [1, 0.9, 0.8];
const curves = (field: string, tangential: readonly number[], sagittal: readonly number[]) => ({
  field,
  curves: success({
    field,
    tangential,
    sagittal,
    limits: { tangential: LIMIT, sagittal: LIMIT },
    residual: 0,
  }),
});
const chart = (part: Partial<MtfChart> = {}): MtfChart => ({
  unit: 'mm',
  frequencies: [0, 50, 100],
  fields: [curves('axis', [1, 0.6, 0.3], [1, 0.6, 0.3]), curves('edge', [1, 0.4, NaN], [1, 0.5, 0.2])],
  cutoff: 500,
  suggested: 100,
  detail: 'full',
  aim: 'stop',
  ...part,
});

interface Line {
  readonly name: string;
  readonly z?: number;
  readonly data: readonly (readonly [number, number | '-'])[];
  readonly lineStyle: { readonly color: string; readonly type: string };
}
const lines = (now: MtfChart, before: MtfChart | null = null) =>
  mtfOption(now, LABELS, STYLE, before).series as unknown as readonly Line[];

describe('modulation over frequency', () => {
  it('is full along y, dashed along x, in the colour of its field, under the dotted limit', () => {
    const found = lines(chart());
    expect(found.map(({ name, lineStyle }) => [name, lineStyle.color, lineStyle.type])).to.deep.equal([
      ['limit of diffraction', 'muted', 'dotted'],
      ['0° tangential', 'blue', 'solid'],
      ['0° sagittal', 'blue', 'dashed'],
      ['16° tangential', 'rust', 'solid'],
      ['16° sagittal', 'rust', 'dashed'],
    ]);
    expect(found[0].data).to.deep.equal([
      [0, 1],
      [50, 0.9],
      [100, 0.8],
    ]);
  });

  it('has a limit for each field and direction, in the colour of the field, if they differ', () => {
    const [axis, edge] = chart().fields;
    if (!edge.curves.ok) throw new Error('no curves');
    const wider = { ...edge.curves.value, limits: { tangential: [1, 0.7, 0.5], sagittal: LIMIT } };
    const found = lines(chart({ fields: [axis, { field: 'edge', curves: success(wider) }] }));
    const limits = found.filter(({ lineStyle }) => lineStyle.type === 'dotted');
    expect(limits.map(({ name, lineStyle, data }) => [name, lineStyle.color, data[1][1]])).to.deep.equal([
      ['0° tangential limit', 'blue', 0.9],
      ['0° sagittal limit', 'blue', 0.9],
      ['16° tangential limit', 'rust', 0.7],
      ['16° sagittal limit', 'rust', 0.9],
    ]);
  });

  it('ends where nothing is known, and leaves out a field without an image', () => {
    const [, , , edge] = lines(chart());
    expect(edge.data[2]).to.deep.equal([100, '-']);
    const dark = chart({ fields: [{ field: 'axis', curves: failure('no ray arrives') }, chart().fields[1]] });
    expect(lines(dark).map(({ name }) => name)).to.deep.equal([
      'limit of diffraction',
      '16° tangential',
      '16° sagittal',
    ]);
  });

  it('lies over the reference, which keeps its own frequencies', () => {
    const before = chart({ frequencies: [0, 40, 80] });
    const found = lines(chart(), before);
    const grey = found.filter(({ name }) => name.startsWith('reference, '));
    expect(grey).to.have.length(4);
    expect(grey.every(({ z = 2, lineStyle }) => z < 2 && lineStyle.color === 'muted')).to.equal(true);
    expect(grey[0].data[1][0]).to.equal(40);
    expect(found.at(-1)!.z ?? 2).to.equal(2);
  });

  it('names the unit of its frequencies, and goes from 0 to 1', () => {
    const option = mtfOption(chart({ unit: 'mrad' }), LABELS, STYLE);
    expect(option.xAxis).to.deep.include({ name: 'cycles/mrad', min: 0, max: 100 });
    expect(option.yAxis).to.deep.include({ min: 0, max: 1 });
  });
});
