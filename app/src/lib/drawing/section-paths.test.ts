import { answerQuery, Evaluation, readProject, type Section } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { fitFrame } from './chart-frame.ts';
import { bladeLength, bodyNames, planePath, reachUp, stopBlade } from './section-paths.ts';

function tideSection(): Section {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const answer = answerQuery(new Evaluation(read.project), {
    kind: 'section',
    lens: 'tide',
    raysPerField: 3,
  });
  if (!answer.ok) throw new Error(answer.reason);
  return answer.value;
}

describe('the lines of a section', () => {
  const section = tideSection();
  const frame = fitFrame(section.bounds, 700, 400);

  it('are SVG paths that begin and end where the points do', () => {
    const path = planePath(Float64Array.of(0, 0, 10, 5), frame);
    const [x, y] = [frame.x(10).toFixed(2), frame.y(5).toFixed(2)];
    expect(path).to.match(new RegExp(`^M[\\d.]+ [\\d.]+L${x} ${y}$`));
    expect(planePath(new Float64Array(0), frame)).to.equal('');
  });

  it('name cemented bodies together, each name over its body', () => {
    const names = bodyNames(section, frame);
    expect(names.map(({ text }) => text)).to.deep.equal(['L1', 'L2', 'L3·L4']);
    for (let i = 1; i < names.length; i++) expect(names[i].x).to.be.greaterThan(names[i - 1].x);
  });

  it('draw the blades of a stop outwards, long enough to be seen', () => {
    const stop = section.surfaces.find((surface) => surface.stop)!;
    const above = stopBlade(stop.line, stop.semi, 1, frame);
    const [, from, to] = /^M\S+ (\S+)L\S+ (\S+)$/.exec(above)!;
    expect(Number(from)).to.equal(frame.y(stop.line[stop.line.length - 1]));
    expect(Number(from) - Number(to)).to.be.closeTo(bladeLength(stop.semi, frame) * frame.scale, 1e-9);
    expect(bladeLength(0.001, { scale: 10 })).to.equal(0.6);
    expect(reachUp({ semi: 4, ownY: [0, -1] })).to.equal(4);
    expect(reachUp({ semi: 4, ownY: [Math.SQRT1_2, Math.SQRT1_2] })).to.be.closeTo(4 * Math.SQRT1_2, 1e-15);
  });
});
