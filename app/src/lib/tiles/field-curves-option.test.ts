import { expect } from 'chai';
import type { FieldCurves } from '@ulvex/core';
import { brokenAtInfinity, fieldCurvesOption, focusBound, roundBound } from './field-curves-option.ts';

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

  it('lay the whole reference under what is now, each at its own field', () => {
    const now = made(-0.7, 0.1);
    const colours = [486, 588].map((nm) => ({ ...now.foci[0], nm }));
    const before = { ...made(-3, 0.4), foci: colours, largest: 20 };
    const option = fieldCurvesOption(now, STYLE, SIZE, before);
    const series = option.series as { name: string; z?: number; data: [number, number][] }[];
    const grey = series.filter(({ name }) => name.startsWith('reference'));
    expect(grey.map(({ name }) => name)).to.deep.equal([
      'reference, 486 nm tangential',
      'reference, 486 nm sagittal',
      'reference, 588 nm tangential',
      'reference, 588 nm sagittal',
      'reference',
      'reference',
      'reference, through set apertures',
    ]);
    expect(grey.every(({ z = 2 }) => z < 2)).to.equal(true);
    expect(grey[0].data.at(-1)![1]).to.equal(20);
    expect(series.find(({ name }) => name === 'distortion')!.data.at(-1)![1]).to.equal(16);
    expect((option.yAxis as { max: number }[])[0].max).to.equal(20);
  });

  it('do not cut off an illumination that rises towards the edge', () => {
    const rising = { ...made(1, 1), illumination: [1, 1.04, 1.13] };
    const [, , lit] = fieldCurvesOption(rising, STYLE, SIZE).xAxis as { max: number }[];
    expect(lit.max).to.be.within(113, 160);
  });

  it('end on round numbers', () => {
    expect(roundBound([0.31], 0.001)).to.be.closeTo(0.4, 1e-12);
    expect(roundBound([NaN, -7], 0.001)).to.be.closeTo(8, 1e-12);
    expect(roundBound([0], 0.01)).to.be.at.least(0.01);
  });

  it('shows foci that run off to infinity by those that do not, and breaks the curve there', () => {
    expect(focusBound([0, 1, -2, 3])).to.equal(roundBound([3], 0.001));
    expect(focusBound([0, 10, 20, 30, 40, 800_000, -700_000])).to.equal(roundBound([40], 0.001));
    const broken = brokenAtInfinity([10, 40, 3000, -4000, -50, 20], 40);
    expect(broken.map(Number.isNaN)).to.deep.equal([false, false, true, false, false, false]);
    // A curve that crosses the image itself is whole.
    expect(brokenAtInfinity([-3, -1, 1, 3], 40)).to.deep.equal([-3, -1, 1, 3]);
  });
});
