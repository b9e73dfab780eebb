import { expect } from 'chai';
import type { FieldCurves } from '@ulvex/core';
import { fieldCurvesOption, roundBound } from './field-curves-option.ts';

const STYLE = { ink: 'ink', muted: 'muted', grid: 'grid', wave: (nm: number) => `wave ${nm}` };
const made = (distortion: number, focus: number): FieldCurves => ({
  share: [0, 0.5, 1],
  largest: 16,
  unit: '°',
  foci: [{ nm: 587.5618, tangential: [0, focus / 2, focus], sagittal: [0, NaN, -focus] }],
  distortion: [0, distortion / 4, distortion],
  illumination: [1, 0.95, 0.85],
  vignetted: [1, 0.95, 0.6],
  aim: 'stop',
});
const SIZE = { width: 600, height: 250 };

describe('curves over the field', () => {
  it('have bounds that hold them and the reference alike', () => {
    const bounds = (before: FieldCurves | null) =>
      (fieldCurvesOption(made(-0.7, 0.1), STYLE, SIZE, before).xAxis as { min: number; max: number }[]).map(
        ({ min, max }) => [min, max],
      );
    const alone = bounds(null);
    expect(alone[1][1]).to.be.at.least(0.7);
    expect(alone[1][1]).to.be.below(1.5);
    const both = bounds(made(-3, 0.4));
    expect(both[1][1]).to.be.at.least(3);
    expect(both[0][1]).to.be.at.least(0.4);
    for (const [min, max] of both.slice(0, 2)) expect(min).to.equal(-max);
    expect(both[2]).to.deep.equal([0, 100]);
  });

  it('draw what apertures leave only where they take some, and gaps where there is no focus', () => {
    const names = (curves: FieldCurves) =>
      (fieldCurvesOption(curves, STYLE, SIZE).series as { name: string }[]).map(({ name }) => name);
    expect(names(made(1, 1))).to.include('through set apertures');
    const clear = made(1, 1);
    expect(names({ ...clear, vignetted: clear.illumination })).not.to.include('through set apertures');
    const series = fieldCurvesOption(clear, STYLE, SIZE).series as { data: unknown[][] }[];
    expect(series[1].data[1][0]).to.equal('-');
  });

  it('end on round numbers', () => {
    expect(roundBound([0.31], 0.001)).to.be.closeTo(0.4, 1e-12);
    expect(roundBound([NaN, -7], 0.001)).to.be.closeTo(8, 1e-12);
    expect(roundBound([0], 0.01)).to.be.at.least(0.01);
  });
});
