import { expect } from 'chai';
import { blocks, fitFrame, graduations, panned, shownSpan, zoomed } from './chart-frame.ts';

describe('the chart frame', () => {
  const frame = fitFrame({ z: [-8, 42], y: [-10, 10] }, 700, 400);

  it('keeps one scale and puts the whole model inside', () => {
    expect((frame.x(42) - frame.x(-8)) / 50).to.be.closeTo(frame.scale, 1e-12);
    expect((frame.y(-10) - frame.y(10)) / 20).to.be.closeTo(frame.scale, 1e-12);
    for (const x of [frame.x(-8), frame.x(42)]) expect(x).to.be.within(frame.left, frame.left + frame.width);
    for (const y of [frame.y(-10), frame.y(10)]) expect(y).to.be.within(frame.top, frame.top + frame.height);
    expect(frame.x(17) - frame.left).to.be.closeTo(frame.width / 2, 1e-9);
  });

  it('zooms about a point that stays, pans, and fits what it shows', () => {
    const span = shownSpan(frame);
    const [z, y] = [10, 3];
    const near = fitFrame(zoomed(span, 4, z, y), 700, 400, 0);
    expect(near.scale).to.be.closeTo(4 * frame.scale, 1e-9);
    expect(near.x(z)).to.be.closeTo(frame.x(z), 1e-9);
    expect(near.y(y)).to.be.closeTo(frame.y(y), 1e-9);
    const aside = fitFrame(panned(span, 5, -2), 700, 400, 0);
    expect(aside.x(z)).to.be.closeTo(frame.x(z - 5), 1e-9);
    expect(aside.y(y)).to.be.closeTo(frame.y(y + 2), 1e-9);
  });

  it('graduates in alternating blocks without gap that agree with the marks', () => {
    const edge = blocks(frame.z0, frame.width, frame);
    expect(edge[0].from).to.equal(0);
    expect(edge.at(-1)?.to).to.equal(frame.width);
    for (let i = 1; i < edge.length; i++) {
      expect(edge[i].from).to.be.closeTo(edge[i - 1].to, 1e-9);
      expect(edge[i].filled).to.not.equal(edge[i - 1].filled);
    }
    const marks = graduations(frame.z0, frame.width, frame);
    expect(marks).to.include(0);
    expect(edge.some((block) => Math.abs(block.from - frame.x(0) + frame.left) < 1e-9)).to.equal(true);
  });
});
