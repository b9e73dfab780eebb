import { expect } from 'chai';
import { heightLines } from './height-plot.ts';
import { scaleOf } from './light-map.ts';
import { polarCuts } from './polar-plot.ts';

const points = (path: string) =>
  path
    .split(/[ML]/)
    .slice(1)
    .map((point) => point.split(' ').map(Number));

describe('a map as a landscape', () => {
  const frame = { width: 100, height: 100 };

  it('goes from the back to the front, each line its values high', () => {
    const values = [0, 1, 2, 4, 0, 0];
    const lines = heightLines(values, 3, 2, scaleOf(values, false), frame, { x: 0.2, y: 0.5 });
    expect(lines).to.have.length(2);
    // Row 1 (the larger y) stands at the back: shifted by a fifth, lifted by half; 4 of 4 is the whole rise of 50.
    expect(points(lines[0].line)).to.deep.equal([
      [20, 0],
      [60, 50],
      [100, 50],
    ]);
    expect(points(lines[1].line)).to.deep.equal([
      [0, 100],
      [40, 87.5],
      [80, 75],
    ]);
    expect(lines[1].area).to.match(/L80.0 100.0L0.0 100.0Z$/);
  });

  it('ends where there is no value, without cliffs', () => {
    const values = [NaN, 2, 4, NaN, 3, NaN, NaN, NaN];
    const lines = heightLines(values, 4, 2, scaleOf([0, 4], false), frame, { x: 0.2, y: 0.5 });
    // The row in front in one piece of two places, the one at the back of one place.
    expect(lines.map(({ line }) => points(line).length)).to.deep.equal([1, 2]);
    for (const { area } of lines) expect(area.match(/M/g)).to.have.length(1);
    expect(lines[1].line).not.to.contain('NaN');
    const parted = heightLines([1, NaN, 1], 3, 1, scaleOf([0, 1], false), frame);
    expect(parted[0].line.match(/M/g)).to.have.length(2);
    expect(parted[0].area.match(/Z/g)).to.have.length(2);
  });

  it('loses no peak of a map of many cells', () => {
    const values = new Float64Array(400 * 400);
    values[123 * 400 + 321] = 5;
    const lines = heightLines(values, 400, 400, scaleOf(values, false), frame);
    const highest = lines.filter(({ level }) => level > 0);
    expect(lines.length).to.be.at.most(80);
    expect(highest).to.have.length(1);
  });
});

describe('cuts through a map of directions', () => {
  it('lie at their angles, as long as their values', () => {
    // One row from −90° to 90°, even light: a half circle.
    const even = [1, 1, 1, 1];
    const [azimuth] = polarCuts(
      even,
      4,
      1,
      { x: [-90, 90], y: [-5, 5] },
      scaleOf(even, false),
      { column: 0, row: 0 },
      10,
    );
    const ends = points(azimuth.path);
    expect(ends).to.have.length(4);
    for (const [x, y] of ends) expect(Math.hypot(x, y)).to.be.closeTo(10, 0.1);
    expect(ends[3][0]).to.be.closeTo(10 * Math.sin((67.5 * Math.PI) / 180), 0.06);
    expect(ends[3][1]).to.be.closeTo(-10 * Math.cos((67.5 * Math.PI) / 180), 0.06);
  });

  it('go through the chosen cell', () => {
    const values = [0, 0, 0, 8, 0, 0];
    const cut = (column: number, row: number) =>
      polarCuts(values, 2, 3, { x: [-10, 10], y: [-10, 10] }, scaleOf(values, false), { column, row }, 8);
    expect(points(cut(0, 1)[0].path)[1][1]).to.be.closeTo(-8, 0.1);
    expect(points(cut(0, 1)[1].path).every(([, y]) => Math.abs(y) < 0.1)).to.equal(true);
    expect(points(cut(1, 0)[1].path)[1][1]).to.be.closeTo(-8, 0.1);
  });
});
