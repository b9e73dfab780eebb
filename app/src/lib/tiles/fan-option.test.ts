import { Evaluation, rayFans, readProjectText, success, type FanCurve, type RayFans } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { fanOption, fanRows, fanScale, type FanStyle } from './fan-option.ts';
import { FAN_DEFAULTS } from './settings.ts';

const STYLE: FanStyle = {
  ink: 'ink',
  muted: 'muted',
  line: 'line',
  grid: 'grid',
  wave: (nm) => `wave ${nm}`,
};
const SIZE = { width: 600, height: 300 };

/** The fans of the sample, moved out of focus by so much, mm. */
function fansOf(defocus = 0): RayFans {
  const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
  if (!read.ok) throw new Error('the sample cannot be read');
  const [lens] = read.project.lenses;
  const last = lens.surfaces.length - 2;
  const surfaces = lens.surfaces.map((one, j) =>
    j === last ? { ...one, after: { ...one.after!, thickness: one.after!.thickness + defocus } } : one,
  );
  const seen = new Evaluation({ ...read.project, lenses: [{ ...lens, surfaces }] }).lens(lens.id);
  const fans = seen.ok ? rayFans(seen.value, { pupil: 'full', rays: 21 }) : seen;
  if (!fans.ok) throw new Error(fans.reason);
  return fans.value;
}

const labels = new Map([['axis', '0°']]);
const drawn = (fans: RayFans, before: RayFans | null = null, direction = FAN_DEFAULTS.direction) =>
  fanOption(fans, { ...FAN_DEFAULTS, direction }, labels, STYLE, SIZE, before);
const list = (one: unknown) => one as Record<string, never>[];

describe('charts of ray fans', () => {
  const fans = fansOf();

  it('have one scale for all, a round number that holds every error, or the one that is asked for', () => {
    for (const one of [fans, fansOf(0.05), fansOf(-0.3)]) {
      const scale = fanScale(one, FAN_DEFAULTS);
      expect(scale).to.be.at.least(one.largest);
      expect(scale).to.be.below(1.6 * one.largest);
      expect(Number(scale.toPrecision(2))).to.be.closeTo(scale, 1e-9 * scale);
    }
    expect(fanScale(fans, { ...FAN_DEFAULTS, scale: 20 })).to.equal(20);
    for (const axis of list(drawn(fans).yAxis))
      expect([axis.min, axis.max]).to.deep.equal([-fanScale(fans, FAN_DEFAULTS), fanScale(fans, FAN_DEFAULTS)]);
  });

  it('stand in a column for each field and a row for each direction, inside of the tile', () => {
    expect(fanRows({ ...FAN_DEFAULTS, direction: 'sagittal' })).to.deep.equal(['sagittal']);
    const grids = list(drawn(fans).grid) as unknown as { left: number; top: number; width: number; height: number }[];
    expect(grids).to.have.length(6);
    for (const { left, top, width, height } of grids) {
      expect(left + width).to.be.at.most(SIZE.width);
      expect(top + height).to.be.at.most(SIZE.height);
    }
    expect(new Set(grids.map(({ left }) => left)).size).to.equal(3);
    expect(list(drawn(fans, null, 'tangential').grid)).to.have.length(3);
    const titles = list(drawn(fans).title) as unknown as { text: string }[];
    expect(titles[0].text).to.equal('0° tangential');
    expect(titles[4].text).to.match(/^zone sagittal/);
  });

  it('draw every colour in its hue, the reference in grey beneath', () => {
    type Drawn = { name: string; lineStyle: { color: string }; silent?: boolean };
    const alone = list(drawn(fans).series) as unknown as Drawn[];
    expect(alone).to.have.length(3 * 2 * 3);
    expect(new Set(alone.map(({ lineStyle }) => lineStyle.color)).size).to.equal(3);
    const both = list(drawn(fans, fansOf(0.05)).series) as unknown as Drawn[];
    expect(both).to.have.length(2 * alone.length);
    for (const { name, lineStyle, silent } of both.slice(0, alone.length)) {
      expect(name).to.match(/^reference/);
      expect(lineStyle.color).to.equal('muted');
      expect(silent).to.equal(true);
    }
  });

  it('leave gaps where rays do not arrive', () => {
    const broken = (curve: FanCurve): FanCurve => ({
      ...curve,
      error: curve.error.map((error, i) => (i === 0 ? NaN : error)),
    });
    const fields = fans.fields.map(({ field, fans: outcome }) => {
      if (!outcome.ok) throw new Error(outcome.reason);
      return { field, fans: success({ ...outcome.value, tangential: outcome.value.tangential.map(broken) }) };
    });
    const torn: RayFans = { ...fans, fields };
    const [first] = list(drawn(torn).series) as unknown as { data: (number | string)[][] }[];
    expect(first.data[0][1]).to.equal('-');
    expect(first.data[1][1]).to.be.a('number');
  });
});
