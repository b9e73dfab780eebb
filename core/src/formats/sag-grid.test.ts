import { expect } from 'chai';
import { readSagGrid } from './sag-grid.ts';

const list = (f: (x: number, y: number) => number, step = 0.1, count = 5) =>
  Array.from({ length: count * count }, (_, i) => {
    const [x, y] = [step * ((i % count) - 2), step * (Math.floor(i / count) - 1)];
    return `${x} ${y} ${f(x, y)}`;
  });
const refusal = (text: string) => {
  const read = readSagGrid(text);
  return read.ok ? 'was read' : read.reason;
};

describe('grids of sags', () => {
  it('come from points in any order, with a line of names and comments', () => {
    const lines = list((x, y) => x + 10 * y).reverse();
    const read = readSagGrid(['# measured', 'x;y;z', ...lines.map((line) => line.replaceAll(' ', ';'))].join('\n'));
    if (!read.ok) throw new Error(read.reason);
    expect(read.value.columns).to.equal(5);
    expect(read.value.dx).to.be.closeTo(0.1, 1e-12);
    expect(read.value.x).to.be.closeTo(-0.2, 1e-12);
    expect(read.value.y).to.be.closeTo(-0.1, 1e-12);
    expect(read.value.z[0]).to.be.closeTo(-1.2, 1e-12);
    expect(read.value.z[1]).to.be.closeTo(-1.1, 1e-12);
    expect(read.value.z[5]).to.be.closeTo(-0.2, 1e-12);
  });

  it('are refused with the place and the reason', () => {
    const lines = list(() => 0);
    expect(refusal('')).to.match(/no grid/);
    expect(refusal([...lines, '1 2'].join('\n'))).to.equal('Line 26: “1 2” is not x, y and z.');
    expect(refusal(lines.slice(1).join('\n'))).to.equal('The grid of 5 × 5 points lacks one at x -0.2, y -0.1.');
    expect(refusal([...lines, lines[3]].join('\n'))).to.match(/is there twice/);
    expect(refusal('0 0 0\n1 0 0\n0 1 0\n1 1 0')).to.match(/at least 4 × 4 points; this one has 2 × 2/);
    expect(refusal([...lines, '0.033 0 1'].join('\n'))).to.match(/no grid|lacks/);
  });
});
